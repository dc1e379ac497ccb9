"""What is done on the page of a unit that holds temperatures: each parses, authorises, calls one service, shows the work region anew."""

from functools import partial

from django.http import Http404, HttpResponse
from django.views.decorators.http import require_http_methods, require_POST

from skavit.core.plan import heat_edits
from skavit.core.plan.document import Plan
from skavit.core.plan.edits import EditError
from skavit.crews.access import editors
from skavit.crews.request import CrewRequest
from skavit.heating.pages.rooms import RoomsForm
from skavit.units.models import Unit
from skavit.units.pages.post_data import number
from skavit.units.pages.side_page import save_side_page
from skavit.units.pages.unit.page_actions import edit_unit
from skavit.units.pages.view import chosen_view
from skavit.units.selectors import unit_of


def _heating(request: CrewRequest, pk: int) -> Unit:
    """One of the crew's units that holds temperatures; 404 for any other."""
    unit = unit_of(request.crew, pk)
    if unit.plan.heat is None:
        raise Http404(pk)
    return unit


@editors
@require_POST
def zone_add(request: CrewRequest, pk: int) -> HttpResponse:
    """One more zone."""
    unit = _heating(request, pk)
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
    unit = _heating(request, pk)
    return edit_unit(request, unit, partial(heat_edits.remove_zone, index=index), "zone removed")


@editors
@require_POST
def zone_copy(request: CrewRequest, pk: int) -> HttpResponse:
    """What is wanted of one zone for the one that is shown."""
    unit = _heating(request, pk)
    view = chosen_view(unit.plan, request.POST, request.now)
    change = partial(heat_edits.copy_wanted, index=number(request.POST, "from") - 1, to=view.channel - 1)
    return edit_unit(request, unit, change, "wanted as in another zone")


@editors
@require_http_methods(["GET", "POST"])
def rooms(request: CrewRequest, pk: int) -> HttpResponse:
    """Rooms and frost protection."""
    unit = _heating(request, pk)
    form = RoomsForm(request.POST or None, plan=unit.plan, words=request.words, revision=unit.head_revision.number)
    return save_side_page(
        request, unit, form, "rooms and frost protection", "heating/rooms.html", "wanted", {"form": form}
    )
