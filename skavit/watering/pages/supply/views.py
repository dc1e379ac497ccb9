"""Supply and rules."""

from django.http import HttpResponse
from django.views.decorators.http import require_http_methods

from skavit.crews.access import editors
from skavit.crews.request import CrewRequest
from skavit.units.pages.side_page import save_side_page
from skavit.watering.pages.supply.forms import SupplyForm
from skavit.watering.selectors import watering_unit


@editors
@require_http_methods(["GET", "POST"])
def supply(request: CrewRequest, pk: int) -> HttpResponse:
    """Supply and rules: when water may flow, how much at once, the average year."""
    unit = watering_unit(request.crew, pk)
    form = SupplyForm(request.POST or None, plan=unit.plan, words=request.words, revision=unit.head_revision.number)
    return save_side_page(request, unit, form, "supply and rules", "watering/supply.html", "wanted", {"form": form})
