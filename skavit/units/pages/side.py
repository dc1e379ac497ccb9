"""The pages beside the plan: each belongs to a step of the unit's way, and shows the whole way at its head."""

from http import HTTPStatus
from typing import Any

from django.http import HttpResponse
from django.shortcuts import render

from skavit.crews.request import CrewRequest
from skavit.units.models import Unit
from skavit.units.pages.way import way


def side(
    request: CrewRequest, template: str, unit: Unit, step: str, context: dict[str, Any], status: int = HTTPStatus.OK
) -> HttpResponse:
    """A page of a unit that belongs to a step of its way."""
    found = way(unit, request.words, request.now, shown=step, may_edit=request.membership.may_edit)
    return render(request, template, {**context, "unit": unit, "way": found}, status=status)
