"""A unit as it was found, written down before anything is reset, and taken into the plan."""

from http import HTTPStatus

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.urls import reverse
from django.views.decorators.http import require_GET, require_POST

from skavit.core.ground.errors import UserError
from skavit.core.text.error_text import error_text
from skavit.crews.access import editors, members
from skavit.crews.request import CrewRequest
from skavit.server.now import today_at
from skavit.units.models import AsFound, Unit
from skavit.units.pages.as_found.forms import AsFoundForm
from skavit.units.pages.as_found.page import as_found_page, as_found_plan, when_looked
from skavit.units.pages.post_data import revision
from skavit.units.pages.side_page import side_page
from skavit.units.selectors import unit_of
from skavit.units.services.as_found import keep_as_found, take_as_found
from skavit.units.trades import NotWritten, pages_of
from skavit.web.errors import status_of
from skavit.web.page import shown


@members
@require_GET
def as_found(request: CrewRequest, pk: int) -> HttpResponse:
    """What a unit holds and shows, to be written down before anything is reset."""
    unit = unit_of(request.crew, pk)
    try:
        pages_of(unit.plan).check_written()
    except NotWritten as how:
        messages.info(request, str(how))
        return redirect(f"{reverse('unit', args=[pk])}#keyed")
    return _to_write_down(
        request, unit, AsFoundForm(today=today_at(unit.plan.site, request.now), plan=unit.plan, kind=unit.core_kind)
    )


def _to_write_down(request: CrewRequest, unit: Unit, form: AsFoundForm) -> HttpResponse:
    records = unit.as_found.select_related("author")
    earlier = [(record, when_looked(unit.plan, record, request.words)) for record in records]
    context = {"form": form, "earlier": earlier}
    status = HTTPStatus.UNPROCESSABLE_ENTITY if form.is_bound else HTTPStatus.OK
    return side_page(request, "units/as_found/as_found.html", unit, "keyed", context, status)


@editors
@require_POST
def as_found_keep(request: CrewRequest, pk: int) -> HttpResponse:
    """Write down a unit as found."""
    unit = unit_of(request.crew, pk)
    pages_of(unit.plan).check_written()
    form = AsFoundForm(request.POST, today=today_at(unit.plan.site, request.now), plan=unit.plan, kind=unit.core_kind)
    if not form.is_valid():
        return _to_write_down(request, unit, form)
    record = keep_as_found(
        unit,
        request.membership,
        shown=form.shown(),
        lines=form.cleaned_data["lines"],
        entries=form.entries,
        instant=request.now,
    )
    return redirect("as-found-year", pk=pk, record_pk=record.pk)


@members
@require_GET
def as_found_year(request: CrewRequest, pk: int, record_pk: int) -> HttpResponse:
    """What a unit as found does all year, and what is wrong with it."""
    return _year(request, unit_of(request.crew, pk), record_pk)


def _year(request: CrewRequest, unit: Unit, record_pk: int, status: HTTPStatus = HTTPStatus.OK) -> HttpResponse:
    page = as_found_page(unit, get_object_or_404(AsFound, unit=unit, pk=record_pk), request.words, request.now)
    return side_page(request, "units/as_found/as_found_year.html", unit, "keyed", shown(page), status)


@editors
@require_POST
def as_found_take(request: CrewRequest, pk: int, record_pk: int) -> HttpResponse:
    """Take what was found into the plan."""
    unit = unit_of(request.crew, pk)
    plan = as_found_plan(unit.plan, get_object_or_404(AsFound, unit=unit, pk=record_pk))
    base, windows = revision(request.POST), "windows" in request.POST
    try:
        take_as_found(unit, request.membership, base, plan, windows=windows, now=request.now)
    except UserError as error:
        messages.error(request, error_text(error))
        return _year(request, unit_of(request.crew, pk), record_pk, status_of(error))
    return redirect("unit", pk=pk)
