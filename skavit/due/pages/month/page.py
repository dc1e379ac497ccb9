"""A month of what is due."""

import calendar
import datetime as dt
from dataclasses import dataclass

from skavit.core.plan.times import day_number
from skavit.core.text.wording import SHORT_DAYS, Words, dated_text
from skavit.crews.models import Crew
from skavit.due.models import Due
from skavit.due.rows import DueRow, due_rows
from skavit.due.selectors import due_of_crew

IN_A_CELL, IN_A_MONTH = 4, 600


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
    any: bool  # whether anything is due on a date of it
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
        any=any(due.date is not None and due.date.month == month.month for due in found),
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
