"""The pages beside the plan: each belongs to a step of the unit's way, and shows the whole way at its head."""

from http import HTTPStatus
from typing import Any, Protocol

from django.http import HttpResponse
from django.shortcuts import redirect, render

from skavit.core.plan.document import Plan
from skavit.crews.request import CrewRequest
from skavit.units.models import PlanRevision, Unit
from skavit.units.pages.progress import progress
from skavit.units.services import revisions
from skavit.web.saving import save_form


def side_page(
    request: CrewRequest, template: str, unit: Unit, step: str, context: dict[str, Any], status: int = HTTPStatus.OK
) -> HttpResponse:
    """A page of a unit that belongs to a step of its way."""
    found = progress(unit, request.words, request.now, shown=step, may_edit=request.membership.may_edit)
    return render(request, template, {**context, "unit": unit, "progress": found}, status=status)


class EditForm(Protocol):
    """A form that edits a plan of the revision that it carries."""

    cleaned_data: dict[str, Any]

    def edit(self, plan: Plan) -> Plan:
        """The plan as the form has it."""
        ...


def save_side_page(
    request: CrewRequest, unit: Unit, form: Any, note: str, template: str, step: str, context: dict[str, Any]
) -> HttpResponse:
    """Show a side page with a form of the plan, or save it and go to the unit; ``note`` is what its revision says."""
    return save_form(
        form,
        lambda: edit_by(request, unit, form, note),
        then=lambda _: redirect("unit", pk=unit.pk),
        page=lambda status: side_page(request, template, unit, step, context, status),
    )


def edit_by(request: CrewRequest, unit: Unit, form: EditForm, note: str) -> PlanRevision:
    """Edit a unit's plan as a valid form says. Raises :class:`UserError`."""
    base = form.cleaned_data["revision"]
    return revisions.edit(unit, request.membership, base, form.edit, note, now=request.now)
