"""The library of kinds: look, copy one that ships, take one from a file."""

import json
from http import HTTPStatus

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_GET, require_POST

from skavit.core.formats import kind_schema
from skavit.core.ground.errors import UserError
from skavit.crews.access import editors, members
from skavit.crews.request import CrewRequest
from skavit.kinds import selectors, services
from skavit.kinds.pages.library.forms import KindFileForm


@members
@require_GET
def library(request: CrewRequest) -> HttpResponse:
    """The crew's kinds and those that ship."""
    return _library(request, KindFileForm())


def _library(request: CrewRequest, form: KindFileForm) -> HttpResponse:
    context = {"own": selectors.own_kinds(request.crew), "shipped": selectors.shipped(), "form": form}
    return render(
        request,
        "kinds/library.html",
        context,
        status=HTTPStatus.UNPROCESSABLE_ENTITY if form.is_bound else HTTPStatus.OK,
    )


@editors
@require_POST
def copy(request: CrewRequest, slug: str) -> HttpResponse:
    """A copy for the crew, opened to be adjusted."""
    row = services.add_kind(request.membership, selectors.shipped_kind(slug))
    return redirect("kind-edit", pk=row.pk)


@editors
@require_POST
def import_kind(request: CrewRequest) -> HttpResponse:
    """A kind from its file."""
    form = KindFileForm(request.POST, request.FILES)
    if not form.is_valid():
        return _library(request, form)
    try:
        row = services.import_kind(request.membership, form.cleaned_data["file"].read())
    except UserError as error:
        form.add_error("file", str(error))
        return _library(request, form)
    messages.success(request, f"{row.name} imported.")
    return redirect("kind-own", pk=row.pk)


@members
@require_GET
def schema(request: CrewRequest) -> HttpResponse:
    """The JSON Schema of the file of a kind."""
    return HttpResponse(json.dumps(kind_schema(), indent=2), content_type="application/schema+json")
