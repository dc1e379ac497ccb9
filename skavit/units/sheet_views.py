"""The entry sheet: step by step, as a PDF, without signal, and its ticks."""

from datetime import UTC, datetime

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_POST

from skavit.crews.access import editors, members
from skavit.units import long_work, selectors, services
from skavit.units.view import words_of
from skavit.units.work import CONFLICT, UNPROCESSABLE, number, to_job

FORBIDDEN = 403
LAST_MS = 10**14


@members
@require_GET
def sheet(request: HttpRequest, pk: int) -> HttpResponse:
    """The entry sheet, step by step and for print."""
    unit = selectors.unit_of(request.crew, pk)
    return render(request, "units/sheet.html", selectors.sheet_page(unit, words_of(request)))


@members
@require_POST
def sheet_pdf(request: HttpRequest, pk: int) -> HttpResponse:
    """Draw the entry sheet as a PDF."""
    unit = selectors.unit_of(request.crew, pk)
    return to_job(request, lambda: long_work.ask_pdf(unit, request.membership))


@require_GET
def keep(request: HttpRequest) -> HttpResponse:
    """The worker that keeps opened sheets for places without signal."""
    response = render(request, "units/keep.js", content_type="text/javascript; charset=utf-8")
    response["Cache-Control"] = "no-cache"
    return response


@editors
@require_POST
def tick(request: HttpRequest, pk: int) -> HttpResponse:
    """Remember a step as done, or open it again."""
    unit = selectors.unit_of(request.crew, pk)
    key = request.POST.get("key", "")[:64]
    if not key:
        return HttpResponse("No step was named.", status=UNPROCESSABLE)
    if request.POST.get("person", str(request.user.pk)) != str(request.user.pk):
        return HttpResponse("Somebody else is logged in here now.", status=FORBIDDEN, content_type="text/plain")
    keys = selectors.sheet_keys(unit, words_of(request))
    said = _moment(number(request.POST, "said"))
    try:
        services.set_tick(unit, request.membership, key, keys, done=request.POST.get("done") == "1", said=said)
    except services.StepGone as gone:
        if request.htmx:
            return HttpResponse(str(gone), status=CONFLICT, content_type="text/plain; charset=utf-8")
        messages.warning(request, str(gone))
    if request.htmx:
        return HttpResponse(status=204)
    return redirect(f"{reverse('sheet', args=[pk])}#step-{request.POST.get('number', '1')}")


def _moment(milliseconds: int) -> datetime | None:
    """When a browser says that something was pressed; None where it does not say."""
    return datetime.fromtimestamp(milliseconds / 1000, UTC) if 0 < milliseconds < LAST_MS else None


@editors
@require_POST
def ticks_clear(request: HttpRequest, pk: int) -> HttpResponse:
    """Open all steps again."""
    unit = selectors.unit_of(request.crew, pk)
    services.clear_ticks(unit, request.membership)
    return redirect("sheet", pk=pk)
