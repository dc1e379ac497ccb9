"""The customer's sheet: what will happen and when, this week, in June and in December, in their language."""

import datetime as dt
from collections.abc import Iterator
from dataclasses import dataclass, replace
from datetime import date

import numpy as np
from django.conf import settings
from django.utils import translation
from django.utils.formats import date_format

from skavit.core.ground.arrays import DAY_S
from skavit.core.ground.spans import EMPTY
from skavit.core.heat.targets import Targets
from skavit.core.kinds import Kind
from skavit.core.plan.document import Plan
from skavit.core.plan.times import day_number
from skavit.core.simulation.day_table import DayTold, Period, day_table
from skavit.core.simulation.replay import replay
from skavit.core.site.clock import WallClock
from skavit.core.text.wording import Words
from skavit.customer import words as said
from skavit.server.now import today_at
from skavit.units.computing import unit_year
from skavit.units.models import Unit
from skavit.units.trades import pages_of

WEEK = 7
JUNE, DECEMBER = (6, 21), (12, 21)
_DATES = {"de": "j. F", "es": r"j \d\e F"}
_YEARS = {"es": r" \d\e Y"}


@dataclass(frozen=True, slots=True, kw_only=True)
class Line:
    """A date, and what is on then."""

    when: str
    text: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Output:
    """One output over the days that are told."""

    name: str
    week: list[Line]
    june: str
    december: str
    year: str  # its picture; empty where there is none


@dataclass(frozen=True, slots=True, kw_only=True)
class CustomerPage:
    """The whole sheet, in one language."""

    language: str
    labels: dict[str, str]
    name: str
    site: str
    crew: str
    contact: str
    as_of: str
    outputs: list[Output]
    months: list[str]
    by_hand: list[str]
    back: list[str]
    cautions: list[str]


def customer_page(unit: Unit, language: str, now: int) -> CustomerPage:
    """The sheet of a unit; times in 12 hours only where the crew has them and the language is English."""
    with translation.override(language):
        return _page(unit, language, now)


def standing_plan(unit: Unit) -> Plan:
    """What is in the unit since its last visit; the plan where nobody has been there yet."""
    return unit.plan if unit.keyed is None else unit.plan_of(unit.keyed)


def _page(unit: Unit, language: str, now: int) -> CustomerPage:
    plan, kind, crew = standing_plan(unit), unit.core_kind, unit.site.crew
    words = crew.words if language == settings.LANGUAGE_CODE else replace(crew.words, twelve_hour=False)
    today = today_at(unit.site.place, now)
    key, words_on_it = _mode_key(kind)
    labels = said.labels()
    return CustomerPage(
        language=language,
        labels=labels,
        name=unit.name,
        site=unit.site.name,
        crew=crew.name,
        contact=crew.contact,
        as_of=labels["page_of"] % {"date": _dated(today, language, year=True)},
        outputs=list(_outputs(plan, today, words, language)),
        months=[date_format(date(2027, month, 1), "M") for month in range(1, 13)],
        by_hand=said.by_hand(key, words_on_it["on"], words_on_it["off"]),
        back=said.back(key, words_on_it["auto"], waits=plan.unit.on_return_to_auto == "waits"),
        cautions=said.cautions(
            frozenset(channel.load.sort for channel in plan.channels if channel.load) | pages_of(plan).hazards,
            light=plan.unit.sun.is_photocell,
        ),
    )


def _dated(day: date, language: str, *, year: bool = False) -> str:
    """A date as the language writes it; with its weekday, or with its year."""
    here = r"1\e\r F" if language == "fr" and day.day == 1 else _DATES.get(language, "j F")
    return date_format(day, f"{here}{_YEARS.get(language, ' Y')}" if year else f"D {here}")


def _mode_key(kind: Kind | None) -> tuple[str, dict[str, str]]:
    """The key that changes the mode, and what the display reads in each; empty where it is not known."""
    meanings = ("auto", "on", "off")
    if kind is None or kind.modes is None:
        return "", dict.fromkeys(meanings, "")
    return kind.modes.key, {means: kind.modes.word(means) for means in meanings}


def _next(today: date, month_day: tuple[int, int]) -> date:
    """The next date of a month and day, today's included."""
    here = date(today.year, *month_day)
    return here if here >= today else date(today.year + 1, *month_day)


def _outputs(plan: Plan, today: date, words: Words, language: str) -> Iterator[Output]:
    """What is told of each output, station or zone."""
    pages = pages_of(plan)
    spells = ((today, WEEK), (_next(today, JUNE), 1), (_next(today, DECEMBER), 1))
    tables = [_tables(plan, first, days, words) for first, days in spells]
    year = unit_year(plan, today.year) if plan.channels else None
    for index, (name, week) in enumerate(tables[0]):
        days = [today + dt.timedelta(days=number) for number in range(WEEK)]
        yield Output(
            name=name,
            week=[Line(when=_dated(day, language), text=text) for day, text in zip(days, week, strict=True)],
            june=tables[1][index][1][0],
            december=tables[2][index][1][0],
            year=pages.output_picture(year, index) if year is not None else "",
        )


def _tables(plan: Plan, first: date, days: int, words: Words) -> list[tuple[str, list[str]]]:
    """Each output with a text a day; the days after are run too, so that a night has its end."""
    last = first + dt.timedelta(days=days - 1)
    run = replay(plan, first, last + dt.timedelta(days=2))
    low, high, clock = day_number(first), day_number(last), run.site_clock
    found = []
    for output in pages_of(plan).outputs(run):
        if output.held is not None:
            told = [_warmth(output.held, clock, day, words) for day in range(low, high + 1)]
        else:
            table = day_table(output.spans or EMPTY, clock, low, high)
            told = [_told(day, words, waters=output.waters) for day in table]
        found.append((output.name, told))
    return found


def _warmth(target: Targets, clock: WallClock, day: int, words: Words) -> str:
    """What a zone is held at on a date, each change with its time."""
    digits = clock.digits(target.at)
    here = np.nonzero((digits >= day * DAY_S) & (digits < (day + 1) * DAY_S))[0]
    if not here.size:
        here = np.array([max(int(np.searchsorted(digits, day * DAY_S, side="right")) - 1, 0)])
    parts = []
    for index in here.tolist():
        c = float(target.c[index])
        time = words.minute(max(int(digits[index]) - day * DAY_S, 0))
        parts.append(f"{time} {said.nothing() if np.isnan(c) else words.warmth(c)}")
    return ", ".join(parts)


def _told(day: DayTold, words: Words, *, waters: bool) -> str:
    if day.all_day:
        return said.all_day()
    if not day.periods:
        return said.nothing(waters=waters)
    return ", ".join(_period(period, words) for period in day.periods)


def _period(period: Period, words: Words) -> str:
    start, end = (words.minute(seconds) for seconds in (period.start_s, period.end_s))
    # A night that ends in the morning needs no word for it; one that ends on a later date still does.
    later = period.days_on > 1 or (period.days_on == 1 and period.end_s > DAY_S // 2)
    return said.period_text(start, end, later=later)
