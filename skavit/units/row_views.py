"""Rows of a unit's page: windows and entries added, changed, copied, moved and taken out."""

from functools import partial

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_http_methods, require_POST

from skavit.core.plan import edits
from skavit.core.plan.usual_programs import program
from skavit.crews.access import editors
from skavit.units import selectors, services
from skavit.units.rows import form_at
from skavit.units.sentences import EntryForm, WindowForm
from skavit.units.view import View, chosen_view, words_of
from skavit.units.work import UNPROCESSABLE, apply, edit_entries, edit_unit, number, revision, show


@editors
@require_http_methods(["GET", "POST"])
def row(request: HttpRequest, pk: int, place: str) -> HttpResponse:
    """The form of a window or an entry, for opening it in its place; and what it says, kept."""
    unit = selectors.unit_of(request.crew, pk)
    typed = request.POST if request.method == "POST" else None
    view = chosen_view(unit.plan, typed or request.GET)
    # The form stands for the page it opens in: were that page stale, so must the form be.
    shown = revision(request.GET) if "revision" in request.GET else unit.head.number
    form = form_at(place, unit.plan, shown, words_of(request), typed, view.keying)
    if typed is None:
        context = {"unit": unit, "form": form, "pick": request.GET.get("pick", ""), "view": view}
        return render(request, "units/_form.html", context)
    if not form.is_valid():
        return show(request, unit, forms={place: form}, status=UNPROCESSABLE)
    base = form.cleaned_data["revision"]
    return apply(
        request,
        unit,
        lambda: services.edit(unit, request.membership, base, _in_its_set(form, view), form.note),
        forms={place: form},
    )


@editors
@require_POST
def window_remove(request: HttpRequest, pk: int, channel: int, index: int) -> HttpResponse:
    """Take a window out."""
    return edit_unit(request, pk, lambda plan: edits.remove_window(plan, channel, index), "window removed")


@editors
@require_POST
def entry_remove(request: HttpRequest, pk: int, index: int) -> HttpResponse:
    """Clear a slot."""
    return edit_entries(request, pk, lambda plan: edits.remove_entry(plan, index), f"slot {index + 1} cleared")


@editors
@require_POST
def entry_copy(request: HttpRequest, pk: int, index: int) -> HttpResponse:
    """The same entry in one more slot."""
    return edit_entries(request, pk, lambda plan: edits.copy_entry(plan, index), f"slot {index + 1} copied")


@editors
@require_POST
def entry_move(request: HttpRequest, pk: int, index: int) -> HttpResponse:
    """An entry in another slot: that whose number is given as ``to``, from 1."""
    to = number(request.POST, "to") - 1
    return edit_entries(request, pk, lambda plan: edits.move_entry(plan, index, to), f"slot {index + 1} moved")


@editors
@require_POST
def window_copy(request: HttpRequest, pk: int, channel: int, index: int) -> HttpResponse:
    """A window twice."""
    return edit_unit(request, pk, lambda plan: edits.copy_window(plan, channel, index), "window copied")


@editors
@require_POST
def program_add(request: HttpRequest, pk: int, channel: int) -> HttpResponse:
    """The windows of a usual program, added to a channel's."""
    chosen = program(request.POST.get("program", ""))
    if chosen is None:
        raise Http404
    change = partial(edits.add_windows, channel=channel, windows=chosen.windows)
    return edit_unit(request, pk, change, f"program: {chosen.name}")


@editors
@require_POST
def preview(request: HttpRequest, pk: int, place: str) -> HttpResponse:
    """What the row would alter this year if it were kept as typed; nothing where it cannot be read yet."""
    unit = selectors.unit_of(request.crew, pk)
    view = chosen_view(unit.plan, request.POST)
    form = form_at(place, unit.plan, unit.head.number, words_of(request), request.POST, view.keying)
    altered = selectors.alteration_lines(unit.plan, _in_its_set(form, view), view.year) if form.is_valid() else []
    return render(request, "units/_preview.html", {"altered": altered, "valid": form.is_valid()})


def _in_its_set(form: WindowForm | EntryForm, view: View) -> edits.Edit:
    """A form's edit, on the keying that is shown where it is one of an entry."""
    return edits.on_set(view.keying, form.edit) if isinstance(form, EntryForm) else form.edit
