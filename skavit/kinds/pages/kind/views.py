"""The page of a kind, its file, and the order of its steps."""

import json

from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_POST

from skavit.core.kinds import Kind as CoreKind
from skavit.core.kinds.kind import SECTIONS
from skavit.crews.access import editors, members
from skavit.crews.request import CrewRequest
from skavit.kinds import selectors, services
from skavit.kinds.pages.edit.views import parts_of
from skavit.kinds.pages.kind.page import kind_page
from skavit.kinds.pages.play.page import trouble
from skavit.kinds.teaching import taught_lines


@members
@require_GET
def shipped(request: CrewRequest, slug: str) -> HttpResponse:
    """A kind that ships."""
    page = kind_page(selectors.shipped_kind(slug))
    return render(
        request,
        "kinds/kind.html",
        {"slug": slug, "play": reverse("kind-play", args=[slug]), "taught": taught_lines(request.crew, slug), **page},
    )


@members
@require_GET
def own(request: CrewRequest, pk: int) -> HttpResponse:
    """One of the crew's kinds, with its steps to be put in another order."""
    row = selectors.own_kind(request.crew, pk)
    page = kind_page(row.kind)
    steps = list(zip(row.kind.order, page["order"], strict=True))
    context = {"row": row, "steps": steps, "play": reverse("kind-own-play", args=[pk]), "wrong": trouble(row.kind)}
    context["taught"] = taught_lines(request.crew, pk)
    context["parts"] = parts_of(row.kind).items()
    return render(request, "kinds/kind.html", {**context, **page})


@editors
@require_POST
def order(request: CrewRequest, pk: int) -> HttpResponse:
    """Move one step up or down."""
    row = selectors.own_kind(request.crew, pk)
    section = request.POST.get("section", "")
    if section in SECTIONS and section in row.kind.order:
        services.move_step(request.membership, row, section, -1 if request.POST.get("by") == "up" else 1)
    return redirect("kind-own", pk=pk)


@members
@require_GET
def shipped_file(request: CrewRequest, slug: str) -> HttpResponse:
    """The file of a kind that ships."""
    return _file(selectors.shipped_kind(slug))


@members
@require_GET
def own_file(request: CrewRequest, pk: int) -> HttpResponse:
    """The file of one of the crew's kinds."""
    return _file(selectors.own_kind(request.crew, pk).kind)


def _file(kind: CoreKind) -> HttpResponse:
    text = json.dumps(kind.to_json(), indent=2, ensure_ascii=False)
    response = HttpResponse(text + "\n", content_type="application/json; charset=utf-8")
    response["Content-Disposition"] = f'attachment; filename="{kind.slug or "kind"}.json"'
    return response
