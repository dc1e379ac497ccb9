"""What is done to the zones on the page of a unit that holds temperatures."""

from functools import partial

from django.http import HttpResponse
from django.views.decorators.http import require_POST

from skavit.core.plan import heat_edits
from skavit.core.plan.document import Plan
from skavit.core.plan.edits import EditError
from skavit.core.trades import HEATING
from skavit.crews.access import editors
from skavit.crews.request import CrewRequest
from skavit.units.pages.post_data import number
from skavit.units.pages.unit.page_actions import edit_unit
from skavit.units.pages.view import chosen_view
from skavit.units.selectors import unit_of_trade


@editors
@require_POST
def zone_add(request: CrewRequest, pk: int) -> HttpResponse:
    """One more zone."""
    unit = unit_of_trade(request.crew, pk, HEATING)
    zones = heat_edits.heat_of(unit.plan).zones
    has = unit.core_kind.heating if unit.core_kind else None
    name = f"Zone {len(zones) + 1}"

    def change(plan: Plan) -> Plan:
        if has is not None and len(heat_edits.heat_of(plan).zones) >= has.zones:
            raise EditError(f"this unit has {has.zones} zones; accepted: no more")
        return heat_edits.put_zone(plan, None, name, None)

    return edit_unit(request, unit, change, "zone added")


@editors
@require_POST
def zone_remove(request: CrewRequest, pk: int, index: int) -> HttpResponse:
    """Take a zone out."""
    unit = unit_of_trade(request.crew, pk, HEATING)
    return edit_unit(request, unit, partial(heat_edits.remove_zone, index=index), "zone removed")


@editors
@require_POST
def zone_copy(request: CrewRequest, pk: int) -> HttpResponse:
    """What is wanted of one zone for the one that is shown."""
    unit = unit_of_trade(request.crew, pk, HEATING)
    view = chosen_view(unit.plan, request.POST, request.now)
    change = partial(heat_edits.copy_wanted, index=number(request.POST, "from") - 1, to=view.channel - 1)
    return edit_unit(request, unit, change, "wanted as in another zone")
