"""Other ways to fit, side by side; the one that is taken is keyed."""

from http import HTTPStatus

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect
from django.views.decorators.http import require_GET, require_POST

from skavit.core.ground.errors import UserError
from skavit.core.text.error_text import error_text
from skavit.crews.access import editors, members
from skavit.crews.request import CrewRequest
from skavit.units.models import Unit
from skavit.units.pages.post_data import number, revision, to_job
from skavit.units.pages.side_page import side_page
from skavit.units.selectors import unit_of
from skavit.units.services import fitting, revisions
from skavit.units.trades import FitOption, pages_of
from skavit.web.errors import status_of


@members
@require_GET
def options(request: CrewRequest, pk: int) -> HttpResponse:
    """What the unit could hold, side by side."""
    return _page(request, unit_of(request.crew, pk))


def _page(request: CrewRequest, unit: Unit, refused: str = "", status: HTTPStatus = HTTPStatus.OK) -> HttpResponse:
    found: list[FitOption] | None = []
    try:
        found = fitting.options_of(unit, request.words, request.now)
    except UserError as error:
        refused, status = refused or error_text(error), HTTPStatus.UNPROCESSABLE_ENTITY
    context = {"options": found, "refused": refused, "help": pages_of(unit.plan).options_help}
    return side_page(request, "units/options/options.html", unit, "keyed", context, status)


@editors
@require_POST
def option_take(request: CrewRequest, pk: int) -> HttpResponse:
    """Key one of them."""
    unit = unit_of(request.crew, pk)
    try:
        found, index = fitting.options_of(unit, request.words, request.now) or [], number(request.POST, "option")
        if not 0 <= index < len(found):
            raise Http404
        chosen = found[index]
        note = f"{pages_of(unit.plan).fit_note}: {chosen.name.lower()}"
        revisions.edit(unit, request.membership, revision(request.POST), lambda _: chosen.plan, note, now=request.now)
    except UserError as error:
        return _page(request, unit_of(request.crew, pk), error_text(error), status_of(error))
    messages.success(request, f"Keyed: {chosen.name.lower()}.")
    return redirect("unit", pk=pk)


@editors
@require_POST
def options_ask(request: CrewRequest, pk: int) -> HttpResponse:
    """Have the ways to fit worked out in the background."""
    unit = unit_of(request.crew, pk)
    return to_job(request, lambda: fitting.ask_options(unit, request.membership))
