"""What is done on a watering unit's page: each parses, authorises, calls one service, shows the work region anew."""

from http import HTTPStatus

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from skavit.core.ground.errors import UserError
from skavit.core.plan import water_edits
from skavit.core.text.told import told
from skavit.crews.access import editors, members
from skavit.crews.request import CrewRequest
from skavit.now import year_at
from skavit.units.models import Unit
from skavit.units.pages.plan.acting import apply, edit_unit
from skavit.units.pages.plan.by_hand_views import add_line
from skavit.units.pages.plan.placed import row_at
from skavit.units.pages.posted import revision, to_job
from skavit.units.pages.side import save_side, side
from skavit.units.pages.view import chosen_view
from skavit.units.results import unit_year
from skavit.units.selectors import unit_of
from skavit.units.services import revisions
from skavit.watering import services
from skavit.watering.pages.by_hand import WaterByHandForm, without
from skavit.watering.pages.comparing import saved_page
from skavit.watering.pages.curves import CurveForm, curve_page
from skavit.watering.pages.night import watering_night
from skavit.watering.pages.page import altered_lines
from skavit.watering.pages.program_form import free_name
from skavit.watering.pages.rows import form_at
from skavit.watering.pages.supply import SupplyForm
from skavit.watering.pages.walking import walk_page
from skavit.watering.pages.ways import STATIONS_AT_ONCE, fitted, offered, ways_shown


def _watering(request: CrewRequest, pk: int) -> Unit:
    """One of the crew's units that waters; 404 for any other."""
    unit = unit_of(request.crew, pk)
    if unit.plan.water is None:
        raise Http404(pk)
    return unit


@members
@require_GET
def night(request: CrewRequest, pk: int) -> HttpResponse:
    """The cursor's night alone."""
    unit = _watering(request, pk)
    view = chosen_view(unit.plan, request.GET, request.now)
    found = watering_night(unit_year(unit.plan, view.year), view, request.words, request.now)
    return render(request, "watering/_night.html", {"night": found, "unit": unit, "view": view, "oob": True})


@editors
@require_http_methods(["GET", "POST"])
def row(request: CrewRequest, pk: int, place: str) -> HttpResponse:
    """The form of a station or a program, for opening it in its place; and what it says, kept."""
    return row_at(request, _watering(request, pk), place, form_at, "watering/_form.html")


@editors
@require_POST
def preview(request: CrewRequest, pk: int, place: str) -> HttpResponse:
    """What the row would alter this year if it were kept as typed; nothing where it cannot be read yet."""
    unit = _watering(request, pk)
    view = chosen_view(unit.plan, request.POST, request.now)
    form = form_at(place, unit.plan, unit.head_revision.number, request.words, request.POST)
    altered = altered_lines(unit, form, view.year) if form.is_valid() else []
    return render(request, "units/plan/_preview.html", {"altered": altered, "valid": form.is_valid()})


@editors
@require_POST
def station_remove(request: CrewRequest, pk: int, index: int) -> HttpResponse:
    """Take a station out, with its runs."""
    return edit_unit(request, pk, lambda plan: water_edits.remove_station(plan, index), "station removed")


@editors
@require_POST
def station_copy(request: CrewRequest, pk: int, index: int) -> HttpResponse:
    """One more station like it."""
    return edit_unit(request, pk, lambda plan: water_edits.copy_station(plan, index), "station copied")


@editors
@require_POST
def program_remove(request: CrewRequest, pk: int, index: int) -> HttpResponse:
    """Clear a program."""
    return edit_unit(request, pk, lambda plan: water_edits.remove_program(plan, index), "program cleared")


@editors
@require_POST
def program_copy(request: CrewRequest, pk: int, index: int) -> HttpResponse:
    """The same program once more, under the next free letter."""
    return edit_unit(request, pk, lambda plan: water_edits.copy_program(plan, index, free_name(plan)), "program copied")


