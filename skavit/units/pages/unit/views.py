"""The unit's page and what is done on it: each parses, authorises, calls one service, shows the work region anew."""

from collections.abc import Callable
from http import HTTPStatus
from typing import Any

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from skavit.core.ground.errors import UserError
from skavit.core.text.error_text import error_text
from skavit.crews.access import editors, members
from skavit.crews.request import CrewRequest
from skavit.server.now import today_at
from skavit.units.computing import searched_year, unit_year
from skavit.units.models import PlanRevision
from skavit.units.pages.post_data import revision, to_job
from skavit.units.pages.unit.page_actions import apply, edit_unit, show, show_stale
from skavit.units.pages.unit.parts import MeantSoForm
from skavit.units.pages.unit.trial import altered_lines
from skavit.units.pages.view import chosen_view
from skavit.units.selectors import unit_of
from skavit.units.services import fitting, meant_so, revisions
from skavit.units.services.remedies import apply_remedy
from skavit.units.trades import TooLong, pages_of
from skavit.web.typed_fields import tell_today


@members
@require_GET
def unit_page(request: CrewRequest, pk: int) -> HttpResponse:
    """The unit: label strip, year sheet, findings, wanted and keyed in; ``?edit=`` opens the form of a row."""
    unit = unit_of(request.crew, pk)
    place, forms = request.GET.get("edit", ""), None
    if place:
        view = chosen_view(unit.plan, request.GET, request.now)
        number = unit.head_revision.number
        forms = {place: pages_of(unit.plan).form_at(place, unit.plan, number, request.words, view)}
    return show(request, unit, forms=forms)


@members
@require_GET
def searched(request: CrewRequest, pk: int) -> HttpResponse:
    """The work region with what a search finds that would mend the unit: the page comes for it once it is shown."""
    unit = unit_of(request.crew, pk)
    searched_year(unit.plan, chosen_view(unit.plan, request.GET, request.now).year)
    return show(request, unit)


@members
@require_GET
def day(request: CrewRequest, pk: int) -> HttpResponse:
    """The cursor's day or night alone."""
    unit = unit_of(request.crew, pk)
    view, pages = chosen_view(unit.plan, request.GET, request.now), pages_of(unit.plan)
    found = pages.day(unit_year(unit.plan, view.year), view, request.words, request.now)
    return render(request, pages.day_part, {"night": found, "unit": unit, "view": view, "oob": True})


@editors
@require_http_methods(["GET", "POST"])
def row(request: CrewRequest, pk: int, place: str) -> HttpResponse:
    """The form of a row, for opening it in its place; and what it says, kept."""
    unit = unit_of(request.crew, pk)
    pages, typed = pages_of(unit.plan), request.POST if request.method == "POST" else None
    view = chosen_view(unit.plan, typed or request.GET, request.now)
    # The form stands for the page it opens in: were that page stale, so must the form be.
    shown = revision(request.GET) if "revision" in request.GET else unit.head_revision.number
    if typed is not None and (before := revisions.overtaken(unit, revision(typed))):
        place = pages.place_now(place, before.plan, unit.plan, view)
        form = pages.form_at(place, unit.plan, shown, request.words, view, typed)
        form.overtaken = True
        return show_stale(request, unit, revisions.StaleEdit(unit.head_revision), {place: form})
    form = pages.form_at(place, unit.plan, shown, request.words, view, typed)
    if typed is None:
        context = {"unit": unit, "form": form, "pick": request.GET.get("pick", ""), "view": view}
        return render(request, pages.row_part, context)
    if not form.is_valid():
        return show(request, unit, forms={place: form}, status=HTTPStatus.UNPROCESSABLE_ENTITY)
    base, change = form.cleaned_data["revision"], pages.edit_of(form, view)
    return apply(
        request,
        unit,
        lambda: revisions.edit(unit, request.membership, base, change, form.note, now=request.now),
        forms={place: form},
    )


@editors
@require_POST
def preview(request: CrewRequest, pk: int, place: str) -> HttpResponse:
    """What the row would alter this year if it were kept as typed; nothing where it cannot be read yet."""
    unit = unit_of(request.crew, pk)
    view = chosen_view(unit.plan, request.POST, request.now)
    number = unit.head_revision.number
    form = pages_of(unit.plan).form_at(place, unit.plan, number, request.words, view, request.POST)
    try:
        altered = altered_lines(unit.plan, form, view, request.words) if form.is_valid() else []
    except UserError as error:
        altered = [error_text(error)]
    return render(request, "units/plan/_preview.html", {"altered": altered, "valid": form.is_valid()})


