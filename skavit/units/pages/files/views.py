"""Plan files out and in, and their schema."""

import json
from http import HTTPStatus
from typing import Any

from django.contrib import messages
from django.http import HttpResponse
from django.utils.text import slugify
from django.views.decorators.http import require_GET, require_POST

from skavit.core.formats import plan_schema
from skavit.core.ground.errors import UserError
from skavit.crews.access import editors, members
from skavit.crews.request import CrewRequest
from skavit.server.bounds import IMPORT_AT_ONCE_BYTES
from skavit.units.pages.post_data import to_job
from skavit.units.pages.unit.page_actions import after, show
from skavit.units.pages.unit.parts import ImportForm
from skavit.units.selectors import unit_of
from skavit.units.services import files
from skavit.units.services.files import ask_import
from skavit.web.errors import status_of
from skavit.web.typed_fields import with_hidden


@members
@require_GET
def export(request: CrewRequest, pk: int) -> HttpResponse:
    """The plan file."""
    unit = unit_of(request.crew, pk)
    return plan_file(unit.plan.to_json(), f"{unit.site.name} {unit.name}")


def plan_file(document: dict[str, Any], called: str) -> HttpResponse:
    """A plan as a file to keep."""
    text = json.dumps(document, indent=2, ensure_ascii=False)
    response = HttpResponse(text + "\n", content_type="application/json; charset=utf-8")
    name = slugify(called) or "plan"
    response["Content-Disposition"] = f'attachment; filename="{name}.json"'
    return response


@editors
@require_POST
def import_plan(request: CrewRequest, pk: int) -> HttpResponse:
    """Take the unit and the channels of a plan file."""
    unit = unit_of(request.crew, pk)
    form = ImportForm(request.POST, request.FILES)
    if not form.is_valid():
        return show(request, unit, forms={"import": form}, status=HTTPStatus.UNPROCESSABLE_ENTITY)
    data, base = form.cleaned_data["file"].read(), form.cleaned_data["revision"]
    if len(data) > IMPORT_AT_ONCE_BYTES:
        return to_job(request, lambda: ask_import(unit, request.membership, base, data))
    try:
        files.import_plan(unit, request.membership, base, data, now=request.now)
    except UserError as error:
        form.add_error("file", str(error))
        unit = unit_of(request.crew, pk)
        with_hidden(form, "revision", unit.head_revision.number)
        return show(request, unit, forms={"import": form}, status=status_of(error))
    messages.success(request, files.IMPORTED)
    return after(request, unit)


@members
@require_GET
def schema(request: CrewRequest) -> HttpResponse:
    """The JSON Schema of the plan file."""
    return HttpResponse(json.dumps(plan_schema(), indent=2), content_type="application/schema+json")
