"""A kind played through, key by key."""

from django.http import HttpResponse
from django.shortcuts import render
from django.urls import reverse
from django.views.decorators.http import require_GET

from skavit.core.kinds import Kind as CoreKind
from skavit.crews.access import members
from skavit.crews.request import CrewRequest
from skavit.kinds import selectors
from skavit.kinds.pages.play.page import play_page
from skavit.web.page import shown


@members
@require_GET
def shipped_play(request: CrewRequest, slug: str) -> HttpResponse:
    """A kind that ships, played through key by key."""
    kind = selectors.shipped_kind(slug)
    return _play(request, kind, reverse("kind", args=[slug]))


@members
@require_GET
def own_play(request: CrewRequest, pk: int) -> HttpResponse:
    """One of the crew's kinds, played through key by key."""
    return _play(request, selectors.own_kind(request.crew, pk).kind, reverse("kind-own", args=[pk]))


def _play(request: CrewRequest, kind: CoreKind, back: str) -> HttpResponse:
    try:
        at = int(request.GET.get("at", 1))
    except ValueError:
        at = 1
    return render(request, "kinds/play.html", shown(play_page(kind, at, back)))
