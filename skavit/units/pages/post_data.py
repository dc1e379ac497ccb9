"""What the pages of units read from a form that was posted, and how they begin background work."""

from collections.abc import Callable

from django.contrib import messages
from django.http import HttpResponse, QueryDict
from django.shortcuts import redirect
from django.urls import reverse
from django_htmx.http import HttpResponseClientRedirect

from skavit.background.models import Job
from skavit.core.ground.errors import UserError
from skavit.core.text.error_text import error_text
from skavit.crews.request import CrewRequest


def to_job(request: CrewRequest, ask: Callable[[], Job]) -> HttpResponse:
    """Begin background work and show how far it is; where there is too much of it, say so where one came from."""
    try:
        job = ask()
    except UserError as error:
        messages.error(request, error_text(error))
        return redirect(request.headers.get("HX-Current-URL") or request.META.get("HTTP_REFERER") or "round")
    if request.htmx:
        return HttpResponseClientRedirect(reverse("job", args=[job.pk]))
    return redirect("job", pk=job.pk)


def by_script(request: CrewRequest) -> bool:
    """Return whether the page's own script asks: it reads JSON, and shows the answer itself."""
    return request.headers.get("Accept") == "application/json"


MOST_NUMBER = 2**53  # what a script sends as a whole number


def number(query: QueryDict, name: str) -> int:
    """A whole number that was sent; -1 where there is none, or one that no row has."""
    return whole(query.get(name, ""))


def whole(text: str) -> int:
    """A whole number from text; -1 where it is none, or one that no row has."""
    try:
        found = int(text)
    except ValueError:
        return -1
    return found if abs(found) <= MOST_NUMBER else -1


def revision(query: QueryDict) -> int:
    """The revision that was edited; -1, older than any and so stale, where there is none."""
    return number(query, "revision")
