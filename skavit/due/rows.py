"""Rows of what is due, as the list, the month, the home page and mails show them."""

import datetime as dt
from dataclasses import dataclass

from skavit.core.due import Sort, due_text
from skavit.core.plan.times import day_number
from skavit.core.text.wording import Words, dated_text, weekday_date
from skavit.crews.models import Crew
from skavit.due.models import Due, Planned
from skavit.due.selectors import due_of_crew
from skavit.units.models import Unit

ON_HOME = 6


@dataclass(frozen=True, slots=True, kw_only=True)
class DueRow:
    """One thing to do."""

    unit: Unit
    when: str
    late: bool
    text: str
    planned: Planned | None


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


def next_due(crew: Crew, words: Words, today: dt.date) -> list[DueRow]:
    """The first of them, for the home page: findings are told there already."""
    return due_rows(list(due_of_crew(crew).exclude(sort=Sort.FINDINGS)[:ON_HOME]), words, today)
