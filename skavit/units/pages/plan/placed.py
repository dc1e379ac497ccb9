"""The form of a row at its place, opened and kept: what units that water and units that hold temperatures share."""

from http import HTTPStatus

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import render

from skavit.crews.request import CrewRequest
from skavit.typed_fields import with_hidden
from skavit.units.models import Unit
from skavit.units.pages.plan.acting import FormAt, apply, show
from skavit.units.pages.posted import revision
from skavit.units.pages.view import chosen_view
from skavit.units.services import revisions


def row_at(request: CrewRequest, unit: Unit, place: str, form_at: FormAt, template: str) -> HttpResponse:
    """The form of a row, for opening it in its place; and what it says, kept."""
    typed = request.POST if request.method == "POST" else None
    view = chosen_view(unit.plan, typed or request.GET, request.now)
    # The form stands for the page it opens in: were that page stale, so must the form be.
    shown = revision(request.GET) if "revision" in request.GET else unit.head_revision.number
    form = form_at(place, unit.plan, shown, request.words, typed)
    if typed is None:
        return render(request, template, {"unit": unit, "form": form, "view": view})
    if revisions.overtaken(unit, revision(typed)):
        form.overtaken = True
        with_hidden(form, "revision", unit.head_revision.number)
        messages.warning(request, str(revisions.StaleEdit(unit.head_revision)))
        return show(request, unit, forms={place: form}, status=HTTPStatus.CONFLICT)
    if not form.is_valid():
        return show(request, unit, forms={place: form}, status=HTTPStatus.UNPROCESSABLE_ENTITY)
    base = form.cleaned_data["revision"]
    return apply(
        request,
        unit,
        lambda: revisions.edit(unit, request.membership, base, form.edit, form.note, now=request.now),
        forms={place: form},
    )
