"""What is done on the page of a unit that holds temperatures: each parses, authorises, calls one service, shows the work region anew."""

from http import HTTPStatus

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from skavit.core.ground.errors import UserError
from skavit.core.plan import heat_edits
from skavit.core.plan.document import Plan
from skavit.core.plan.edits import EditError
from skavit.core.text.told import told
from skavit.crews.access import editors, members
from skavit.crews.request import CrewRequest
from skavit.heating import services
from skavit.heating.pages.by_hand import HeatByHandForm
from skavit.heating.pages.day import heat_day
from skavit.heating.pages.page import altered_lines, form_at
from skavit.heating.pages.points_form import Place
from skavit.heating.pages.rooms import RoomsForm
from skavit.heating.pages.ways import POINTS_AT_ONCE, fitted, offered, ways_shown
from skavit.now import year_at
from skavit.units.models import Unit
from skavit.units.pages.plan.acting import apply, edit_unit
from skavit.units.pages.plan.by_hand_views import add_line
from skavit.units.pages.plan.placed import row_at
from skavit.units.pages.posted import revision
from skavit.units.pages.side import save_side, side
from skavit.units.pages.view import chosen_view
from skavit.units.results import unit_year
from skavit.units.selectors import unit_of
from skavit.units.services import revisions


def _heating(request: CrewRequest, pk: int) -> Unit:
    """One of the crew's units that holds temperatures; 404 for any other."""
    unit = unit_of(request.crew, pk)
    if unit.plan.heat is None:
        raise Http404(pk)
    return unit


@members
@require_GET
def day(request: CrewRequest, pk: int) -> HttpResponse:
    """The cursor's day alone."""
    unit = _heating(request, pk)
    view = chosen_view(unit.plan, request.GET, request.now)
    found = heat_day(unit_year(unit.plan, view.year), view, request.words, request.now)
    return render(request, "heating/_day.html", {"night": found, "unit": unit, "view": view, "oob": True})


@editors
@require_http_methods(["GET", "POST"])
def row(request: CrewRequest, pk: int, place: str) -> HttpResponse:
    """The form of a day group, for opening it in its place; and what it says, kept."""
    return row_at(request, _heating(request, pk), place, form_at, "heating/_points_form.html")


@editors
@require_POST
def preview(request: CrewRequest, pk: int, place: str) -> HttpResponse:
    """What the row would alter this year if it were kept as typed; nothing where it cannot be read yet."""
    unit = _heating(request, pk)
    view = chosen_view(unit.plan, request.POST, request.now)
    form = form_at(place, unit.plan, unit.head_revision.number, request.words, request.POST)
    try:
        altered = altered_lines(unit, form, view.year) if form.is_valid() else []
    except UserError as error:
        altered = [told(error)]
    return render(request, "units/plan/_preview.html", {"altered": altered, "valid": form.is_valid()})


@editors
@require_POST
def row_remove(request: CrewRequest, pk: int, place: str) -> HttpResponse:
    """Take a day group out."""
    at = Place.read(place)
    if at.index is None:
        raise Http404(place)
    index = at.index
    return edit_unit(
        request, pk, lambda plan: heat_edits.remove_group(plan, at.zone, at.side, index), "set points removed"
    )


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

    return edit_unit(request, pk, change, "zone added")


@editors
@require_POST
def zone_remove(request: CrewRequest, pk: int, index: int) -> HttpResponse:
    """Take a zone out."""
    return edit_unit(request, pk, lambda plan: heat_edits.remove_zone(plan, index), "zone removed")


@editors
@require_POST
def zone_copy(request: CrewRequest, pk: int) -> HttpResponse:
    """What is wanted of one zone for the one that is shown."""
    unit = _heating(request, pk)
    view = chosen_view(unit.plan, request.POST, request.now)
    text = request.POST.get("from", "")
    source = int(text) - 1 if text.isdigit() else -1
    return edit_unit(
        request, pk, lambda plan: heat_edits.copy_wanted(plan, source, view.channel - 1), "wanted as in another zone"
    )


@editors
@require_POST
def fit(request: CrewRequest, pk: int) -> HttpResponse:
    """Key the set points that are wanted, and say what is lost."""
    unit, base = _heating(request, pk), revision(request.POST)

    def action() -> None:
        made, losses = services.fit_set_points(unit, request.membership, base, now=request.now)
        for line in services.fit_lines(made.plan, losses, request.words):
            messages.add_message(request, messages.WARNING if losses else messages.SUCCESS, line)

    return apply(request, unit, action)


@editors
@require_http_methods(["GET", "POST"])
def ways(request: CrewRequest, pk: int) -> HttpResponse:
    """Other ways to fit; the one that is taken becomes the set points."""
    unit = _heating(request, pk)
    year = year_at(unit.plan.site, request.now)
    refused = ""
    if request.method == "POST":
        chosen = next((way for way in offered(unit.plan) if way.slug == request.POST.get("way")), None)
        if chosen is None:
            raise Http404
        note = f"set points fitted: {chosen.name.lower()}"
        try:
            revisions.edit(
                unit, request.membership, revision(request.POST), lambda plan: fitted(plan, chosen, year), note,
                now=request.now,
            )  # fmt: skip
        except (UserError, revisions.StaleEdit) as error:
            refused = told(error)
        else:
            return redirect("unit", pk=pk)
    points = sum(len(zone.wanted) for zone in heat_edits.heat_of(unit.plan).zones)
    if points > POINTS_AT_ONCE:
        refused = (
            f"{points} set points are too many to fit in several ways at once. Accepted: at most {POINTS_AT_ONCE}."
        )
    status = HTTPStatus.UNPROCESSABLE_ENTITY if refused else HTTPStatus.OK
    found = ways_shown(unit.plan, year, request.words) if points <= POINTS_AT_ONCE else []
    context = {"ways": found, "refused": refused}
    return side(request, "heating/ways.html", unit, "keyed", context, status)


@editors
@require_http_methods(["GET", "POST"])
def rooms(request: CrewRequest, pk: int) -> HttpResponse:
    """Rooms and frost protection."""
    unit = _heating(request, pk)
    form = RoomsForm(request.POST or None, plan=unit.plan, words=request.words, revision=unit.head_revision.number)
    return save_side(request, unit, form, "rooms and frost protection", "heating/rooms.html", "wanted", {"form": form})


@editors
@require_POST
def by_hand_add(request: CrewRequest, pk: int) -> HttpResponse:
    """Write down something done by hand."""
    unit = _heating(request, pk)
    return add_line(request, unit, HeatByHandForm(request.POST, plan=unit.plan, words=request.words))


@editors
@require_POST
def by_hand_remove(request: CrewRequest, pk: int, index: int) -> HttpResponse:
    """Take a line out."""
    return edit_unit(request, pk, lambda plan: heat_edits.remove_done(plan, index), "done by hand, removed")
