"""A day in the van: the visits of a date, by distance."""

import datetime as dt
from dataclasses import dataclass

from skavit.core.due import Sort, due_text
from skavit.core.plan.times import day_number
from skavit.core.site.route import nearest_first
from skavit.core.text.wording import Words, weekday_date
from skavit.crews.models import Crew, User
from skavit.due.models import Due, Planned
from skavit.due.selectors import people_of, planned_on
from skavit.units.models import Unit

IN_A_DAY = 80


@dataclass(frozen=True, slots=True, kw_only=True)
class Stop:
    """A place of a day, with its units."""

    name: str
    notes: str
    away: str
    units: list[tuple[Unit, list[str], Planned]]


@dataclass(frozen=True, slots=True, kw_only=True)
class DayPage:
    """A day in the van."""

    date: dt.date
    name: str
    person: User | None
    people: list[User]
    stops: list[Stop]
    starts: list[tuple[int, str]]
    start: int


def day_page(crew: Crew, date: dt.date, person: int, start: int, words: Words) -> DayPage:
    """The visits of a date, of one person or of all, always on to the nearest that is left."""
    planned = list(planned_on(crew, date, person)[:IN_A_DAY])
    sites = list({one.unit.site_id: one.unit.site for one in planned}.values())
    due: dict[int, list[Due]] = {}
    for one in Due.objects.filter(unit__in=[p.unit_id for p in planned]).exclude(sort=Sort.PLANNED):
        due.setdefault(one.unit_id, []).append(one)
    first = next((place for place, site in enumerate(sites) if site.pk == start), 0)
    people = list(people_of(crew))
    stops = [
        Stop(
            name=sites[place].name,
            notes=sites[place].notes,
            away=f"{km:.0f} km on" if km >= 10 else f"{km:.1f} km on" if km else "",
            units=[
                (one.unit, [due_text(Sort(d.sort), d.count, words) for d in due.get(one.unit_id, [])], one)
                for one in planned
                if one.unit.site_id == sites[place].pk
            ],
        )
        for place, km in nearest_first([(site.latitude, site.longitude) for site in sites], first)
    ]
    return DayPage(
        date=date,
        name=weekday_date(day_number(date)),
        person=next((one for one in people if one.pk == person), None),
        people=people,
        stops=stops,
        starts=[(site.pk, site.name) for site in sites],
        start=sites[first].pk if sites else 0,
    )
