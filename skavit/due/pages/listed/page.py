"""What is due, by date."""

import datetime as dt
from dataclasses import dataclass

from skavit.core.due import Sort, due_text
from skavit.core.text.wording import Words
from skavit.crews.models import Crew, User
from skavit.due.rows import DueRow, due_rows
from skavit.due.selectors import PAGE, Asked, areas_of, due_of_crew, kinds_of, people_of


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
        sorts=[
            (sort.value, due_text(sort, 2 if sort is Sort.FINDINGS else 0, words).removeprefix("2 ")) for sort in Sort
        ],
        narrowed=bool(asked.query),
        today=today,
    )
