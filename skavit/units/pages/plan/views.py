"""The unit's page and what is done on it: each parses, authorises, calls one service, shows the work region anew."""

from functools import partial
from http import HTTPStatus

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from skavit.bounds import STEPS_AT_ONCE
from skavit.core.ground.budget import Budget
from skavit.core.plan import edits
from skavit.core.plan.sorts import Sort
from skavit.core.plan.usual_programs import usual_program
from skavit.crews.access import editors, members
from skavit.crews.request import CrewRequest
from skavit.typed_fields import with_hidden
from skavit.units.pages.plan.acting import SHOWN_BY, apply, edit_entry, edit_unit, show
from skavit.units.pages.plan.forms import ChannelForm
from skavit.units.pages.plan.night import cursor_night
from skavit.units.pages.plan.page import alteration_lines
from skavit.units.pages.plan.rows import form_at, place_now
from skavit.units.pages.plan.sentences import EntryForm, WindowForm
from skavit.units.pages.posted import number, revision, to_job
from skavit.units.pages.view import View, chosen_view
from skavit.units.results import unit_year
from skavit.units.selectors import unit_of
from skavit.units.services import fitting, revisions, units


@members
@require_GET
def unit_page(request: CrewRequest, pk: int) -> HttpResponse:
    """The unit: label strip, year sheet, findings, wanted and keyed in; ``?edit=`` opens the form of a row."""
    unit = unit_of(request.crew, pk)
    place, forms = request.GET.get("edit", ""), None
    if place and unit.plan.sort == Sort.SWITCHES:
        keying = chosen_view(unit.plan, request.GET, request.now).keying
        forms = {place: form_at(place, unit.plan, unit.head_revision.number, request.words, None, keying)}
    elif place:
        forms = {place: SHOWN_BY[unit.plan.sort].form_at(place, unit.plan, unit.head_revision.number, request.words)}
    return show(request, unit, forms=forms)


@members
@require_GET
def night(request: CrewRequest, pk: int) -> HttpResponse:
    """The cursor's night alone."""
    unit = unit_of(request.crew, pk)
    if not unit.plan.channels:
        raise Http404(pk)
    view = chosen_view(unit.plan, request.GET, request.now)
    night = cursor_night(unit_year(unit.plan, view.year), view, request.words, request.now)
    return render(request, "units/plan/_night.html", {"night": night, "unit": unit, "view": view, "oob": True})


@editors
@require_POST
def fit(request: CrewRequest, pk: int) -> HttpResponse:
    """Make the entries from the windows, and say what is lost."""
    unit = unit_of(request.crew, pk)
    base, had_keyings = revision(request.POST), bool(unit.plan.unit.keyings)

    def action() -> None:
        made, losses = fitting.fit_entries(
            unit, request.membership, base, now=request.now, budget=Budget(STEPS_AT_ONCE)
        )
        if had_keyings:
            messages.info(request, "One set of entries for the whole year: the seasonal settings were removed.")
        for line in fitting.fit_lines(made.plan, losses):
            messages.add_message(request, messages.WARNING if losses else messages.SUCCESS, line)

    try:
        return apply(request, unit, action)
    except fitting.TooLong:
        return to_job(request, lambda: fitting.ask_fit(unit, request.membership, base))


@editors
@require_POST
def remedy(request: CrewRequest, pk: int) -> HttpResponse:
    """Take a finding's remedy."""
    unit = unit_of(request.crew, pk)
    view = chosen_view(unit.plan, request.POST, request.now)
    base, key = revision(request.POST), request.POST.get("remedy", "")
    return apply(
        request,
        unit,
        lambda: fitting.apply_remedy(unit, request.membership, base, view.year, key, now=request.now),
    )


@editors
@require_POST
def undo(request: CrewRequest, pk: int) -> HttpResponse:
    """Undo the last change."""
    unit = unit_of(request.crew, pk)
    base = revision(request.POST)
    return apply(request, unit, lambda: revisions.undo(unit, request.membership, base, now=request.now))


@editors
@require_POST
def redo(request: CrewRequest, pk: int) -> HttpResponse:
    """Redo what was undone."""
    unit = unit_of(request.crew, pk)
    base = revision(request.POST)
    return apply(request, unit, lambda: revisions.redo(unit, request.membership, base, now=request.now))


@editors
@require_POST
def channel_save(request: CrewRequest, pk: int, channel: int | None = None) -> HttpResponse:
    """Add a channel, or rename one."""
    unit = unit_of(request.crew, pk)
    form = ChannelForm(request.POST)
    place = "channel-new" if channel is None else f"channel-{channel}"
    if not form.is_valid():
        return show(request, unit, forms={place: form}, status=HTTPStatus.UNPROCESSABLE_ENTITY)
    name, base = form.cleaned_data["name"], form.cleaned_data["revision"]
    if channel is None:
        return apply(
            request,
            unit,
            lambda: units.add_channel(unit, request.membership, base, name, now=request.now),
            forms={place: form},
        )
    return edit_unit(request, pk, lambda plan: edits.rename_channel(plan, channel, name), f"channel {channel} renamed")


