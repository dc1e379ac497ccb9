"""What every request goes through: it is small enough, it is text, and what is refused is told in words."""

from collections.abc import Callable
from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render

from skavit.core.ground.errors import UserError
from skavit.core.text.error_text import error_text
from skavit.server.bounds import body_limit
from skavit.web.errors import status_of

NUL = "\x00"
BAD_REQUEST, TOO_LARGE = 400, 413


def refused(request: HttpRequest, words: str, status: int) -> HttpResponse:
    """A page that says what was refused; for htmx the words alone, which the page in hand shows."""
    if getattr(request, "htmx", False):
        response = HttpResponse(words, status=status, content_type="text/plain; charset=utf-8")
        response["HX-Reswap"] = "none"
        return response
    return render(request, "refused.html", {"words": words}, status=status)


def sent_bytes(request: HttpRequest) -> int:
    """How long the body of a request is, as its head says; 0 where that says nothing that is a number."""
    try:
        return int(request.META.get("CONTENT_LENGTH") or 0)
    except ValueError:
        return 0


class PrivateMiddleware:
    """Answers are for whoever asked: no proxy keeps them, and no browser once its person has logged out.

    Static files never come here; the sheets that a phone keeps for places without signal are kept by its own script.
    """

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Say so in the answer."""
        response = self.get_response(request)
        response.headers["Cache-Control"] = "private, no-store"
        return response


class RefusingMiddleware:
    """Stands behind the login: who sends how much is known here."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Refuse a body that is too large before anything reads it."""
        most = body_limit(request.path, logged_in=request.user.is_authenticated)
        length = sent_bytes(request)
        if length > most:
            return refused(request, f"{length:,} bytes are too much here. Accepted: at most {most:,}.", TOO_LARGE)
        return self.get_response(request)

    def process_view(self, request: HttpRequest, *args: Any) -> HttpResponse | None:
        """Refuse the one character that is no text to the database."""
        for typed in (request.GET, request.POST):
            if any(NUL in name or any(NUL in value for value in values) for name, values in typed.lists()):
                return refused(
                    request, "A character was sent that is no text. Accepted: letters, digits, signs.", BAD_REQUEST
                )
        return None

    def process_exception(self, request: HttpRequest, exception: Exception) -> HttpResponse | None:
        """What was refused and no page has caught, in its own words."""
        if isinstance(exception, UserError):
            return refused(request, error_text(exception), status_of(exception))
        return None
