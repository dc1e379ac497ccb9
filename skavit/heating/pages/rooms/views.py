"""Rooms and frost protection."""

from django.http import HttpResponse
from django.views.decorators.http import require_http_methods

from skavit.core.heat.warming import STAND_IN, STAND_IN_M2
from skavit.core.trades import HEATING
from skavit.crews.access import editors
from skavit.crews.request import CrewRequest
from skavit.heating.pages.rooms.forms import RoomsForm
from skavit.units.pages.side_page import save_side_page
from skavit.units.selectors import unit_of_trade


@editors
@require_http_methods(["GET", "POST"])
def rooms(request: CrewRequest, pk: int) -> HttpResponse:
    """Rooms and frost protection."""
    unit = unit_of_trade(request.crew, pk, HEATING)
    form = RoomsForm(request.POST or None, plan=unit.plan, words=request.words, revision=unit.head_revision.number)
    context = {"form": form, "stand_in": STAND_IN, "stand_in_m2": STAND_IN_M2}
    return save_side_page(request, unit, form, "rooms and frost protection", "heating/rooms.html", "wanted", context)
