"""The record of a unit, two revisions side by side, and the plan file as it was keyed at a visit."""

from http import HTTPStatus
from uuid import uuid4

from django.http import Http404, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_POST

from skavit.crews.access import editors, members
from skavit.crews.request import CrewRequest
from skavit.units.models import Unit
from skavit.units.pages.files.views import plan_file
from skavit.units.pages.post_data import by_script, number
from skavit.units.selectors import unit_of
from skavit.visits.models import Visit
from skavit.visits.pages.record.forms import NoteForm
from skavit.visits.pages.record.page import compare_page, record_page
from skavit.visits.services import notes
from skavit.visits.services.photos import PhotoRefused
from skavit.web.page import shown


@members
@require_GET
def record(request: CrewRequest, pk: int) -> HttpResponse:
    """What was done to a unit and to its plan."""
    return _show(request, unit_of(request.crew, pk), NoteForm(initial={"token": uuid4()}))


def _show(request: CrewRequest, unit: Unit, form: NoteForm, status: int = HTTPStatus.OK) -> HttpResponse:
    page = record_page(unit, request.words, max(number(request.GET, "page"), 1))
    return render(request, "visits/record/record.html", {**shown(page), "form": form}, status=status)


@editors
@require_POST
def note_add(request: CrewRequest, pk: int) -> HttpResponse:
    """Write a note, with its photos; the page's own script is told as JSON why it was refused."""
    unit, form = unit_of(request.crew, pk), NoteForm(request.POST, request.FILES)
    if form.is_valid():
        try:
            notes.write_note(unit, request.membership, instant=request.instant, **form.cleaned_data)
        except PhotoRefused as error:
            form.add_error("photos", str(error))
        else:
            return redirect(reverse("record", args=[pk]) + "#notes") if not by_script(request) else JsonResponse({})
    if by_script(request):
        refused = " ".join(str(text) for listed in form.errors.values() for text in listed)
        return JsonResponse({"refused": refused}, status=HTTPStatus.UNPROCESSABLE_ENTITY)
    return _show(request, unit, form, HTTPStatus.UNPROCESSABLE_ENTITY)


@editors
@require_POST
def note_away(request: CrewRequest, pk: int, record_pk: int) -> HttpResponse:
    """Take a note away."""
    note = get_object_or_404(unit_of(request.crew, pk).notes, pk=record_pk)
    notes.take_away(note, request.membership, request.instant)
    return redirect(reverse("record", args=[pk]) + "#notes")


@members
@require_GET
def compare(request: CrewRequest, pk: int) -> HttpResponse:
    """Two revisions of a unit's plan."""
    unit = unit_of(request.crew, pk)
    found = {
        revision.number: revision
        for revision in unit.revisions.select_related("author").filter(
            number__in=[number(request.GET, name) for name in ("from", "to")]
        )
    }
    if not found:
        return redirect("record", pk=pk)  # nothing, or nothing that there is, was marked
    old, new = found[min(found)], found[max(found)]
    page = compare_page(unit, old, new, request.words, request.now)
    return render(request, "visits/record/compare.html", shown(page))


@members
@require_GET
def visit_plan(request: CrewRequest, pk: int, record_pk: int) -> HttpResponse:
    """The plan file as it was keyed at a visit."""
    found = get_object_or_404(Visit, pk=record_pk, unit=unit_of(request.crew, pk))
    if found.document is None:
        raise Http404(record_pk)
    return plan_file(found.document, f"{found.unit.site.name} {found.unit.name} visit {found.number}")
