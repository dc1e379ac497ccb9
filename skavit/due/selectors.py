"""A crew's due list, narrowed and a page at a time; nothing is computed."""

import datetime as dt
from dataclasses import dataclass
from typing import Any
from urllib.parse import urlencode

from django.db.models import F, Q, QuerySet
from django.utils.dateparse import parse_date

from skavit.core.due import Sort
from skavit.core.kinds import shipped_kinds
from skavit.crews.models import Crew, User
from skavit.due.models import Due, Planned
from skavit.kinds.models import Kind
from skavit.server.now import today_at
from skavit.sites.selectors import home_of
from skavit.units.selectors import units_at_work

PAGE = 60


@dataclass(frozen=True, slots=True, kw_only=True)
class Asked:
    """How a due list is narrowed."""

    words: str = ""
    area: str = ""
    kind: str = ""  # the slug of a kind that ships, or the number of one of the crew's own
    person: int = 0
    sort: str = ""
    page: int = 1

    @classmethod
    def of(cls, query: Any) -> "Asked":
        """What a query string asks for; what it cannot mean is left out."""
        person, page = query.get("person", ""), query.get("page", "")
        sort = query.get("sort", "")
        return cls(
            words=query.get("q", "").strip()[:80],
            area=query.get("area", "")[:60],
            kind=query.get("kind", "")[:80],
            person=int(person) if person.isascii() and person.isdigit() and len(person) < 10 else 0,
            sort=sort if sort in set(Sort) else "",
            page=max(int(page), 1) if page.isascii() and page.isdigit() and len(page) < 6 else 1,
        )

    @property
    def query(self) -> str:
        """The same as a query string, without its page."""
        given = {"q": self.words, "area": self.area, "kind": self.kind, "person": self.person or "", "sort": self.sort}
        return urlencode({key: value for key, value in given.items() if value})


def due_of_crew(crew: Crew, asked: Asked | None = None) -> QuerySet[Due]:
    """What is due at the crew's units that are at work, what is due now first."""
    at_work = Q(unit__removed=None, unit__archived=None, unit__site__removed=None, unit__site__archived=None)
    found = Due.objects.filter(at_work, crew=crew).select_related("unit__site", "unit__kind", "unit__planned__person")
    found = found.order_by(F("date").asc(nulls_first=True), "pk")
    if asked is None:
        return found
    if asked.words:
        named = Q(unit__name__icontains=asked.words) | Q(unit__site__name__icontains=asked.words)
        found = found.filter(named | Q(unit__whereabouts__icontains=asked.words))
    if asked.area:
        found = found.filter(unit__site__area=asked.area)
    if asked.kind:
        own = asked.kind.isdigit()
        found = found.filter(unit__kind_id=int(asked.kind[:9])) if own else found.filter(unit__shipped_kind=asked.kind)
    if asked.person:
        found = found.filter(unit__planned__person_id=asked.person)
    return found.filter(sort=asked.sort) if asked.sort else found


def planned_on(crew: Crew, date: dt.date, person: int = 0) -> QuerySet[Planned]:
    """The visits planned for a date, of one person where one is given."""
    found = Planned.objects.filter(unit__in=units_at_work(crew), date=date)
    found = found.filter(person_id=person) if person else found
    return found.select_related("unit__site", "person").order_by("unit__site__name", "unit__name")


def today_of(crew: Crew, now: int) -> dt.date:
    """The date that it is where the crew is at home."""
    return today_at(home_of(crew), now)


def people_of(crew: Crew) -> QuerySet[User]:
    """Who is in a crew."""
    return User.objects.filter(memberships__crew=crew, memberships__left=None).order_by("username")


def areas_of(crew: Crew) -> list[str]:
    """The areas of a crew's sites."""
    return list(crew.sites.exclude(area="").order_by("area").values_list("area", flat=True).distinct())


def kinds_of(crew: Crew) -> list[tuple[str, str]]:
    """The kinds of a crew's units, as a list to choose from."""
    at_work = units_at_work(crew).order_by()
    names = {kind.slug: kind.name for kind in shipped_kinds()}
    shipped = at_work.exclude(shipped_kind="").values_list("shipped_kind", flat=True).distinct()
    own = Kind.objects.filter(pk__in=at_work.exclude(kind=None).values("kind_id")).order_by("name")
    found = [(slug, names[slug]) for slug in shipped if slug in names] + [(str(kind.pk), kind.name) for kind in own]
    return sorted(found, key=lambda kind: kind[1])


def date_asked(text: str, other: dt.date) -> dt.date:
    """A date of a query string; another where it is none."""
    try:
        return parse_date(text) or other
    except ValueError:
        return other
