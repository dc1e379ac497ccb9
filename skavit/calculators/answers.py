"""What the calculators answer."""

import datetime as dt
from dataclasses import dataclass

from django import forms

from skavit.calculators.forms import DriftForm, ReadingForm, SunForm, WeekdayForm, ZoneForm
from skavit.core.ground.arrays import DAY_S
from skavit.core.ground.errors import UserError
from skavit.core.plan.document import Site
from skavit.core.plan.times import day_number, day_of
from skavit.core.site.almanac import sun_on
from skavit.core.site.clock import zone_clock
from skavit.core.site.clock_check import clock_changes, drift, law_as_rule, years_showing
from skavit.core.site.sun_table import Meaning, guess_meaning, read_table
from skavit.core.text.error_text import error_text
from skavit.core.text.wording import FULL_DAYS, MONTHS, Words, duration_text
from skavit.sites.selectors import sun_texts
from skavit.units.pages.clock.reading import TableAnswer, margin_words, table_answer

YEARS_TOLD = 5
LOOK_YEARS = 10


def place_of(form: forms.Form) -> Site:
    """The place of a form."""
    data = form.cleaned_data
    return Site(name="-", latitude=data["latitude"], longitude=data["longitude"], timezone=data["timezone"])


def long_date(day: dt.date) -> str:
    """A date with its weekday and year."""
    return f"{FULL_DAYS[day.weekday()]} {day.day} {MONTHS[day.month - 1]} {day.year}"


@dataclass(frozen=True, slots=True, kw_only=True)
class SunAnswer:
    """The day's five sun times, and the same a week on, to see how fast they move."""

    day: str
    zone: str
    times: list[tuple[str, str]]
    length: str
    later: list[tuple[str, str]]


def sun(form: SunForm, words: Words) -> SunAnswer:
    """The sun times of a day."""
    site, day = place_of(form), form.cleaned_data["date"]
    clock = zone_clock(site.timezone, day.year - 1, day.year + 1)

    number = day_number(day)
    rise, fall = (sun_on(site, number)[name] for name in ("sunrise", "sunset"))
    return SunAnswer(
        day=long_date(day),
        zone=site.timezone,
        times=sun_texts(site, clock, number, words),
        length="" if rise is None or fall is None else duration_text(fall - rise),
        later=sun_texts(site, clock, number + 7, words),
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class ZoneAnswer:
    """The clock changes of some years, and the law as a rule."""

    zone: str
    changes: list[tuple[str, str]]
    rule: list[str] | None


def zone(form: ZoneForm, words: Words) -> ZoneAnswer:
    """The clock changes of a zone."""
    name, year = form.cleaned_data["timezone"], form.cleaned_data["year"]
    clock = zone_clock(name, year - 1, year + YEARS_TOLD)
    start, end = (day_number(dt.date(y, 1, 1)) * DAY_S for y in (year, year + YEARS_TOLD))
    rule = law_as_rule(name, range(year, year + LOOK_YEARS))
    return ZoneAnswer(
        zone=name,
        changes=[
            (
                long_date(day_of(c.digits // DAY_S)),
                f"{'on' if c.by_s > 0 else 'back'} {duration_text(c.by_s)} at {words.minute(c.digits % DAY_S)}",
            )
            for c in clock_changes(clock, start, end)
        ],
        rule=None
        if rule is None
        else [
            f"{word} the {'last' if c.week == 5 else ('first', 'second', 'third', 'fourth')[c.week - 1]} "
            f"{FULL_DAYS[c.weekday]} of {MONTHS[c.month - 1]} at {words.clock(c.time.seconds)}"
            for word, c in (("On", rule.start), ("Back", rule.end))
        ],
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class ReadingAnswer:
    """The correction, the implied place, and the error of the year."""

    table_error: str = ""
    hint: str = ""
    sun: TableAnswer | None = None


def reading(form: ReadingForm, words: Words) -> ReadingAnswer:
    """What the readings say."""
    del words
    site, readings = place_of(form), form.readings()
    meaning = Meaning(form.cleaned_data["events"] or Meaning.SUNRISE.value)
    try:
        table = read_table(site, readings, meaning)
    except UserError as error:
        return ReadingAnswer(table_error=error_text(error))
    hint = ""
    if meaning is Meaning.SUNRISE:
        guessed, margin = guess_meaning(site, readings[-1])
        if guessed is Meaning.DAWN:
            hint = "It shows civil twilight: choose dawn and dusk above."
        elif margin:
            hint = margin_words(margin)
    return ReadingAnswer(hint=hint, sun=table_answer(site, table))


@dataclass(frozen=True, slots=True, kw_only=True)
class WeekdayAnswer:
    """The weekday that a date must show, and the years that would show another."""

    day: str
    must: str
    right: bool
    shown: str
    years: str


def weekday(form: WeekdayForm, words: Words) -> WeekdayAnswer:
    """The weekday of a date."""
    del words
    day, shown = form.cleaned_data["date"], form.cleaned_data["weekday"]
    must = day.weekday()
    wrong = shown not in ("", None, str(must))
    return WeekdayAnswer(
        day=f"{day.day} {MONTHS[day.month - 1]} {day.year}",
        must=FULL_DAYS[must],
        right=shown == str(must),
        shown=FULL_DAYS[int(shown)] if wrong else "",
        years=", ".join(map(str, years_showing(day, int(shown))[:4])) if wrong else "",
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class DriftAnswer:
    """Seconds a day, and when it will be out by one and by five minutes."""

    rate: str
    pm: str
    unclear: bool
    gains: bool
    minute: str
    five: str


def drifting(form: DriftForm, words: Words) -> DriftAnswer:
    """The drift between two looks."""
    del words
    first, second = form.looks()
    found = drift(first, second, float(form.cleaned_data["resolution"] or 1))

    def out(limit_s: int) -> str:
        at = found.out_at(limit_s)
        if at is None:
            return "not in fifty years"
        return "already" if at <= found.at else long_date(dt.date.fromordinal(at // DAY_S))

    return DriftAnswer(
        rate=f"{abs(found.fast_s_per_day):.2f}",
        pm=f"{found.pm_s_per_day:.2f}",
        unclear=abs(found.fast_s_per_day) <= found.pm_s_per_day,
        gains=found.fast_s_per_day >= 0,
        minute=out(60),
        five=out(300),
    )
