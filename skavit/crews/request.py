"""What every request of a person in a crew carries."""

from collections.abc import Callable
from datetime import datetime

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.utils import translation
from django.utils.cache import patch_vary_headers
from django_htmx.middleware import HtmxDetails

from skavit.core.text.wording import PLAIN, Words
from skavit.crews.models import Crew, Membership, User
from skavit.server.now import read_instant


class CrewRequest(HttpRequest):
    """A request of a member. :class:`CrewMiddleware` sets what it has beside Django's own; views name it as their type."""

    user: User
    membership: Membership
    crew: Crew
    words: Words  # how the crew wants its times
    instant: datetime  # when it came; the time is read once
    now: int  # the same in whole seconds of UTC since 1970
    htmx: HtmxDetails


class LanguageMiddleware:
    """The language that a person has chosen, else English; before the login the one that the browser asks for."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer in it."""
        if request.user.is_authenticated:
            language = request.user.language or settings.LANGUAGE_CODE
        else:
            language = translation.get_language_from_request(request)
        with translation.override(language):
            response = self.get_response(request)
            response.headers.setdefault("Content-Language", translation.get_language() or "")
        if not request.user.is_authenticated:
            patch_vary_headers(response, ("Accept-Language",))
        return response


class CrewMiddleware:
    """Finds the crew that a request is for, and reads the time.

    ``membership`` and ``crew`` are None for people who are in no crew; :mod:`skavit.crews.access` lets those
    into no view that asks for them.
    """

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Find the membership, then go on."""
        membership = None
        if request.user.is_authenticated:
            people = Membership.objects.filter(user=request.user, left=None)
            membership = people.select_related("crew", "user").first()
        crew = membership.crew if membership else None
        instant = read_instant()
        request.__dict__ |= {
            "membership": membership,
            "crew": crew,
            "words": crew.words if crew else PLAIN,
            "instant": instant,
            "now": int(instant.timestamp()),
        }
        return self.get_response(request)
