"""Writing down what was done to a unit by hand, and taking a line out again."""

from functools import partial
from http import HTTPStatus

from django.http import HttpResponse
from django.views.decorators.http import require_POST

from skavit.core.plan import edits
from skavit.crews.access import editors
from skavit.crews.request import CrewRequest
from skavit.now import today_at
from skavit.typed_fields import tell_today
from skavit.units.models import Unit
from skavit.units.pages.plan.acting import apply, edit_unit, show
from skavit.units.pages.plan.by_hand_form import ByHandForm, LineForm
from skavit.units.selectors import unit_of
from skavit.units.services import revisions


@editors
@require_POST
def add(request: CrewRequest, pk: int) -> HttpResponse:
    """One more line."""
    unit = unit_of(request.crew, pk)
    return add_line(request, unit, ByHandForm(request.POST, plan=unit.plan))


def add_line(request: CrewRequest, unit: Unit, form: LineForm) -> HttpResponse:
    """Write down what a form says was done; refused, it stands open with what was typed."""
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
def remove(request: CrewRequest, pk: int, index: int) -> HttpResponse:
    """Take a line out."""
    return edit_unit(request, pk, partial(edits.remove_override, index=index), "done by hand, removed")
