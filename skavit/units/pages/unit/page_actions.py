"""What the actions on a plan share: they run a service and show the work region of the page anew."""

from collections.abc import Callable
from typing import Any

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django_htmx.http import push_url

from skavit.core.ground.errors import UserError
from skavit.core.plan import edits
from skavit.core.text.error_text import error_text
from skavit.crews.request import CrewRequest
from skavit.units.models import Unit
from skavit.units.pages.post_data import revision
from skavit.units.pages.unit.frame import unit_frame
from skavit.units.pages.unit.parts import Forms
from skavit.units.pages.view import chosen_view
from skavit.units.selectors import unit_of
from skavit.units.services import revisions
from skavit.web.errors import Stale, status_of
from skavit.web.typed_fields import with_hidden


def show(request: CrewRequest, unit: Unit, *, forms: Forms | None = None, status: int = 200) -> HttpResponse:
    """The unit's page, or its work region alone for htmx."""
    query = request.POST if request.method == "POST" else request.GET
    view = chosen_view(unit.plan, query, request.now)
    frame = unit_frame(unit, view, request.words, request.now, forms, may_edit=request.membership.may_edit)
    if not request.htmx:
        return render(request, "units/unit.html", frame.context, status=status)
    # The address stays the page's own: that of an action cannot be reloaded.
    return push_url(render(request, frame.pages.work, frame.context, status=status), url=False)


def after(request: CrewRequest, unit: Unit) -> HttpResponse:
    """After a change: the work region for htmx, the page by redirect for a plain post."""
    if request.htmx:
        return show(request, unit)
    view = chosen_view(unit.plan, request.POST, request.now)
    return redirect(f"{reverse('unit', args=[unit.pk])}?{view.query}")


def apply(request: CrewRequest, unit: Unit, action: Callable[[], Any], forms: Forms | None = None) -> HttpResponse:
    """Run a service; a stale or impossible edit shows the newest page with what was typed still there."""
    try:
        action()
    except Stale as stale:
        return show_stale(request, unit, stale, forms or {})
    except UserError as error:
        messages.error(request, error_text(error))
        return show(request, unit, forms=forms, status=status_of(error))
    return after(request, unit)


def show_stale(request: CrewRequest, unit: Unit, stale: Stale, forms: Forms) -> HttpResponse:
    """Show the newest page, with the forms as they were typed; kept again, they change the newest plan."""
    messages.warning(request, str(stale))
    for form in forms.values():
        with_hidden(form, stale.made_from, stale.newest)
    return show(request, unit_of(request.crew, unit.pk), forms=forms, status=status_of(stale))


def edit_unit(request: CrewRequest, unit: Unit, change: edits.Edit, note: str) -> HttpResponse:
    """Edit a unit's plan, and show it."""
    base = revision(request.POST)
    return apply(request, unit, lambda: revisions.edit(unit, request.membership, base, change, note, now=request.now))
