"""Requests handed to the worker: put down, taken up, answered, and fetched by whoever asked."""

import secrets
from datetime import timedelta
from hashlib import sha256
from http import HTTPStatus

from django.db.models import Q
from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from procrastinate.contrib.django import app as queue

from skavit.apart.models import Asked, State
from skavit.server.bounds import Busy

QUEUE, TASK = "pages", "skavit.apart.answer"
KEPT = timedelta(minutes=10)
# An answer to somebody who looks stands for so long, and for nobody who has not come for it for so long is it worked out.
FRESH, GONE = timedelta(seconds=20), timedelta(seconds=30)
MOST_OF_ONE, MOST_IN_ALL = 12, 200
OPEN = (State.WAITING, State.RUNNING)
LOOKING = ("GET", "HEAD")
# Of a request's environment what the application reads.
TAKEN = {"REQUEST_METHOD", "PATH_INFO", "QUERY_STRING", "SCRIPT_NAME", "CONTENT_TYPE", "REMOTE_ADDR", "SERVER_NAME"}
TAKEN |= {"SERVER_PORT", "SERVER_PROTOCOL", "wsgi.url_scheme"}
NOT_TAKEN = {"HTTP_ACCEPT_ENCODING"}
BEFORE_IT = ("Content-Length", "Content-Encoding")
STOPPED = "The worker was stopped while it did this. Look whether it was done before you ask for it again."
WORDS = (
    "This plan takes more time or memory to work out than a page may. Accepted: fewer entries, or this one again later."
)


def join(request: HttpRequest) -> Asked:
    """The request, handed to the worker; where the same person looks at the same already, that one.

    Raises :class:`Busy` where too much is waiting.
    """
    now, who = timezone.now(), _who(request)
    Asked.objects.filter(created__lt=now - KEPT).delete()
    if same := joined(request):
        return same
    waiting = Asked.objects.filter(state__in=OPEN)
    if waiting.filter(who=who).count() >= MOST_OF_ONE or waiting.count() >= MOST_IN_ALL:
        raise Busy("The server is at work on other large plans. Accepted: the same again in a moment.")
    asked = Asked.objects.create(
        secret=secrets.token_urlsafe(32),
        who=who,
        what=_what(request),
        meta=_meta(request),
        sent=request.body,
        seen=now,
    )
    queue.configure_task(TASK, queue=QUEUE).defer(pk=asked.pk)
    return asked


def joined(request: HttpRequest) -> Asked | None:
    """What the same person looks at already, or has just been answered; None where it is asked for anew."""
    if not (what := _what(request)):
        return None
    same = Asked.objects.filter(who=_who(request), what=what)
    return same.filter(Q(state__in=OPEN) | Q(ended__gt=timezone.now() - FRESH)).order_by("-pk").first()


def asked_before(request: HttpRequest, secret: str) -> Asked | None:
    """The request of that secret, by the same person."""
    return Asked.objects.filter(secret=secret, who=_who(request)).first()


def come_for(asked: Asked) -> None:
    """Put down that somebody came for the answer."""
    Asked.objects.filter(pk=asked.pk).update(seen=timezone.now())


def look_again(asked: Asked) -> Asked:
    """The newest state of a request."""
    if Asked.objects.filter(pk=asked.pk, state__in=OPEN).exists():
        return asked
    return Asked.objects.get(pk=asked.pk)


def before_it(asked: Asked) -> int:
    """How many others the worker answers first."""
    return Asked.objects.filter(state__in=OPEN, pk__lt=asked.pk).count()


def nobody_works(asked: Asked) -> bool:
    """Whether no worker seems to be there: it waits, and nothing is being done or was done lately."""
    late = timezone.now() - GONE
    waits = asked.state == State.WAITING and asked.created < late
    return waits and not Asked.objects.filter(Q(state=State.RUNNING) | Q(ended__gt=late)).exists()


def answer_of(asked: Asked) -> HttpResponse:
    """What the worker answered, for whoever asked."""
    response = HttpResponse(bytes(asked.answer), status=asked.status)
    del response.headers["Content-Type"]
    for name, value in asked.headers:
        response.headers[name] = value
    for cookie in asked.cookies:
        response.cookies.load(cookie)
    if asked.what:
        asked.delete()  # looked at: the next look is worked out anew
    return response


def take_up(pk: int) -> Asked | None:
    """A request to be answered now; None where nobody waits for it any more, or another worker has it."""
    waiting = Asked.objects.filter(pk=pk, state=State.WAITING)
    if waiting.exclude(what="").filter(seen__lt=timezone.now() - GONE).delete()[0]:
        return None
    if waiting.update(state=State.RUNNING):
        return Asked.objects.get(pk=pk)
    # Begun by a worker that is there no more: looking is done again, more than looking might be done twice.
    lost = Asked.objects.filter(pk=pk, state=State.RUNNING).first()
    if lost is not None and not lost.what:
        refuse(pk, STOPPED)
        return None
    return lost


def finish(pk: int, status: int, headers: list[tuple[str, str]], cookies: list[str], answer: bytes) -> None:
    """Put down the answer; of the request nothing is kept."""
    Asked.objects.filter(pk=pk).update(
        state=State.ENDED,
        status=status,
        headers=[pair for pair in headers if pair[0] not in BEFORE_IT],
        cookies=cookies,
        answer=answer,
        ended=timezone.now(),
        meta={},
        sent=b"",
    )


def refuse(pk: int, words: str) -> None:
    """Put down why there is no answer."""
    finish(
        pk,
        HTTPStatus.SERVICE_UNAVAILABLE,
        [("Content-Type", "text/plain; charset=utf-8"), ("HX-Reswap", "none")],
        [],
        words.encode(),
    )


def _who(request: HttpRequest) -> str:
    session = request.session.session_key or ""
    return _hash(session, request.headers.get("Authorization", ""))


def _what(request: HttpRequest) -> str:
    if request.method not in LOOKING:
        return ""
    how = (request.headers.get(name, "") for name in ("HX-Request", "Accept", "Accept-Language"))
    return _hash(request.method, request.get_full_path(), *how)


def _hash(*parts: str) -> str:
    return sha256("\n".join(parts).encode()).hexdigest()


def _meta(request: HttpRequest) -> dict[str, str]:
    return {
        name: value
        for name, value in request.META.items()
        if isinstance(value, str) and name not in NOT_TAKEN and (name in TAKEN or name.startswith("HTTP_"))
    }
