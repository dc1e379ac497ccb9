"""The moment of leaving."""

from django.http import HttpResponse
from django.views.decorators.http import require_GET

from skavit.crews.access import members
from skavit.crews.request import CrewRequest
from skavit.units.pages.handover.forms import LeavingForm
from skavit.units.pages.handover.page import handover_page
from skavit.units.pages.side_page import side_page
from skavit.units.selectors import unit_of
from skavit.web.page import shown


@members
@require_GET
def handover(request: CrewRequest, pk: int) -> HttpResponse:
    """The moment of leaving."""
    unit = unit_of(request.crew, pk)
    form = LeavingForm(request.GET or None)
    page = handover_page(unit, form, request.words, request.now)
    return side_page(request, "units/handover/handover.html", unit, "handover", shown(page))
