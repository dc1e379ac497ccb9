"""Day rules: on which dates a window or an entry holds; each rule parses itself, prints itself and tests dates.

Weekdays count from Monday = 0.
"""

import re
from calendar import isleap
from collections.abc import Iterable
from dataclasses import dataclass, replace
from datetime import date
from functools import cached_property
from typing import Any, assert_never

import numpy as np

from skavit.core.ground.arrays import DAY_S, Bools, Ints
from skavit.core.ground.records import Form, Record, Schema, listed, meaning, member, pattern, whole, word
from skavit.core.ground.strict_json import Node, ObjectNode
from skavit.core.plan.times import DATE_FORM, DAY, day_number, day_of, read_date

WEEKDAYS = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")
NAMED = {"daily": 0b1111111, "weekdays": 0b0011111, "weekends": 0b1100000}
MAX_INTERVAL_DAYS = 10_000
MAX_HOLIDAY_DAYS = 366
MONTH_DAY_FORM = "a month and day such as 12-25"
DAYS_FORM = (
    'daily, weekdays, weekends, a list of mon ... sun, {"parity"}, {"every", "from"}, {"dates"} '
    'or {"days", "between", "except"}'
)
_MONTH_DAY = re.compile(r"([0-9]{2})-([0-9]{2})")


class Calendar:
    """Dates with the parts that day rules ask for, made once for many rules."""

    def __init__(self, days: Ints) -> None:
        self.days = days

    @cached_property
    def midnight(self) -> Ints:
        """The digits of 00:00."""
        return self.days * DAY_S

    @cached_property
    def weekday(self) -> Ints:
        """0 for Monday to 6 for Sunday; 1970-01-01 was a Thursday."""
        return (self.days + 3) % 7

    @cached_property
    def month_day(self) -> Ints:
        """Month times 100 plus day of the month."""
        dates = self.days.astype("datetime64[D]")
        months = dates.astype("datetime64[M]")
        found: Ints = (months.astype(np.int64) % 12 + 1) * 100 + (dates - months).astype(np.int64) + 1
        return found

    @cached_property
    def day_of_month(self) -> Ints:
        """1 to 31."""
        return self.month_day % 100


@dataclass(frozen=True, slots=True)
class Weekdays:
    """A set of weekdays, bit 0 for Monday."""

    mask: int

    def matches(self, calendar: Calendar) -> Bools:
        """Which dates the rule holds on."""
        chosen: Bools = (self.mask >> calendar.weekday) & 1 == 1
        return chosen

    def to_json(self) -> str | list[str]:
        """The form of the plan file."""
        for name, mask in NAMED.items():
            if mask == self.mask:
                return name
        return [name for bit, name in enumerate(WEEKDAYS) if self.mask >> bit & 1]

    def shifted(self, by: int) -> "Weekdays":
        """The weekdays ``by`` days on."""
        by %= 7
        return Weekdays((self.mask << by | self.mask >> 7 - by) & 0b1111111)


DAILY = Weekdays(NAMED["daily"])


@dataclass(frozen=True, slots=True)
class Parity(Record):
    """Odd or even days of the month."""

    odd: bool = member(meaning({"odd": True, "even": False}), name="parity")

    def matches(self, calendar: Calendar) -> Bools:
        """Which dates the rule holds on."""
        return calendar.day_of_month % 2 == int(self.odd)


@dataclass(frozen=True, slots=True)
class EveryNth(Record):
    """Every n-th day counted from a date, before and after it."""

    interval: int = member(whole(1, MAX_INTERVAL_DAYS), name="every")
    start: int = member(DAY, name="from")  # days since 1970-01-01

    def matches(self, calendar: Calendar) -> Bools:
        """Which dates the rule holds on."""
        return (calendar.days - self.start) % self.interval == 0


@dataclass(frozen=True, slots=True)
class Once:
    """A date given with its year, in days since 1970-01-01."""

    day: int


@dataclass(frozen=True, slots=True)
class Yearly:
    """A month and day that come each year, as month times 100 plus day."""

    month_day: int


