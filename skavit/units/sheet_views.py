"""The entry sheet: step by step, as a PDF, without signal, and its ticks."""

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.template.loader import render_to_string
from django.urls import reverse
from django.utils.text import slugify
from django.views.decorators.http import require_GET, require_POST

from skavit.crews.access import editors, members
from skavit.units import selectors, services
from skavit.units.view import words_of

UNPROCESSABLE, CONFLICT = 422, 409


@members
@require_GET
def sheet(request: HttpRequest, pk: int) -> HttpResponse:
    """The entry sheet, step by step and for print."""
    unit = selectors.unit_of(request.crew, pk)
    return render(request, "units/sheet.html", selectors.sheet_page(unit, words_of(request)))


@members
@require_GET
def sheet_pdf(request: HttpRequest, pk: int) -> HttpResponse:
    """The entry sheet as a PDF."""
    from skavit.units.pdf import pdf_of  # its library is slow to load, and only this page needs it

    unit = selectors.unit_of(request.crew, pk)
    page = render_to_string("units/sheet_pdf.html", selectors.sheet_page(unit, words_of(request)))
    response = HttpResponse(pdf_of(page), content_type="application/pdf")
    name = slugify(f"{unit.site.name} {unit.name} entry sheet") or "entry-sheet"
    response["Content-Disposition"] = f'attachment; filename="{name}.pdf"'
    return response


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
    keys = selectors.sheet_keys(unit, words_of(request))
    try:
        services.set_tick(unit, request.membership, key, keys, done=request.POST.get("done") == "1")
    except services.StepGone as gone:
        if request.htmx:
            return HttpResponse(str(gone), status=CONFLICT, content_type="text/plain; charset=utf-8")
        messages.warning(request, str(gone))
    if request.htmx:
        return HttpResponse(status=204)
    return redirect(f"{reverse('sheet', args=[pk])}#step-{request.POST.get('number', '1')}")


@editors
@require_POST
def ticks_clear(request: HttpRequest, pk: int) -> HttpResponse:
    """Open all steps again."""
    unit = selectors.unit_of(request.crew, pk)
    services.clear_ticks(unit, request.membership)
    return redirect("sheet", pk=pk)
