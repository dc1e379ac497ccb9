"""Open formats: tables, calendars with their keys, and sites from a table."""

from http import HTTPStatus

from django.contrib import messages
from django.contrib.auth.decorators import login_not_required
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils.cache import add_never_cache_headers
from django.views.decorators.http import require_GET, require_POST

from skavit.core.ground.errors import PlanError
from skavit.core.sun import FIRST_YEAR, LAST_YEAR
from skavit.core.text.error_text import error_text
from skavit.core.text.wording import PLAIN
from skavit.crews.access import editors, members, owners
from skavit.crews.request import CrewRequest
from skavit.crews.revocable import take_back
from skavit.customer.pages.sheet.page import standing_plan
from skavit.exchange import keys, tables
from skavit.exchange.archiving import ask_archive
from skavit.exchange.calendars import due_calendar, unit_calendar
from skavit.exchange.forms import SitesForm
from skavit.exchange.importing import COLUMNS, SitesFile, ask_import_sites, read_sites
from skavit.server.now import read_now, year_at
from skavit.sites.selectors import site_of
from skavit.units.computing import leave_large, unit_year
from skavit.units.models import Unit
from skavit.units.pages.post_data import number, to_job
from skavit.units.selectors import unit_of
from skavit.web.errors import TooMany
from skavit.web.tables import csv_answer

SHOWN_ROWS = 200


@members
@require_GET
def unit_table(request: CrewRequest, pk: int, part: str) -> HttpResponse:
    """What a unit holds, or what it does in a year, as a table."""
    unit = unit_of(request.crew, pk)
    if part == "entries":
        return csv_answer(tables.entries_table(unit.plan, PLAIN), unit.site, unit.name, part)
    if part not in ("periods", "hours"):
        raise Http404(part)
    year = _year(request, unit)
    run = unit_year(unit.plan, year).replay
    make = tables.periods_table if part == "periods" else tables.hours_table
    return csv_answer(make(run), unit.site, unit.name, part, year)


def _year(request: CrewRequest, unit: Unit) -> int:
    here, asked = year_at(unit.site.place, request.now), number(request.GET, "year")
    return asked if abs(asked - here) <= 10 else here


@members
@require_GET
def sun_table(request: CrewRequest, pk: int) -> HttpResponse:
    """A year's sun times of a site."""
    site = site_of(request.crew, pk)
    asked, here = number(request.GET, "year"), year_at(site.place, request.now)
    year = asked if FIRST_YEAR < asked < LAST_YEAR else here
    return csv_answer(tables.sun_table(site.place, year), site.name, "sun", year)


@members
@require_GET
def due_table(request: CrewRequest) -> HttpResponse:
    """What is due, as a table."""
    return csv_answer(tables.due_table(request.crew, request.words), request.crew.name, "due")


@members
@require_GET
def exchange(request: CrewRequest) -> HttpResponse:
    """Calendars and tables of the crew, and sites from a table."""
    return _show(request, SitesForm())


def _show(
    request: CrewRequest, form: SitesForm, *, found: SitesFile | None = None, text: str = "", address: str = "",
    status: int = HTTPStatus.OK,
) -> HttpResponse:  # fmt: skip
    context = {
        "form": form,
        "found": found,
        "rows": found.rows[:SHOWN_ROWS] if found else (),
        "text": text,
        "address": address,
        "columns": COLUMNS,
        "keys": request.crew.feed_keys.held().select_related("unit__site", "by"),
    }
    return render(request, "exchange/exchange.html", context, status=status)


@editors
@require_POST
def sites_look(request: CrewRequest) -> HttpResponse:
    """Look at a table before anything is written: what it adds, and each bad line."""
    form = SitesForm(request.POST, request.FILES)
    if not form.is_valid():
        return _show(request, form, status=HTTPStatus.UNPROCESSABLE_ENTITY)
    data = form.cleaned_data["file"].read()
    try:
        found = read_sites(data, request.crew)
    except PlanError as error:
        form.add_error("file", error_text(error))
        return _show(request, form, status=HTTPStatus.UNPROCESSABLE_ENTITY)
    text = data.decode("utf-8-sig")
    return _show(
        request, form, found=found, text=text, status=HTTPStatus.UNPROCESSABLE_ENTITY if found.bad else HTTPStatus.OK
    )


@editors
@require_POST
def sites_take(request: CrewRequest) -> HttpResponse:
    """Take a table that was looked at."""
    data = request.POST.get("text", "").encode()
    try:
        found = read_sites(data, request.crew)
    except PlanError as error:
        messages.error(request, error_text(error))
        return redirect("exchange")
    if found.bad or not found.rows:
        messages.error(request, "Nothing was taken: look at the table again.")
        return redirect("exchange")
    return to_job(request, lambda: ask_import_sites(request.membership, data))


@editors
@require_POST
def key_make(request: CrewRequest) -> HttpResponse:
    """A new address of a calendar, told this once."""
    pk = number(request.POST, "unit")
    unit = unit_of(request.crew, pk) if pk > 0 else None
    try:
        secret = keys.make_key(request.membership, unit)
    except TooMany as error:
        messages.error(request, str(error))
        return redirect("exchange")
    return _show(request, SitesForm(), address=request.build_absolute_uri(reverse("feed", args=[secret])))


@editors
@require_POST
def key_back(request: CrewRequest, pk: int) -> HttpResponse:
    """End an address."""
    if not request.crew.feed_keys.filter(pk=pk).exists():
        raise Http404(pk)
    take_back(request.membership, request.crew.feed_keys.held(), pk, request.instant)
    messages.success(request, "The address is dead.")
    return redirect("exchange")


@owners
@require_POST
def crew_archive(request: CrewRequest) -> HttpResponse:
    """All data of the crew as one file."""
    return to_job(request, lambda: ask_archive(request.membership))


@login_not_required
@require_GET
def feed(request: HttpRequest, secret: str) -> HttpResponse:
    """A calendar behind its key."""
    key = keys.key_of(secret)
    if key is None:
        return HttpResponse(
            "This calendar has ended.\n", status=HTTPStatus.NOT_FOUND, content_type="text/plain; charset=utf-8"
        )
    now = read_now()
    if key.unit is None:
        data = due_calendar(key.crew, now)
    else:
        plan = standing_plan(key.unit)
        leave_large(plan)
        data = unit_calendar(key.unit, plan, now)
    answer = HttpResponse(data, content_type="text/calendar; charset=utf-8")
    add_never_cache_headers(answer)
    return answer
