"""The sheet for walking the stations."""

from django.http import HttpResponse
from django.views.decorators.http import require_GET

from skavit.core.trades import WATERING
from skavit.crews.access import members
from skavit.crews.request import CrewRequest
from skavit.units.pages.side_page import side_page
from skavit.units.selectors import unit_of_trade
from skavit.watering.pages.walk.page import walk_page


@members
@require_GET
def walk(request: CrewRequest, pk: int) -> HttpResponse:
    """The sheet for walking the stations."""
    unit = unit_of_trade(request.crew, pk, WATERING)
    return side_page(request, "watering/walk.html", unit, "sheet", {"page": walk_page(unit, request.words)})
