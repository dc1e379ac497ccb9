"""The page of a load: what hangs on a channel."""

from dataclasses import replace
from http import HTTPStatus

from django.contrib import messages
from django.http import Http404, HttpResponse, QueryDict
from django.shortcuts import redirect, render
from django.views.decorators.http import require_GET, require_POST

from skavit.core.ground.errors import UserError
from skavit.core.load import load_remedies
from skavit.core.plan.document import Plan
from skavit.core.plan.edits import Edit, EditError, with_load
from skavit.core.plan.load import Load
from skavit.core.text.error_text import error_text
from skavit.crews.access import editors, members
from skavit.crews.request import CrewRequest
from skavit.loads.pages.load.forms import LoadForm
from skavit.loads.pages.load.page import load_shown
from skavit.server.now import year_at
from skavit.units.computing import unit_year
from skavit.units.models import PlanRevision, Unit
from skavit.units.pages.post_data import number, revision
from skavit.units.pages.side_page import edit_by, side_page
from skavit.units.selectors import unit_of
from skavit.units.services import revisions
from skavit.web.errors import status_of
from skavit.web.page import shown
from skavit.web.saving import save_form


def _unit(request: CrewRequest, pk: int, channel: int) -> Unit:
    """One of the crew's units that has such a channel; 404 for any other."""
    unit = unit_of(request.crew, pk)
    if not 1 <= channel <= len(unit.plan.channels):
        raise Http404(channel)
    return unit


def _form(request: CrewRequest, unit: Unit, channel: int, typed: QueryDict | None) -> LoadForm:
    return LoadForm(typed, plan=unit.plan, channel=channel, words=request.words, revision=unit.head_revision.number)


def _context(request: CrewRequest, unit: Unit, channel: int, load: Load) -> dict[str, object]:
    found = unit_year(unit.plan, year_at(unit.plan.site, request.now))
    return shown(load_shown(load, unit, channel, found, request.words))


@members
@require_GET
def load(request: CrewRequest, pk: int, channel: int) -> HttpResponse:
    """What hangs on a channel."""
    unit = _unit(request, pk, channel)
    return _page(request, unit, channel, _form(request, unit, channel, None))


def _page(request: CrewRequest, unit: Unit, channel: int, form: LoadForm, status: int = HTTPStatus.OK) -> HttpResponse:
    kept = unit.plan.channels[channel - 1].load
    context = {"form": form, "channel": channel, "kept": kept} | _context(
        request, unit, channel, form.load or kept or Load()
    )
    return side_page(request, "loads/load.html", unit, "wanted", context, status)


@editors
@require_POST
def save(request: CrewRequest, pk: int, channel: int) -> HttpResponse:
    """Keep what hangs on a channel."""
    unit = _unit(request, pk, channel)
    form = _form(request, unit, channel, request.POST)
    note = f"load of {unit.plan.channels[channel - 1].name}"[:200]

    def then(_: PlanRevision) -> HttpResponse:
        messages.success(request, "Saved.")
        return redirect("load", pk=pk, channel=channel)

    return save_form(
        form,
        lambda: edit_by(request, unit, form, note),
        then,
        page=lambda status: _page(request, unit, channel, form, status),
    )


@editors
@require_POST
def preview(request: CrewRequest, pk: int, channel: int) -> HttpResponse:
    """The pictures and figures of the load as typed; nothing where it cannot be read yet."""
    unit = _unit(request, pk, channel)
    form = _form(request, unit, channel, request.POST)
    if not form.is_valid() or form.load is None:
        return HttpResponse(status=HTTPStatus.NO_CONTENT)
    context = {"unit": unit, "channel": channel, "typing": True} | _context(request, unit, channel, form.load)
    return render(request, "loads/_shown.html", context)


@editors
@require_POST
def take_remedy(request: CrewRequest, pk: int, channel: int) -> HttpResponse:
    """Take one of the ways that bring every lamp within its band."""
    unit = _unit(request, pk, channel)
    place = number(request.POST, "way")

    def change(plan: Plan) -> Plan:
        kept = plan.channels[channel - 1].load
        found = load_remedies(kept) if kept else ()
        if kept is None or not 0 <= place < len(found):
            raise EditError("this way is no longer there; accepted: one that the page shows")
        return with_load(plan, channel, replace(kept, run=found[place].run))

    return _edited(request, unit, channel, change, "run of lamps mended")


@editors
@require_POST
def remove(request: CrewRequest, pk: int, channel: int) -> HttpResponse:
    """Say nothing of the load any more."""
    unit = _unit(request, pk, channel)
    return _edited(request, unit, channel, lambda plan: with_load(plan, channel, None), "load removed")


def _edited(request: CrewRequest, unit: Unit, channel: int, change: Edit, note: str) -> HttpResponse:
    try:
        revisions.edit(unit, request.membership, revision(request.POST), change, note, now=request.now)
    except UserError as error:
        messages.error(request, error_text(error))
        unit = _unit(request, unit.pk, channel)
        return _page(request, unit, channel, _form(request, unit, channel, None), status_of(error))
    return redirect("load", pk=unit.pk, channel=channel)
