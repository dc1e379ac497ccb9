"""The due list, a month of it, and a day in the van."""

import calendar
import datetime as dt
from dataclasses import dataclass

from skavit.core.due.due import Sort
from skavit.core.due.told import due_text
from skavit.core.plan.times import day_number
from skavit.core.site.route import nearest_first
from skavit.core.text.wording import SHORT_DAYS, Words, dated_text, weekday_date
from skavit.crews.models import Crew, User
from skavit.due.models import Due, Planned
from skavit.due.selectors import PAGE, Asked, areas_of, due_of_crew, kinds_of, people_of, planned_on
from skavit.units.models import Unit

ON_HOME, IN_A_CELL, IN_A_MONTH, IN_A_DAY = 6, 4, 600, 80


@dataclass(frozen=True, slots=True, kw_only=True)
class DueRow:
    """One thing to do."""

    unit: Unit
    when: str
    late: bool
    text: str
    planned: Planned | None


@dataclass(frozen=True, slots=True, kw_only=True)
class DuePage:
    """A page of the list."""

    rows: list[DueRow]
    asked: Asked
    following: str
    areas: list[str]
    kinds: list[tuple[str, str]]
    people: list[User]
    sorts: list[tuple[str, str]]
    narrowed: bool
    today: dt.date


def due_rows(found: list[Due], words: Words, today: dt.date) -> list[DueRow]:
    """Things to do as a page shows them."""
    return [
        DueRow(
            unit=due.unit,
            when=_when(due.date, today),
            late=due.date is not None and due.date < today,
            text=due_text(Sort(due.sort), due.count, words),
            planned=getattr(due.unit, "planned", None),
        )
        for due in found
    ]


def _when(date: dt.date | None, today: dt.date) -> str:
    if date is None:
        return "now"
    number = day_number(date)
    text = weekday_date(number) if date.year == today.year else dated_text(number)
    return f"since {text}" if date < today else text


def due_page(crew: Crew, asked: Asked, words: Words, today: dt.date) -> DuePage:
    """One page of what is due."""
    skip = (asked.page - 1) * PAGE
    found = list(due_of_crew(crew, asked)[skip : skip + PAGE + 1])
    more = len(found) > PAGE
    return DuePage(
        rows=due_rows(found[:PAGE], words, today),
        asked=asked,
        following=f"?{asked.query}{'&' if asked.query else ''}page={asked.page + 1}" if more else "",
        areas=areas_of(crew),
        kinds=kinds_of(crew),
        people=list(people_of(crew)),
        sorts=[(sort.value, due_text(sort, 2, words).removeprefix("2 ")) for sort in Sort],
        narrowed=bool(asked.query),
        today=today,
    )


def next_due(crew: Crew, words: Words, today: dt.date) -> list[DueRow]:
    """The first of them, for the home page: findings are told there already."""
    return due_rows(list(due_of_crew(crew).exclude(sort=Sort.FINDINGS)[:ON_HOME]), words, today)


@dataclass(frozen=True, slots=True, kw_only=True)
class Cell:
    """A day of the month's sheet."""

    date: dt.date
    outside: bool
    today: bool
    rows: list[DueRow]
    more: int


@dataclass(frozen=True, slots=True, kw_only=True)
class MonthPage:
    """A month of what is due."""

    name: str
    weekdays: list[str]
    weeks: list[list[Cell]]
    before: str
    after: str
    now: int  # how many things are due without a date


def month_page(crew: Crew, month: dt.date, words: Words, today: dt.date) -> MonthPage:
    """The month in which a date lies."""
    weeks = calendar.Calendar().monthdatescalendar(month.year, month.month)
    first, last = weeks[0][0], weeks[-1][-1]
    found = list(due_of_crew(crew).filter(date__range=(first, last))[:IN_A_MONTH])
    by_day: dict[dt.date, list[Due]] = {}
    for due in found:
        if due.date is not None:
            by_day.setdefault(due.date, []).append(due)
    start = month.replace(day=1)
    return MonthPage(
        name=dated_text(day_number(start)).split(" ", 1)[1],
        weekdays=list(SHORT_DAYS),
        weeks=[[_cell(day, month, by_day.get(day, []), words, today) for day in week] for week in weeks],
        before=(start - dt.timedelta(days=1)).isoformat(),
        after=(start + dt.timedelta(days=32)).replace(day=1).isoformat(),
        now=due_of_crew(crew).filter(date=None).order_by().count(),
    )


def _cell(day: dt.date, month: dt.date, due: list[Due], words: Words, today: dt.date) -> Cell:
    return Cell(
        date=day,
        outside=day.month != month.month,
        today=day == today,
        rows=due_rows(due[:IN_A_CELL], words, today),
        more=max(len(due) - IN_A_CELL, 0),
    )


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