Dated = Once | Yearly


def month_day_text(month_day: int) -> str:
    """1225 as 12-25."""
    return f"{month_day // 100:02d}-{month_day % 100:02d}"


def read_month_day(node: Node) -> int:
    """A month and day that some year has, as month times 100 plus day."""
    match = _MONTH_DAY.fullmatch(node.value) if isinstance(node.value, str) else None
    if match is None:
        node.refuse(MONTH_DAY_FORM)
    month, day = int(match[1]), int(match[2])
    try:
        date(2028, month, day)  # a leap year: 02-29 is a day
    except ValueError:
        node.refuse(MONTH_DAY_FORM, f"{node.value!r} does not exist")
    return month * 100 + day


def read_dated(node: Node) -> Dated:
    """A date of either form."""
    if isinstance(node.value, str) and _MONTH_DAY.fullmatch(node.value):
        return Yearly(read_month_day(node))
    if not isinstance(node.value, str):
        node.refuse(f"{DATE_FORM} or {MONTH_DAY_FORM}")
    return Once(day_number(read_date(node)))


def dated_form(dated: Dated) -> str:
    """What :func:`read_dated` reads, in the form of the plan file."""
    match dated:
        case Once(day):
            return day_of(day).isoformat()
        case Yearly(month_day):
            return month_day_text(month_day)
        case _:
            assert_never(dated)


MONTH_DAY = pattern(read_month_day, month_day_text, "^[0-9]{2}-[0-9]{2}$")
DATED = Form(read=read_dated, write=dated_form, schema=lambda: {"anyOf": [MONTH_DAY.schema(), DAY.schema()]})


@dataclass(frozen=True, slots=True, kw_only=True)
class Holiday(Record):
    """So many days from a date (once), or from a month and day (each year)."""

    start: Dated = member(DATED, name="from")
    days: int = member(whole(1, MAX_HOLIDAY_DAYS))


def dated_in(dated: Dated, years: range) -> list[int]:
    """The dates, as days since 1970-01-01, of a month and day in some years; one given with its year as it is."""
    match dated:
        case Once(day):
            return [day]
        case Yearly(month_day):
            return [_in_year(month_day, year) for year in years]
        case _:
            assert_never(dated)