@editors
@require_POST
def fit(request: CrewRequest, pk: int) -> HttpResponse:
    """Make the programs from the stations, and say what is lost."""
    unit, base = _watering(request, pk), revision(request.POST)
    if not services.fits_at_once(unit.plan):
        return to_job(request, lambda: services.ask_fit(unit, request.membership, base))

    def action() -> None:
        made, losses = services.fit_programs(unit, request.membership, base, now=request.now)
        for line in services.fit_lines(made.plan, losses):
            messages.add_message(request, messages.WARNING if losses else messages.SUCCESS, line)

    return apply(request, unit, action)


@editors
@require_http_methods(["GET", "POST"])
def supply(request: CrewRequest, pk: int) -> HttpResponse:
    """Supply and rules: when water may flow, how much at once, the average year."""
    unit = _watering(request, pk)
    form = SupplyForm(request.POST or None, plan=unit.plan, words=request.words, revision=unit.head_revision.number)
    return save_side(request, unit, form, "supply and rules", "watering/supply.html", "wanted", {"form": form})


@members
@require_GET
def saved(request: CrewRequest, pk: int) -> HttpResponse:
    """What the year uses beside other ways of watering, in litres, dry days and money."""
    unit = _watering(request, pk)
    view = chosen_view(unit.plan, request.GET, request.now)
    return side(
        request,
        "watering/saved.html",
        unit,
        "checked",
        {"page": saved_page(unit, view.year, request.words), "view": view},
    )


@editors
@require_POST
def by_hand_add(request: CrewRequest, pk: int) -> HttpResponse:
    """Write down something done by hand."""
    unit = _watering(request, pk)
    return add_line(request, unit, WaterByHandForm(request.POST, plan=unit.plan))


@editors
@require_POST
def by_hand_remove(request: CrewRequest, pk: int, index: int) -> HttpResponse:
    """Take a line out."""
    return edit_unit(request, pk, lambda plan: without(plan, index), "done by hand, removed")


@members
@require_GET
def walk(request: CrewRequest, pk: int) -> HttpResponse:
    """The sheet for walking the stations."""
    unit = _watering(request, pk)
    return side(request, "watering/walk.html", unit, "sheet", {"page": walk_page(unit, request.words)})


@members
@require_GET
def curve(request: CrewRequest, pk: int) -> HttpResponse:
    """A year that the controller has built in."""
    unit = _watering(request, pk)
    has = unit.core_kind.watering if unit.core_kind else None
    if has is None or not has.curves:
        raise Http404(pk)
    form = CurveForm(request.GET or None, has=has, initial={"minutes": 20, "budget": 100})
    context = {"form": form, "page": curve_page(unit, has, form)}
    status = HTTPStatus.UNPROCESSABLE_ENTITY if form.is_bound and not form.is_valid() else HTTPStatus.OK
    return side(request, "watering/curve.html", unit, "keyed", context, status)


@editors
@require_http_methods(["GET", "POST"])
def ways(request: CrewRequest, pk: int) -> HttpResponse:
    """Other ways to fit; the one that is taken becomes the programs."""
    unit = _watering(request, pk)
    year = year_at(unit.plan.site, request.now)
    refused = ""
    if request.method == "POST":
        chosen = next((way for way in offered(unit.plan) if way.slug == request.POST.get("way")), None)
        if chosen is None:
            raise Http404
        try:
            revisions.edit(
                unit, request.membership, revision(request.POST), lambda plan: fitted(plan, chosen, year)[0],
                f"programs fitted: {chosen.name.lower()}", now=request.now,
            )  # fmt: skip
        except (UserError, revisions.StaleEdit) as error:
            refused = told(error)
        else:
            return redirect("unit", pk=pk)
    shown = []
    stations = len(unit.plan.water.stations) if unit.plan.water else 0
    if stations > STATIONS_AT_ONCE:
        refused = (
            f"{stations} stations are too many to fit in several ways at once. Accepted: at most {STATIONS_AT_ONCE}."
        )
    else:
        try:
            shown = ways_shown(unit, year, request.words)
        except UserError as error:
            refused = refused or told(error)
    status = HTTPStatus.UNPROCESSABLE_ENTITY if refused else HTTPStatus.OK
    return side(request, "watering/ways.html", unit, "keyed", {"ways": shown, "refused": refused}, status)
