"""The sheet for walking the stations."""

from django.http import HttpResponse
from django.views.decorators.http import require_GET

from skavit.crews.access import members
from skavit.crews.request import CrewRequest
from skavit.units.pages.side_page import side_page
from skavit.watering.pages.walk.page import walk_page
from skavit.watering.selectors import watering_unit


@members
@require_GET
def walk(request: CrewRequest, pk: int) -> HttpResponse:
    """The sheet for walking the stations."""
    unit = watering_unit(request.crew, pk)
    return side_page(request, "watering/walk.html", unit, "sheet", {"page": walk_page(unit, request.words)})