@editors
@require_POST
def channel_copy(request: CrewRequest, pk: int, channel: int) -> HttpResponse:
    """One more channel that is wanted and keyed as this one."""
    unit = unit_of(request.crew, pk)
    name = next((c.name for n, c in enumerate(unit.plan.channels, start=1) if n == channel), "")
    change = partial(edits.copy_channel, channel=channel, name=f"{name} copy"[:80])
    return edit_unit(request, pk, change, f"channel {channel} copied")


@editors
@require_POST
def channel_remove(request: CrewRequest, pk: int, channel: int) -> HttpResponse:
    """Take a channel out, with its windows and entries."""
    return edit_unit(request, pk, lambda plan: edits.remove_channel(plan, channel), f"channel {channel} removed")


@editors
@require_http_methods(["GET", "POST"])
def row(request: CrewRequest, pk: int, place: str) -> HttpResponse:
    """The form of a window or an entry, for opening it in its place; and what it says, kept."""
    unit = unit_of(request.crew, pk)
    typed = request.POST if request.method == "POST" else None
    view = chosen_view(unit.plan, typed or request.GET, request.now)
    # The form stands for the page it opens in: were that page stale, so must the form be.
    shown = revision(request.GET) if "revision" in request.GET else unit.head_revision.number
    form = form_at(place, unit.plan, shown, request.words, typed, view.keying)
    if typed is not None and (before := revisions.overtaken(unit, revision(typed))):
        place = place_now(place, before.plan, unit.plan, view.keying)
        form = form_at(place, unit.plan, shown, request.words, typed, view.keying)
        form.overtaken = True
        with_hidden(form, "revision", unit.head_revision.number)
        messages.warning(request, str(revisions.StaleEdit(unit.head_revision)))
        return show(request, unit, forms={place: form}, status=HTTPStatus.CONFLICT)
    if typed is None:
        context = {"unit": unit, "form": form, "pick": request.GET.get("pick", ""), "view": view}
        return render(request, "units/plan/_form.html", context)
    if not form.is_valid():
        return show(request, unit, forms={place: form}, status=HTTPStatus.UNPROCESSABLE_ENTITY)
    base = form.cleaned_data["revision"]
    return apply(
        request,
        unit,
        lambda: revisions.edit(unit, request.membership, base, _in_its_set(form, view), form.note, now=request.now),
        forms={place: form},
    )


@editors
@require_POST
def pin(request: CrewRequest, pk: int) -> HttpResponse:
    """What is known of the unit's PIN; never the PIN itself."""
    known = {"factory": "factory", "set": "set"}.get(request.POST.get("pin", ""))
    return edit_unit(request, pk, lambda plan: edits.with_pin(plan, known), "PIN looked at")


@editors
@require_POST
def window_remove(request: CrewRequest, pk: int, channel: int, index: int) -> HttpResponse:
    """Take a window out."""
    return edit_unit(request, pk, lambda plan: edits.remove_window(plan, channel, index), "window removed")


@editors
@require_POST
def entry_remove(request: CrewRequest, pk: int, index: int) -> HttpResponse:
    """Clear a slot."""
    return edit_entry(request, pk, index, lambda plan: edits.remove_entry(plan, index), "cleared")


@editors
@require_POST
def entry_copy(request: CrewRequest, pk: int, index: int) -> HttpResponse:
    """The same entry in one more slot."""
    return edit_entry(request, pk, index, lambda plan: edits.copy_entry(plan, index), "copied")


@editors
@require_POST
def entry_move(request: CrewRequest, pk: int, index: int) -> HttpResponse:
    """An entry in another slot: that whose number is given as ``to``, from 1."""
    to = number(request.POST, "to") - 1
    return edit_entry(request, pk, index, lambda plan: edits.move_entry(plan, index, to), "moved")


@editors
@require_POST
def window_copy(request: CrewRequest, pk: int, channel: int, index: int) -> HttpResponse:
    """A window twice."""
    return edit_unit(request, pk, lambda plan: edits.copy_window(plan, channel, index), "window copied")


@editors
@require_POST
def usual_program_add(request: CrewRequest, pk: int, channel: int) -> HttpResponse:
    """The windows of a usual program, added to a channel's."""
    chosen = usual_program(request.POST.get("program", ""))
    if chosen is None:
        raise Http404
    change = partial(edits.add_windows, channel=channel, windows=chosen.windows)
    return edit_unit(request, pk, change, f"usual program: {chosen.name}")


@editors
@require_POST
def preview(request: CrewRequest, pk: int, place: str) -> HttpResponse:
    """What the row would alter this year if it were kept as typed; nothing where it cannot be read yet."""
    unit = unit_of(request.crew, pk)
    view = chosen_view(unit.plan, request.POST, request.now)
    form = form_at(place, unit.plan, unit.head_revision.number, request.words, request.POST, view.keying)
    altered = alteration_lines(unit.plan, _in_its_set(form, view), view.year) if form.is_valid() else []
    return render(request, "units/plan/_preview.html", {"altered": altered, "valid": form.is_valid()})


def _in_its_set(form: WindowForm | EntryForm, view: View) -> edits.Edit:
    """A form's edit, on the keying that is shown where it is one of an entry."""
    return edits.on_set(view.keying, form.edit) if isinstance(form, EntryForm) else form.edit
