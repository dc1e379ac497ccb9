"""What the actions on a plan share: they run a service and show the work region of the page anew."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, Protocol

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django_htmx.http import push_url

from skavit.core.ground.errors import UserError
from skavit.core.plan import edits
from skavit.core.plan.document import Plan
from skavit.core.plan.sorts import Sort
from skavit.core.text.told import told
from skavit.core.text.wording import Words
from skavit.crews.request import CrewRequest
from skavit.errors import Stale, status_of
from skavit.page import shown
from skavit.typed_fields import with_hidden
from skavit.units.models import Unit
from skavit.units.pages.numbered import slot_words
from skavit.units.pages.plan.page import unit_page
from skavit.units.pages.plan.rows import Forms, form_at
from skavit.units.pages.posted import revision
from skavit.units.pages.view import View, chosen_view
from skavit.units.selectors import unit_of
from skavit.units.services import revisions

if TYPE_CHECKING:
    from _typeshed import DataclassInstance


class PageOf(Protocol):
    """What a unit's page shows, for the templates."""

    def __call__(
        self, unit: Unit, view: View, words: Words, now: int, forms: Forms | None = None, *, may_edit: bool = True
    ) -> "DataclassInstance":
        """All of it; ``forms`` are those open by their place, refused ones with what was typed."""
        ...


class FormAt(Protocol):
    """Makes the form of a row's place, empty or with what was typed; 404 for no such place."""

    def __call__(self, place: str, plan: Plan, revision: int, words: Words, data: Any = None) -> Any:
        """The form."""
        ...


@dataclass(frozen=True, slots=True, kw_only=True)
class UnitShows:
    """The page of one sort of unit, and its templates: whole, and the work region alone."""

    page: PageOf
    whole: str
    work: str
    form_at: FormAt  # of a row's place


SWITCHING = UnitShows(page=unit_page, whole="units/plan/unit.html", work="units/plan/_unit_work.html", form_at=form_at)
# The page of each sort of unit; the app of a sort puts its own down.
SHOWN_BY: dict[Sort, UnitShows] = {Sort.SWITCHES: SWITCHING}


def show(request: CrewRequest, unit: Unit, *, forms: Forms | None = None, status: int = 200) -> HttpResponse:
    """The unit's page, or its work region alone for htmx."""
    query = request.POST if request.method == "POST" else request.GET
    view = chosen_view(unit.plan, query, request.now)
    shows = SHOWN_BY[unit.plan.sort]
    page = shows.page(unit, view, request.words, request.now, forms, may_edit=request.membership.may_edit)
    if not request.htmx:
        return render(request, shows.whole, shown(page), status=status)
    # The address stays the page's own: that of an action cannot be reloaded.
    return push_url(render(request, shows.work, shown(page), status=status), url=False)


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
        messages.warning(request, str(stale))
        unit = unit_of(request.crew, unit.pk)
        for form in (forms or {}).values():
            with_hidden(form, stale.made_from, stale.newest)
        return show(request, unit, forms=forms, status=status_of(stale))
    except UserError as error:
        messages.error(request, told(error))
        return show(request, unit, forms=forms, status=status_of(error))
    return after(request, unit)


def edit_unit(request: CrewRequest, pk: int, change: edits.Edit, note: str) -> HttpResponse:
    """Edit the plan of one of the crew's units, and show it."""
    return _edit(request, unit_of(request.crew, pk), change, note)


def edit_entry(request: CrewRequest, pk: int, index: int, change: edits.Edit, done: str) -> HttpResponse:
    """The same with an edit of an entry (from 0) of the keying that is shown; ``done`` is what it is then called."""
    unit = unit_of(request.crew, pk)
    keying = chosen_view(unit.plan, request.POST, request.now).keying
    name = slot_words(unit.plan, request.words, keying).slot(index + 1)
    return _edit(request, unit, edits.on_set(keying, change), f"{name} {done}")


def _edit(request: CrewRequest, unit: Unit, change: edits.Edit, note: str) -> HttpResponse:
    base = revision(request.POST)
    return apply(request, unit, lambda: revisions.edit(unit, request.membership, base, change, note, now=request.now))
