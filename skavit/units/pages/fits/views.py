"""Other ways to fit, side by side."""

from django.http import Http404, HttpResponse
from django.shortcuts import redirect
from django.views.decorators.http import require_GET, require_POST

from skavit.crews.access import editors, members
from skavit.crews.request import CrewRequest
from skavit.page import shown
from skavit.units.pages.fits.page import fits_page, way_of
from skavit.units.pages.plan.acting import edit_unit
from skavit.units.pages.posted import number, to_job
from skavit.units.pages.side import side
from skavit.units.selectors import unit_of
from skavit.units.services.fitting import ask_ways, ways_of


@members
@require_GET
def fits(request: CrewRequest, pk: int) -> HttpResponse:
    """What the unit could hold, side by side."""
    unit = unit_of(request.crew, pk)
    return side(request, "units/fits/fits.html", unit, "keyed", shown(fits_page(unit, request.words)))


@editors
@require_POST
def fits_ask(request: CrewRequest, pk: int) -> HttpResponse:
    """Work out what the unit could hold; at once to the page where that was done before."""
    unit = unit_of(request.crew, pk)
    if ways_of(unit) is not None:
        return redirect("fits", pk=pk)
    return to_job(request, lambda: ask_ways(unit, request.membership))


@editors
@require_POST
def fit_take(request: CrewRequest, pk: int) -> HttpResponse:
    """Key one of the ways to fit."""
    chosen = way_of(unit_of(request.crew, pk), number(request.POST, "way"))
    if chosen is None:
        raise Http404
    return edit_unit(request, pk, lambda _: chosen, "entries fitted, one of several ways")