@editors
@require_POST
def row_action(request: CrewRequest, pk: int, place: str, action: str) -> HttpResponse:
    """Remove, copy or move a row."""
    unit = unit_of(request.crew, pk)
    view = chosen_view(unit.plan, request.POST, request.now)
    found = pages_of(unit.plan).row_action(unit.plan, place, action, request.POST, view, request.words)
    if found is None:
        raise Http404(place)
    return edit_unit(request, unit, *found)


@editors
@require_POST
def fit(request: CrewRequest, pk: int) -> HttpResponse:
    """Fit what is wanted into the unit, and say what is lost."""
    unit, base = unit_of(request.crew, pk), revision(request.POST)

    def action() -> None:
        _, made = fitting.fit_now(unit, request.membership, base, request.words, now=request.now)
        for line in made.lines:
            messages.add_message(request, messages.SUCCESS if made.exact else messages.WARNING, line)

    try:
        return apply(request, unit, action)
    except TooLong:
        return to_job(request, lambda: fitting.ask_fit(unit, request.membership, base))


@editors
@require_POST
def remedy(request: CrewRequest, pk: int) -> HttpResponse:
    """Take a finding's remedy."""
    unit = unit_of(request.crew, pk)
    view = chosen_view(unit.plan, request.POST, request.now)
    base, key = revision(request.POST), request.POST.get("remedy", "")
    return apply(request, unit, lambda: apply_remedy(unit, request.membership, base, view.year, key, now=request.now))


@editors
@require_POST
def mean_so(request: CrewRequest, pk: int) -> HttpResponse:
    """Accept a finding with a reason until a date; without either the page says what is missing."""
    unit = unit_of(request.crew, pk)
    view, today = chosen_view(unit.plan, request.POST, request.now), today_at(unit.plan.site, request.now)
    form = MeantSoForm(request.POST)
    tell_today(form, today)
    if not form.is_valid() or form.cleaned_data["until"] < today:
        messages.error(request, "Not kept: a reason, and a date from today on, such as 15 Feb 2027.")
        return show(request, unit, status=HTTPStatus.UNPROCESSABLE_ENTITY)
    base, said = revision(request.POST), form.cleaned_data
    return apply(
        request, unit, lambda: meant_so.mean_so(unit, request.membership, base, view.year, now=request.now, **said)
    )


@editors
@require_POST
def mean_no_longer(request: CrewRequest, pk: int) -> HttpResponse:
    """Let a finding count again."""
    unit = unit_of(request.crew, pk)
    finding = request.POST.get("finding", "")
    return apply(request, unit, lambda: meant_so.mean_no_longer(unit, request.membership, finding, now=request.now))


@editors
@require_POST
def undo(request: CrewRequest, pk: int) -> HttpResponse:
    """Undo the last change."""
    return _move(request, pk, revisions.undo)


@editors
@require_POST
def redo(request: CrewRequest, pk: int) -> HttpResponse:
    """Redo what was undone."""
    return _move(request, pk, revisions.redo)


def _move(request: CrewRequest, pk: int, move: Callable[..., PlanRevision]) -> HttpResponse:
    unit, base = unit_of(request.crew, pk), revision(request.POST)
    return apply(request, unit, lambda: move(unit, request.membership, base, now=request.now))


@editors
@require_POST
def by_hand_add(request: CrewRequest, pk: int) -> HttpResponse:
    """Write down what was done by hand; refused, the form stays open with what was typed."""
    unit = unit_of(request.crew, pk)
    view = chosen_view(unit.plan, request.POST, request.now)
    form: Any = pages_of(unit.plan).by_hand_form(unit.plan, view, request.words, request.POST)
    tell_today(form, today_at(unit.plan.site, request.now))
    if not form.is_valid():
        return show(request, unit, forms={"by-hand": form}, status=HTTPStatus.UNPROCESSABLE_ENTITY)
    base = form.cleaned_data["revision"]
    return apply(
        request,
        unit,
        lambda: revisions.edit(unit, request.membership, base, form.edit, "done by hand, added", now=request.now),
        forms={"by-hand": form},
    )


@editors
@require_POST
def by_hand_remove(request: CrewRequest, pk: int, index: int) -> HttpResponse:
    """Take a line of what was done by hand out."""
    unit = unit_of(request.crew, pk)
    return edit_unit(request, unit, pages_of(unit.plan).by_hand_removed(index), "done by hand, removed")
