"""Who changed what and when: sites, units, kinds, people and the crew by their histories, plans by their revisions."""

from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass, replace
from datetime import datetime
from heapq import merge
from itertools import islice
from typing import Any

from django.db.models import OuterRef, QuerySet, Subquery
from django.urls import reverse

from skavit.core.text.wording import Words
from skavit.crews.models import Crew, Membership, Role
from skavit.kinds.models import Kind
from skavit.server.history import BEGUN
from skavit.server.now import local_datetime_text
from skavit.sites.models import Site
from skavit.sites.selectors import home_of
from skavit.units.models import PlanRevision, Unit

PAGE, MOST_PAGES = 60, 20


@dataclass(frozen=True, slots=True, kw_only=True)
class Altered:
    """One thing that is another now."""

    what: str
    was: str = ""
    now: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Change:
    """One change: what was changed, by whom, when."""

    at: datetime
    who: str
    subject: str
    address: str  # where it is looked at; empty where nowhere
    altered: tuple[Altered, ...]
    when: str = ""  # in the crew's words, told of those that are shown


@dataclass(frozen=True, slots=True, kw_only=True)
class Asked:
    """Of what: of all that the crew has, of one site with its units, or of one unit."""

    site: int = 0
    unit: int = 0
    page: int = 1


@dataclass(frozen=True, slots=True, kw_only=True)
class ChangesPage:
    """A page of changes, the latest first."""

    changes: list[Change]
    older: int  # the page after this one; 0 where there is none


@dataclass(frozen=True, slots=True, kw_only=True)
class _Told:
    """How the history of a model is told: its fields in words, what a row is called, where it is looked at."""

    model: Any
    fields: Mapping[str, str]
    subject: Callable[[Any], str]
    address: Callable[[Any], str]
    related: tuple[str, ...] = ()


_LASTING = {"archived": "archived", "removed": "removed"}
_CREW = _Told(
    model=Crew,
    fields={
        "name": "name",
        "twelve_hour": "12-hour clock",
        "summer_time": "says summer time",
        "us_units": "US customary units",
        "contact": "customers call",
    },
    subject=lambda _: "The crew",
    address=lambda _: "",
)
_PEOPLE = _Told(
    model=Membership,
    fields={"user": "person", "role": "may", "left": "left the crew"},
    subject=lambda row: f"{row.user}",
    address=lambda _: "",
    related=("user",),
)
_SITES = _Told(
    model=Site,
    fields={
        "name": "name",
        "latitude": "latitude",
        "longitude": "longitude",
        "timezone": "time zone",
        "area": "area",
        "notes": "notes",
        **_LASTING,
    },
    subject=lambda row: row.name,
    address=lambda row: reverse("site", args=[row.id]),
)
_KINDS = _Told(
    model=Kind,
    fields={"name": "name", "document": "what it can do", **_LASTING},
    subject=lambda row: f"Kind {row.name}",
    address=lambda row: reverse("kind-own", args=[row.id]),
)
# That a unit was added, and of which kind it is, is told by its plan.
_UNITS = _Told(
    model=Unit,
    fields={
        "name": "name",
        "site": "site",
        "whereabouts": "where it hangs",
        **_LASTING,
    },
    subject=lambda row: f"{row.name}, {row.site.name}" if row.site else row.name,  # a site may be gone for good
    address=lambda row: reverse("record", args=[row.id]),
    related=("site",),
)


def changes_page(crew: Crew, asked: Asked, words: Words) -> ChangesPage:
    """A page of the changes that are asked for, by the clock of the crew's home."""
    page, home = min(asked.page, MOST_PAGES), home_of(crew)
    most = page * PAGE + 1
    sources = [_of_history(told, states[:most]) for told, states in _states(crew, asked)]
    sources.append(_of_plans(_revisions(crew, asked)[:most]))
    latest = merge(*sources, key=lambda change: change.at, reverse=True)
    found = list(islice(latest, (page - 1) * PAGE, most))
    shown = [replace(change, when=local_datetime_text(home, change.at, words)) for change in found[:PAGE]]
    return ChangesPage(changes=shown, older=page + 1 if len(found) > PAGE and page < MOST_PAGES else 0)


def _states(crew: Crew, asked: Asked) -> Iterator[tuple[_Told, "QuerySet[Any]"]]:
    units = Unit.history.filter(history_relation__site__crew=crew).exclude(history_type="+")
    if asked.unit:
        yield _UNITS, units.filter(id=asked.unit)
        return
    sites = Site.history.filter(crew=crew)
    if asked.site:
        yield _UNITS, units.filter(site_id=asked.site)
        yield _SITES, sites.filter(id=asked.site)
        return
    yield _UNITS, units
    yield _SITES, sites
    yield _KINDS, Kind.history.filter(crew=crew)
    yield _PEOPLE, Membership.history.filter(crew=crew)
    yield _CREW, Crew.history.filter(id=crew.pk)


def _revisions(crew: Crew, asked: Asked) -> "QuerySet[PlanRevision]":
    found = PlanRevision.objects.filter(unit__site__crew=crew).defer("document")
    if asked.unit:
        found = found.filter(unit=asked.unit)
    elif asked.site:
        found = found.filter(unit__site=asked.site)
    return found.select_related("unit__site", "author").order_by("-at", "-pk")


def _of_plans(revisions: Iterable[PlanRevision]) -> Iterator[Change]:
    for one in revisions:
        address = reverse("compare", args=[one.unit_id]) + f"?from={max(one.number - 1, 1)}&to={one.number}"
        yield Change(
            at=one.at,
            who=str(one.author),
            subject=f"{one.unit.name}, {one.unit.site.name}",
            address=address,
            altered=(Altered(what=f"plan {one.number}", now=one.note),),
        )


def _of_history(told: _Told, states: "QuerySet[Any]") -> Iterator[Change]:
    """The changes of a history; a state that tells nothing new is no change."""
    earlier = states.model.objects.filter(id=OuterRef("id"), history_id__lt=OuterRef("history_id"))
    before = Subquery(earlier.order_by("-history_id").values("history_id")[:1])
    rows = list(states.select_related("history_user", *told.related).annotate(before_id=before))
    olds = states.model.objects.select_related(*told.related).in_bulk({row.before_id for row in rows} - {None})
    for row in rows:
        altered = tuple(_altered(told.fields, olds.get(row.before_id), row))
        if altered and row.history_change_reason:
            altered = (*altered, Altered(what=row.history_change_reason))
        if altered and row.history_change_reason != BEGUN:
            yield Change(
                at=row.history_date,
                who=str(row.history_user or "whoever runs the server"),
                subject=told.subject(row),
                address=told.address(row),
                altered=altered,
            )


def _altered(fields: Mapping[str, str], old: Any | None, new: Any) -> Iterator[Altered]:
    if old is None:
        yield Altered(what="added")
        return
    for name, what in fields.items():
        was, now = getattr(old, name), getattr(new, name)
        if was == now:
            continue
        if name in ("archived", "removed", "left"):
            yield Altered(what=what if now else f"no longer {what}" if name != "left" else "in the crew again")
        elif isinstance(was, dict):
            yield Altered(what=what)
        else:
            yield Altered(what=what, was=_text(was), now=_text(now))


def _text(value: Any) -> str:
    if isinstance(value, bool):
        return "yes" if value else "no"
    if value in (None, ""):
        return "none"
    return str(dict(Role.choices).get(value, value))
