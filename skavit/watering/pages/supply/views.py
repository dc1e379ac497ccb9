"""Supply and rules."""

from django.http import HttpResponse
from django.views.decorators.http import require_http_methods

from skavit.core.trades import WATERING
from skavit.crews.access import editors
from skavit.crews.request import CrewRequest
from skavit.units.pages.side_page import save_side_page
from skavit.units.selectors import unit_of_trade
from skavit.watering.pages.supply.forms import SupplyForm


@editors
@require_http_methods(["GET", "POST"])
def supply(request: CrewRequest, pk: int) -> HttpResponse:
    """Supply and rules: when water may flow, how much at once, the average year."""
    unit = unit_of_trade(request.crew, pk, WATERING)
    form = SupplyForm(request.POST or None, plan=unit.plan, words=request.words, revision=unit.head_revision.number)
    return save_side_page(request, unit, form, "supply and rules", "watering/supply.html", "wanted", {"form": form})
