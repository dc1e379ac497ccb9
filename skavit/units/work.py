"""What the actions of a unit share: they run a service and show the work region of its page anew."""

from collections.abc import Callable
from typing import Any

from django.contrib import messages
from django.http import HttpRequest, HttpResponse, QueryDict
from django.shortcuts import redirect, render
from django.urls import reverse
from django_htmx.http import HttpResponseClientRedirect, push_url

from skavit.background.models import Job
from skavit.core.ground.errors import SkavitError
from skavit.core.plan import edits
from skavit.units import selectors, services
from skavit.units.models import Unit
from skavit.units.results import in_turn
from skavit.units.rows import Forms
from skavit.units.view import chosen_view, words_of

UNPROCESSABLE, CONFLICT = 422, 409


def show(request: HttpRequest, unit: Unit, *, forms: Forms | None = None, status: int = 200) -> HttpResponse:
    """The unit's page, or its work region alone for htmx."""
    query = request.POST if request.method == "POST" else request.GET
    view = chosen_view(unit.plan, query)
    with in_turn(unit.plan):
        context = selectors.unit_page(unit, view, words_of(request), forms)
        if not request.htmx:
            return render(request, "units/unit.html", context, status=status)
        # The address stays the page's own: that of an action cannot be reloaded.
        return push_url(render(request, "units/_unit_work.html", context, status=status), url=False)


def after(request: HttpRequest, unit: Unit) -> HttpResponse:
    """After a change: the work region for htmx, the page by redirect for a plain post."""
    if request.htmx:
        return show(request, unit)
    view = chosen_view(unit.plan, request.POST)
    return redirect(f"{reverse('unit', args=[unit.pk])}?{view.query}")


def apply(
    request: HttpRequest,
    unit: Unit,
    action: Callable[[], Any],
    forms: Forms | None = None,
) -> HttpResponse:
    """Run a service; a stale or impossible edit shows the newest page with what was typed still there."""
    try:
        action()
    except services.StaleEdit as stale:
        messages.warning(request, str(stale))
        unit = selectors.unit_of(request.crew, unit.pk)
        for form in (forms or {}).values():
            form.data = form.data.copy()
            form.data["revision"] = unit.head.number
        return show(request, unit, forms=forms, status=CONFLICT)
    except (SkavitError, services.NothingTo) as error:
        messages.error(request, str(error))
        return show(request, unit, forms=forms, status=UNPROCESSABLE)
    return after(request, unit)


def to_job(request: HttpRequest, ask: Callable[[], Job]) -> HttpResponse:
    """Begin background work and show how far it is; where there is too much of it, say so where one came from."""
    try:
        job = ask()
    except SkavitError as error:
        messages.error(request, str(error))
        return redirect(request.headers.get("HX-Current-URL") or request.META.get("HTTP_REFERER") or "round")
    if request.htmx:
        return HttpResponseClientRedirect(reverse("job", args=[job.pk]))
    return redirect("job", pk=job.pk)


def number(query: QueryDict, name: str) -> int:
    """A whole number that was sent; -1 where there is none."""
    try:
        return int(query.get(name, ""))
    except ValueError:
        return -1


def revision(query: QueryDict) -> int:
    """The revision that was edited; -1, older than any and so stale, where there is none."""
    return number(query, "revision")


def edit_unit(request: HttpRequest, pk: int, change: edits.Edit, note: str) -> HttpResponse:
    """Edit the plan of one of the crew's units, and show it."""
    unit = selectors.unit_of(request.crew, pk)
    base = revision(request.POST)
    return apply(request, unit, lambda: services.edit(unit, request.membership, base, change, note))


def edit_entries(request: HttpRequest, pk: int, change: edits.Edit, note: str) -> HttpResponse:
    """The same with an edit of the entries of the keying that is shown."""
    unit = selectors.unit_of(request.crew, pk)
    keying = chosen_view(unit.plan, request.POST).keying
    return edit_unit(request, pk, edits.on_set(keying, change), note)
