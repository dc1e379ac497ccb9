"""The page of a unit's codes."""

from http import HTTPStatus

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils.cache import add_never_cache_headers
from django.views.decorators.http import require_GET, require_POST

from skavit.codes import services
from skavit.codes.forms import USUAL, CodeForm
from skavit.codes.sealing import NoKey, OtherKey, can_seal
from skavit.crews.access import editors
from skavit.crews.request import CrewRequest
from skavit.server.now import local_datetime_text
from skavit.units.models import Unit
from skavit.units.selectors import unit_of
from skavit.web.errors import TooMany

ACTS_TOLD = 30


@editors
@require_GET
def codes(request: CrewRequest, pk: int) -> HttpResponse:
    """Which codes there are; what they are, only on request."""
    return _show(request, unit_of(request.crew, pk), CodeForm())


def _show(
    request: CrewRequest, unit: Unit, form: CodeForm, *, shown: int = 0, code: str = "", status: int = HTTPStatus.OK
) -> HttpResponse:
    acts = unit.code_acts.select_related("by")[:ACTS_TOLD]
    context = {
        "unit": unit,
        "form": form,
        "codes": unit.codes.all(),
        "shown": shown,
        "code": code,
        "acts": [(act, local_datetime_text(unit.site.place, act.at, request.words)) for act in acts],
        "can_seal": can_seal(),
        "usual": USUAL,
    }
    answer = render(request, "codes/codes.html", context, status=status)
    add_never_cache_headers(answer)
    return answer


@editors
@require_POST
def code_keep(request: CrewRequest, pk: int) -> HttpResponse:
    """Keep a code."""
    unit, form = unit_of(request.crew, pk), CodeForm(request.POST)
    if not form.is_valid():
        return _show(request, unit, form, status=HTTPStatus.UNPROCESSABLE_ENTITY)
    try:
        services.keep_code(unit, request.membership, instant=request.instant, **form.cleaned_data)
    except (TooMany, NoKey) as error:
        form.add_error(None, str(error))
        return _show(request, unit, form, status=HTTPStatus.UNPROCESSABLE_ENTITY)
    messages.success(request, f"{form.cleaned_data['name']} is kept, sealed.")
    return redirect("codes", pk=pk)


@editors
@require_POST
def code_show(request: CrewRequest, pk: int, record_pk: int) -> HttpResponse:
    """Show a code, this once."""
    unit = unit_of(request.crew, pk)
    found = get_object_or_404(unit.codes, pk=record_pk)
    try:
        text = services.show_code(found, request.membership, request.instant)
    except (NoKey, OtherKey) as error:
        messages.error(request, str(error))
        return redirect("codes", pk=pk)
    return _show(request, unit, CodeForm(), shown=found.pk, code=text)


@editors
@require_POST
def code_away(request: CrewRequest, pk: int, record_pk: int) -> HttpResponse:
    """Take a code away."""
    found = get_object_or_404(unit_of(request.crew, pk).codes, pk=record_pk)
    services.take_away(found, request.membership, request.instant)
    messages.success(request, f"{found.name} is taken away.")
    return redirect("codes", pk=pk)
