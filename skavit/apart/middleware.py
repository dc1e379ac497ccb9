"""Requests that take long are handed to the worker; who asked waits a moment, then sees how far it is."""

import time
from collections.abc import Callable
from http import HTTPStatus
from threading import BoundedSemaphore

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse

from skavit.apart import services
from skavit.apart.models import Asked, State
from skavit.apart.switch import TakesLong
from skavit.server.bounds import BODY_OF_A_FILE, Busy
from skavit.server.turns import waiting
from skavit.web.errors import status_of
from skavit.web.middleware import refused, sent_bytes

# So long a page waits before it says how far it is; so long a script, which cannot.
PAGE_S, SCRIPT_S = 2.0, 50.0
LOOK_S = 0.1
# So many scripts of a process wait: the other threads are for people.
_SCRIPTS = BoundedSemaphore(5)
# A page that waits asks again by itself, with or without a script.
AGAIN_S = 1
# Set on the page that waits, so that asking again costs a look at the queue and nothing else.
WAITS = "skavit_waits"


class ApartMiddleware:
    """Stands innermost: it hands on what a view has left to the worker."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Where the page's script comes for an answer, that; else the view's."""
        if secret := request.headers.get("Skavit-Answer"):
            asked = services.asked_before(request, secret)
            return gone(request) if asked is None else answer(request, asked)
        if WAITS in request.COOKIES and (asked := services.joined(request)):
            return answer(request, asked)  # the view would only find out anew that its plan is large
        if request.method not in services.LOOKING and sent_bytes(request) <= BODY_OF_A_FILE:
            _ = request.body  # while it can still be read as a whole; a photo is no plan
        return self.get_response(request)

    def process_exception(self, request: HttpRequest, exception: Exception) -> HttpResponse | None:
        """Hand it to the worker."""
        if not isinstance(exception, TakesLong):
            return None
        try:
            return answer(request, services.join(request))
        except Busy as busy:
            return refused(request, str(busy), status_of(busy))


def gone(request: HttpRequest) -> HttpResponse:
    """What is said where the answer has gone."""
    return refused(request, "This took too long to come for. Open the page again to see what stands.", HTTPStatus.GONE)


def answer(request: HttpRequest, asked: Asked) -> HttpResponse:
    """The worker's answer, where it comes soon; else how far it is."""
    by_script = "Skavit-Waits" in request.headers
    if not by_script and "text/html" not in request.headers.get("Accept", ""):
        return _whole(request, asked)
    age = time.time() - asked.created.timestamp()
    asked = _wait(asked, max(PAGE_S - age, LOOK_S))
    if asked.state == State.ENDED:
        return _given(request, asked)
    if not by_script and not asked.what and request.path != (there := reverse("working", args=[asked.secret])):
        return redirect(there)
    context = {"before": services.before_it(asked), "idle": services.nobody_works(asked), "seconds": round(age)}
    page = "working" if request.user.is_authenticated else "working_link"
    response = render(request, f"apart/{'_working' if by_script else page}.html", context, status=HTTPStatus.ACCEPTED)
    if by_script:
        response.headers["Skavit-Answer"] = asked.secret
    else:
        response.headers["Refresh"] = str(AGAIN_S)
        response.set_cookie(
            WAITS, "1", max_age=services.KEPT, path=request.path, httponly=True, samesite="Lax", secure=settings.HTTPS
        )
    return response


def _wait(asked: Asked, seconds: float) -> Asked:
    until = time.monotonic() + seconds
    services.come_for(asked)
    with waiting():
        while True:
            asked = services.look_again(asked)
            if asked.state == State.ENDED or time.monotonic() > until:
                return asked
            time.sleep(LOOK_S)


def _whole(request: HttpRequest, asked: Asked) -> HttpResponse:
    """A script that cannot be told to come again waits for all of it."""
    if not _SCRIPTS.acquire(blocking=False):
        return refused(request, services.WORDS, HTTPStatus.SERVICE_UNAVAILABLE)
    try:
        asked = _wait(asked, SCRIPT_S)
    finally:
        _SCRIPTS.release()
    return (
        _given(request, asked)
        if asked.state == State.ENDED
        else refused(request, services.WORDS, HTTPStatus.SERVICE_UNAVAILABLE)
    )


def _given(request: HttpRequest, asked: Asked) -> HttpResponse:
    """The answer; words alone become a page where a page was asked for."""
    response = services.answer_of(asked)
    if WAITS in request.COOKIES:
        response.delete_cookie(WAITS, path=request.path, samesite="Lax")
    plain = response.headers.get("Content-Type", "").startswith("text/plain")
    if response.status_code == HTTPStatus.SERVICE_UNAVAILABLE and plain and "Skavit-Waits" not in request.headers:
        return refused(request, response.text, HTTPStatus.SERVICE_UNAVAILABLE)
    return response
