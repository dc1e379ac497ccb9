"""Day rules: on which dates a window or an entry holds; each rule parses itself, prints itself and tests dates.

Weekdays count from Monday = 0.
"""

import re
from dataclasses import dataclass
from datetime import date
from functools import cached_property
from typing import Any

import numpy as np

from skavit.core.ground.arrays import Bools, Ints
from skavit.core.ground.strict_json import Node, ObjectNode
from skavit.core.plan.times import DATE_FORM, day_number, optional, read_date

WEEKDAYS = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")
NAMED = {"daily": 0b1111111, "weekdays": 0b0011111, "weekends": 0b1100000}
MAX_INTERVAL_DAYS = 10_000
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
class Parity:
    """Odd or even days of the month."""

    odd: bool

    def matches(self, calendar: Calendar) -> Bools:
        """Which dates the rule holds on."""
        return calendar.day_of_month % 2 == int(self.odd)

    def to_json(self) -> dict[str, str]:
        """The form of the plan file."""
        return {"parity": "odd" if self.odd else "even"}


@dataclass(frozen=True, slots=True)
class EveryNth:
    """Every n-th day counted from a date, before and after it."""

    interval: int
    start: int  # days since 1970-01-01

    def matches(self, calendar: Calendar) -> Bools:
        """Which dates the rule holds on."""
        return (calendar.days - self.start) % self.interval == 0

    def to_json(self) -> dict[str, Any]:
        """The form of the plan file."""
        return {"every": self.interval, "from": str(np.datetime64(self.start, "D"))}


@dataclass(frozen=True, slots=True)
class Dates:
    """Dates given once, and months and days that come each year."""

    once: tuple[int, ...]  # days since 1970-01-01
    yearly: tuple[int, ...]  # month times 100 plus day

    def matches(self, calendar: Calendar) -> Bools:
        """Which dates the rule holds on."""
        return np.isin(calendar.days, self.once) | np.isin(calendar.month_day, self.yearly)

    def to_json(self) -> dict[str, list[str]]:
        """The form of the plan file."""
        return {"dates": [month_day_text(d) for d in self.yearly] + [str(np.datetime64(d, "D")) for d in self.once]}


@dataclass(frozen=True, slots=True, kw_only=True)
class Narrowed:
    """A day rule kept to a season and without some other rules' days."""

    days: "Days"
    between: tuple[int, int] | None = None  # months times 100 plus day, both included
    without: tuple["Days", ...] = ()

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

    def to_json(self) -> dict[str, Any]:
        """The form of the plan file."""
        return optional(
            {
                "days": self.days.to_json(),
                "between": [month_day_text(d) for d in self.between] if self.between else None,
                "except": [rule.to_json() for rule in self.without] or None,
            }
        )


Days = Weekdays | Parity | EveryNth | Dates | Narrowed


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


def dated_form(once: int | None, yearly: int | None) -> str:
    """What :func:`read_dated` reads, in the form of the plan file."""
    return str(np.datetime64(once, "D")) if once is not None else month_day_text(yearly or 0)


def read_dated(node: Node) -> tuple[int | None, int | None]:
    """(a date as a day number, None) or (None, a month and day) from either form."""
    if isinstance(node.value, str) and _MONTH_DAY.fullmatch(node.value):
        return None, read_month_day(node)
    if not isinstance(node.value, str):
        node.refuse(f"{DATE_FORM} or {MONTH_DAY_FORM}")
    return day_number(read_date(node)), None


def read_days(node: Node) -> Days:
    """A day rule of any form."""
    if isinstance(node.value, str):
        if node.value not in NAMED:
            node.refuse(DAYS_FORM)
        return Weekdays(NAMED[node.value])
    if isinstance(node.value, list):
        return _read_weekdays(node)
    if not isinstance(node.value, dict):
        node.refuse(DAYS_FORM)
    if "parity" in node.value:
        return Parity(node.object(["parity"])["parity"].choice(["odd", "even"]) == "odd")
    if "every" in node.value:
        keys = node.object(["every", "from"], required=["every", "from"])
        return EveryNth(keys["every"].integer(1, MAX_INTERVAL_DAYS), day_number(read_date(keys["from"])))
    if "dates" in node.value:
        dated = [read_dated(item) for item in node.object(["dates"])["dates"].items("dates", least=1)]
        return Dates(
            once=tuple(once for once, _ in dated if once is not None),
            yearly=tuple(yearly for _, yearly in dated if yearly is not None),
        )
    return _read_narrowed(node)


def _read_weekdays(node: Node) -> Weekdays:
    mask = 0
    for item in node.items("weekdays", least=1):
        bit = 1 << WEEKDAYS.index(item.choice(WEEKDAYS))
        if mask & bit:
            item.refuse("each weekday once", f"{item.value!r} stands twice")
        mask |= bit
    return Weekdays(mask)


def _read_narrowed(node: Node) -> Narrowed:
    keys = node.object(["days", "between", "except"], required=["days"])
    between = None
    if season := keys.get("between"):
        ends = season.items("months and days")
        if len(ends) != 2:
            season.refuse("two months and days, the first and the last", f"a list of {len(ends)}")
        between = (read_month_day(ends[0]), read_month_day(ends[1]))
    without = keys.get("except")
    return Narrowed(
        days=read_days(keys["days"]),
        between=between,
        without=tuple(read_days(item) for item in without.items("day rules")) if without else (),
    )


def read_days_of(keys: ObjectNode) -> Days:
    """The day rule of a window or an entry; every day where it is left out."""
    days = keys.get("days")
    return read_days(days) if days else DAILY
