"""The entry sheet: step by step, as a PDF, without signal, and its ticks."""

from datetime import UTC, datetime
from http import HTTPStatus
from itertools import islice, zip_longest

from django.contrib import messages
from django.http import HttpRequest, HttpResponse, JsonResponse, QueryDict
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_POST

from skavit.crews.access import editors, members
from skavit.crews.request import CrewRequest
from skavit.server.bounds import MOST_TICKS
from skavit.sites.selectors import site_of
from skavit.units.pages.post_data import number, to_job, whole
from skavit.units.pages.sheet.page import Part, sheet_keys, sheet_page
from skavit.units.pages.sheet.printing import MOST_SHEETS, ask_pdf, ask_pdfs
from skavit.units.selectors import bare_unit_of, unit_of, units_at_work
from skavit.units.services import ticks
from skavit.units.sheets import proven_keys
from skavit.web.page import shown

LAST_MS, LAST_KEY = 10**14, 2**63


@members
@require_GET
def sheet(request: CrewRequest, pk: int) -> HttpResponse:
    """The entry sheet, step by step and for print."""
    unit = unit_of(request.crew, pk)
    page = sheet_page(unit, request.words, request.now, _part(request.GET))
    return render(request, "units/sheet/sheet.html", shown(page))


@members
@require_POST
def sheet_pdf(request: CrewRequest, pk: int) -> HttpResponse:
    """Draw the entry sheet as a PDF."""
    unit = unit_of(request.crew, pk)
    if unseen := sheet_page(unit, request.words, request.now).unseen:
        messages.error(
            request, f"Not printed yet: {'; '.join(unseen)}. Accepted: its caution read, and its step ticked."
        )
        return redirect("sheet", pk=pk)
    return to_job(request, lambda: ask_pdf(unit, request.membership, _part(request.POST)))


def _part(sent: QueryDict) -> Part:
    """How much of the sheet is asked for."""
    return next((part for part in (Part.SEASON, Part.CHANGED) if part.value in sent), Part.WHOLE)


@members
@require_POST
def sheets_pdf(request: CrewRequest) -> HttpResponse:
    """Draw the entry sheets of a site's units, or of those that are named, as one file."""
    here = number(request.POST, "site")
    if here > 0:
        site = site_of(request.crew, here)
        units = units_at_work(request.crew).filter(site=site).order_by("name", "pk")
        title, back = f"Entry sheets of {site.name}", reverse("site", args=[site.pk])
    else:
        named = [int(pk) for pk in request.POST.getlist("unit")[: MOST_SHEETS + 1] if pk.isascii() and pk.isdigit()]
        units = (
            units_at_work(request.crew)
            .filter(pk__in=[pk for pk in named if pk < LAST_KEY])
            .order_by("site__name", "name")
        )
        title, back = "Entry sheets", reverse("due-day")
    keys = list(units.values_list("pk", flat=True)[: MOST_SHEETS + 1])
    return to_job(request, lambda: ask_pdfs(request.membership, keys, title, back))


@require_GET
def keep(request: HttpRequest) -> HttpResponse:
    """The worker that keeps opened sheets for places without signal."""
    return render(request, "units/sheet/keep.js", content_type="text/javascript; charset=utf-8")


@editors
@require_POST
def tick(request: CrewRequest, pk: int) -> HttpResponse:
    """Remember steps as done, or open them again: one by its button, or many that a browser has kept."""
    unit = bare_unit_of(request.crew, pk)
    pressed = _pressed(request.POST)
    if not pressed:
        return HttpResponse("No step was named.", status=HTTPStatus.UNPROCESSABLE_ENTITY)
    if request.POST.get("person", str(request.user.pk)) != str(request.user.pk):
        return HttpResponse(
            "Somebody else is logged in here now.", status=HTTPStatus.FORBIDDEN, content_type="text/plain"
        )
    gone = ticks.set_ticks(
        unit,
        request.membership,
        pressed,
        proven_keys(unit, request.POST.getlist("proof"), request.now),
        lambda: sheet_keys(unit, request.words, request.now),
        instant=request.instant,
    )
    if request.htmx:
        return JsonResponse({"gone": gone})
    for why in gone.values():
        messages.warning(request, why)
    # A step that is ticked leads to the next one, as it does where the page's script is at work.
    following = max(number(request.POST, "number"), 1) + pressed[0].done
    return redirect(f"{reverse('sheet', args=[pk])}#step-{following}")


def _pressed(sent: QueryDict) -> list[ticks.Pressed]:
    """The steps that were sent; each has its key, whether it is done, and when it was pressed."""
    rows = zip_longest(sent.getlist("key"), sent.getlist("done"), sent.getlist("said"), fillvalue="")
    return [
        ticks.Pressed(key=key[:64], done=done == "1", said=_moment(whole(said)))
        for key, done, said in islice(rows, MOST_TICKS)
        if key
    ]


def _moment(milliseconds: int) -> datetime | None:
    """When a browser says that something was pressed; None where it does not say."""
    return datetime.fromtimestamp(milliseconds / 1000, UTC) if 0 < milliseconds < LAST_MS else None


@editors
@require_POST
def ticks_clear(request: CrewRequest, pk: int) -> HttpResponse:
    """Open all steps again."""
    unit = unit_of(request.crew, pk)
    ticks.clear_ticks(unit, request.membership, request.instant)
    return redirect("sheet", pk=pk)