def _in_year(month_day: int, year: int) -> int:
    """29 February is on 1 March in common years (docs/plan-file.md, "Other unit keys")."""
    if month_day == 229 and not isleap(year):
        month_day = 301
    return day_number(date(year, month_day // 100, month_day % 100))


def holiday_mask(holidays: tuple[Holiday, ...], days: Ints) -> Bools:
    """Which of the dates, in days since 1970-01-01, are holidays."""
    found = np.zeros(days.shape, dtype=bool)
    if not days.size:
        return found
    years = range(day_of(int(days.min())).year - 1, day_of(int(days.max())).year + 1)
    for holiday in holidays:
        for start in dated_in(holiday.start, years):
            found |= (days >= start) & (days < start + holiday.days)
    return found


_ORDER = (Yearly, Holiday, Once)


def in_order(dates: Iterable[Dated | Holiday]) -> tuple[Dated | Holiday, ...]:
    """Those of each year first, then spans, then those of one year."""
    return tuple(sorted(dates, key=lambda dated: _ORDER.index(type(dated))))


def _read_dated_or_span(node: Node) -> Dated | Holiday:
    """A date, or so many days from one."""
    return Holiday.read(node) if isinstance(node.value, dict) else read_dated(node)


DATED_OR_SPAN = Form(
    read=_read_dated_or_span,
    write=lambda dated: dated.to_json() if isinstance(dated, Holiday) else dated_form(dated),
    schema=lambda: {"anyOf": [*DATED.schema()["anyOf"], Holiday.schema()]},
)


def _read_season(node: Node) -> tuple[int, ...]:
    ends = node.items("months and days")
    if len(ends) != 2:
        node.refuse("two months and days, the first and the last", f"a list of {len(ends)}")
    return tuple(MONTH_DAY.read(end) for end in ends)


SEASON = Form(
    read=_read_season,
    write=lambda ends: [month_day_text(end) for end in ends],
    schema=lambda: listed(MONTH_DAY, least=2).schema() | {"maxItems": 2},
)


@dataclass(frozen=True, slots=True)
class Dates(Record):
    """Dates given once, and months and days that come each year."""

    dates: tuple[Dated | Holiday, ...] = member(listed(DATED_OR_SPAN, "dates", least=1))

    @classmethod
    def judged(cls, keys: ObjectNode, given: dict[str, Any]) -> dict[str, Any]:
        """In one order."""
        return {"dates": in_order(given["dates"])}

    @property
    def once(self) -> tuple[int, ...]:
        """Those of one year, in days since 1970-01-01."""
        return tuple(dated.day for dated in self.dates if isinstance(dated, Once))

    @property
    def yearly(self) -> tuple[int, ...]:
        """Those of each year, as month times 100 plus day."""
        return tuple(dated.month_day for dated in self.dates if isinstance(dated, Yearly))

    @property
    def spans(self) -> tuple[Holiday, ...]:
        """Several days from a date, once or each year."""
        return tuple(dated for dated in self.dates if isinstance(dated, Holiday))

    def matches(self, calendar: Calendar) -> Bools:
        """Which dates the rule holds on."""
        found = np.isin(calendar.days, self.once) | np.isin(calendar.month_day, self.yearly)
        return found | holiday_mask(self.spans, calendar.days) if self.spans else found


def _read_inner(node: Node) -> "Days":
    """A rule within a rule: the types of all stand below."""
    return read_days(node)


DAYS_REF = Form(read=_read_inner, write=lambda days: days.to_json(), schema=lambda: {"$ref": "#/$defs/days"})


@dataclass(frozen=True, slots=True, kw_only=True)
class Narrowed(Record):
    """A day rule kept to a season and without some other rules' days."""

    days: "Days" = member(DAYS_REF)
    between: tuple[int, int] | None = member(SEASON, default=None)  # months times 100 plus day, both included
    without: tuple["Days", ...] = member(listed(DAYS_REF, "day rules"), name="except", default=())

    def matches(self, calendar: Calendar) -> Bools:
        """Which dates the rule holds on."""
        found = self.days.matches(calendar)
        if self.between:
            first, last = self.between
            after, before = calendar.month_day >= first, calendar.month_day <= last
            found = found & (after & before if first <= last else after | before)
        for rule in self.without:
            found = found & ~rule.matches(calendar)
        return found


Days = Weekdays | Parity | EveryNth | Dates | Narrowed
# Rules that stand as an object, by the key that tells them.
_BY_KEY: dict[str, type[Parity | EveryNth | Dates]] = {"parity": Parity, "every": EveryNth, "dates": Dates}


def read_days(node: Node) -> Days:
    """A day rule of any form."""
    match node.value:
        case str() if node.value in NAMED:
            return Weekdays(NAMED[node.value])
        case list():
            return _read_weekdays(node)
        case dict():
            named = next((rule for name, rule in _BY_KEY.items() if name in node.value), Narrowed)
            return named.read(node)
        case _:
            return node.refuse(DAYS_FORM)


def _read_weekdays(node: Node) -> Weekdays:
    mask = 0
    if not node.value:
        node.refuse("one weekday or more", "no weekday is chosen")
    for item in node.items("weekdays"):
        bit = 1 << WEEKDAYS.index(item.choice(WEEKDAYS))
        if mask & bit:
            item.refuse("each weekday once", f"{item.value!r} stands twice")
        mask |= bit
    return Weekdays(mask)


def weekdays_schema() -> Schema:
    """A list of weekdays in a schema."""
    return listed(word(WEEKDAYS), least=1, once=True).schema()


def _days_schema() -> Schema:
    objects = (rule.schema() for rule in (*_BY_KEY.values(), Narrowed))
    return {"anyOf": [{"enum": list(NAMED)}, weekdays_schema(), *objects]}


DAYS = replace(DAYS_REF, schema=_days_schema)
