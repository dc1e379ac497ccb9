"""What is done on a watering unit's page: each parses, authorises, calls one service, shows the work region anew."""

from http import HTTPStatus

from django.http import Http404, HttpResponse
from django.views.decorators.http import require_GET, require_http_methods

from skavit.crews.access import editors, members
from skavit.crews.request import CrewRequest
from skavit.units.models import Unit
from skavit.units.pages.side_page import save_side_page, side_page
from skavit.units.pages.view import chosen_view
from skavit.units.selectors import unit_of
from skavit.watering.pages.comparing import saved_page
from skavit.watering.pages.curves import CurveForm, curve_page
from skavit.watering.pages.supply import SupplyForm
from skavit.watering.pages.walking import walk_page


def _watering(request: CrewRequest, pk: int) -> Unit:
    """One of the crew's units that waters; 404 for any other."""
    unit = unit_of(request.crew, pk)
    if unit.plan.water is None:
        raise Http404(pk)
    return unit


@editors
@require_http_methods(["GET", "POST"])
def supply(request: CrewRequest, pk: int) -> HttpResponse:
    """Supply and rules: when water may flow, how much at once, the average year."""
    unit = _watering(request, pk)
    form = SupplyForm(request.POST or None, plan=unit.plan, words=request.words, revision=unit.head_revision.number)
    return save_side_page(request, unit, form, "supply and rules", "watering/supply.html", "wanted", {"form": form})


@members
@require_GET
def saved(request: CrewRequest, pk: int) -> HttpResponse:
    """What the year uses beside other ways of watering, in litres, dry days and money."""
    unit = _watering(request, pk)
    view = chosen_view(unit.plan, request.GET, request.now)
    return side_page(
        request,
        "watering/saved.html",
        unit,
        "checked",
        {"page": saved_page(unit, view.year, request.words), "view": view},
    )


@members
@require_GET
def walk(request: CrewRequest, pk: int) -> HttpResponse:
    """The sheet for walking the stations."""
    unit = _watering(request, pk)
    return side_page(request, "watering/walk.html", unit, "sheet", {"page": walk_page(unit, request.words)})


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
    return side_page(request, "watering/curve.html", unit, "keyed", context, status)
