"""A visit: begun, written down from any device, with photos; ended; looked at again."""

from http import HTTPStatus
from typing import Any
from uuid import UUID, uuid4

from django.contrib import messages
from django.core.files.uploadedfile import UploadedFile
from django.db.models import Q
from django.http import Http404, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_POST

from skavit.crews.access import editors, members
from skavit.crews.request import CrewRequest
from skavit.server.now import today_at
from skavit.units.models import Unit
from skavit.units.pages.post_data import by_script, revision
from skavit.units.pages.sheet.page import sheet_page
from skavit.units.selectors import unit_of
from skavit.visits.models import Photo, Visit
from skavit.visits.pages.visit.forms import KEYED, VisitForm, sent_values, spoken
from skavit.visits.pages.visit.page import revision_sent, steps_done, visit_page, visit_shown
from skavit.visits.services import visits
from skavit.visits.services.photos import PhotoRefused, add_photo
from skavit.visits.services.visits import Conflict, VisitOver
from skavit.web.page import shown


def _form(request: CrewRequest, unit: Unit, values: dict[str, str] | None, *, ending: bool = False) -> VisitForm:
    """The form of a unit's visit: what was written down, or looked at so that it can be ended."""
    return VisitForm(
        values or {} if ending else None,
        initial=values,
        plan=unit.plan,
        kind=unit.core_kind,
        today=today_at(unit.plan.site, request.now),
        words=request.words,
        ending=ending,
    )


@members
@require_GET
def visit(request: CrewRequest, pk: int) -> HttpResponse:
    """The open visit of a unit, or one to begin."""
    unit = unit_of(request.crew, pk)
    found = visits.open_visit(unit)
    return _page(request, unit, _form(request, unit, found.values if found else None))


def _page(request: CrewRequest, unit: Unit, form: VisitForm, status: int = HTTPStatus.OK) -> HttpResponse:
    page = visit_page(unit, form, request.words, request.now)
    return render(request, "visits/visit/visit.html", {**shown(page), "spoken": spoken()}, status=status)


def _token(request: CrewRequest) -> UUID:
    """The token that a device gave; a new one where it gave none."""
    try:
        return UUID(request.POST.get("token", ""))
    except ValueError:
        return uuid4()


@editors
@require_POST
def visit_save(request: CrewRequest, pk: int) -> HttpResponse:
    """Write down what was sent, and end the visit where it is asked; as JSON for the page's own script."""
    unit = unit_of(request.crew, pk)
    script = by_script(request)
    names = _form(request, unit, None).fields
    sent = sent_values(request.POST, names)
    try:
        found = visits.take_up(unit, request.membership, _token(request), request.instant)
        found.unit = unit
        conflicts = visits.write_down(found, request.membership, sent, request.instant)
        form = _form(request, unit, found.values, ending="end" in request.POST)
        if "end" in request.POST and not conflicts and form.is_valid():
            _end(request, unit, found, form)
    except VisitOver as error:
        return _over(request, unit, error, script=script)
    errors = {name: [str(e) for e in listed] for name, listed in form.errors.items()} if form.is_bound else {}
    if script:
        return JsonResponse(_answer(request, unit, found, conflicts, errors))
    for one in conflicts:
        label = form.fields[one.name].label
        messages.error(
            request, f"{label}: you typed {one.mine or 'nothing'}, {one.by} wrote {one.theirs or 'nothing'} meanwhile."
        )
    if found.ended is not None:
        return redirect("visit-shown", pk=pk, record_pk=found.pk)
    return _page(request, unit, form, HTTPStatus.UNPROCESSABLE_ENTITY if errors else HTTPStatus.OK)


def _answer(
    request: CrewRequest, unit: Unit, found: Visit, conflicts: tuple[Conflict, ...], errors: dict[str, list[str]]
) -> dict[str, object]:
    """What the page's script is told."""
    return {
        "number": found.number,
        "token": str(found.token),
        "values": found.values,
        "conflicts": {one.name: {"theirs": one.theirs, "by": one.by} for one in conflicts},
        "errors": errors,
        "ended": reverse("visit-shown", args=[unit.pk, found.pk]) if found.ended else "",
    }


def _over(request: CrewRequest, unit: Unit, error: VisitOver, *, script: bool) -> HttpResponse:
    address = reverse("visit-shown", args=[unit.pk, error.visit.pk])
    if script:
        return JsonResponse({"over": str(error), "ended": address}, status=HTTPStatus.CONFLICT)
    messages.error(request, str(error))
    return redirect(address)


def _end(request: CrewRequest, unit: Unit, found: Visit, form: VisitForm) -> None:
    keyed = form.cleaned_data["keyed"] == KEYED
    steps = steps_done(unit, sheet_page(unit, request.words, request.now))
    visits.end_visit(
        found,
        request.membership,
        found=form.found(),
        keyed=revision_sent(unit, revision(request.POST)) if keyed else None,
        steps=steps,
        read=form.dates(),
        instant=request.instant,
    )


@members
@require_GET
def visit_shown_page(request: CrewRequest, pk: int, record_pk: int) -> HttpResponse:
    """A visit as it was."""
    unit = unit_of(request.crew, pk)
    found = get_object_or_404(unit.visits.select_related("by", "ended_by", "revision"), pk=record_pk)
    if found.ended is None:
        return redirect("visit", pk=pk)
    page = visit_shown(unit, found, _form(request, unit, found.values), request.words)
    return render(request, "visits/visit/visit_shown.html", shown(page))


@editors
@require_POST
def photo_add(request: CrewRequest, pk: int) -> HttpResponse:
    """Keep a photo of the unit's visit; one that comes late still belongs to the visit at which it was taken."""
    unit = unit_of(request.crew, pk)
    file = request.FILES.get("photo")
    script = by_script(request)
    try:
        photo = _kept(request, unit, file)
    except PhotoRefused as error:
        if script:
            return JsonResponse({"refused": str(error)}, status=HTTPStatus.UNPROCESSABLE_ENTITY)
        messages.error(request, str(error))
        return redirect("visit", pk=pk)
    if script:
        return JsonResponse({"address": reverse("photo", args=[pk, photo.pk])})
    return redirect("visit", pk=pk)


def _kept(request: CrewRequest, unit: Unit, file: "UploadedFile[Any] | None") -> Photo:
    if file is None:
        raise PhotoRefused("No photo was sent. Accepted: one picture.")
    token = _visit_token(request)
    try:
        found = unit.visits.filter(token=token).first() or visits.take_up(
            unit, request.membership, token, request.instant
        )
    except visits.VisitElsewhere as error:
        raise PhotoRefused(str(error)) from error
    return add_photo(found, request.membership, _token(request), file, file.size or 0, request.instant)


def _visit_token(request: CrewRequest) -> UUID:
    try:
        return UUID(request.POST.get("visit", ""))
    except ValueError:
        raise PhotoRefused("The photo belongs to no visit. Accepted: one sent from a visit's page.") from None


@members
@require_GET
def photo(request: CrewRequest, pk: int, record_pk: int) -> HttpResponse:
    """The picture itself."""
    unit = unit_of(request.crew, pk)
    found = get_object_or_404(Photo, Q(visit__unit=unit) | Q(note__unit=unit), pk=record_pk)
    if not found.image:
        raise Http404(record_pk)
    return HttpResponse(
        bytes(found.image), content_type="image/jpeg", headers={"Cache-Control": "private, max-age=31536000, immutable"}
    )
