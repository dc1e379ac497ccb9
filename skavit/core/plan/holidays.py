"""Dates on which no entry acts (`unit.holidays` of the plan file)."""

from calendar import isleap
from dataclasses import dataclass
from datetime import date
from typing import assert_never

import numpy as np

from skavit.core.ground.arrays import Bools, Ints
from skavit.core.ground.records import Record, member, whole
from skavit.core.plan.days import DATED, Dated, Dates, Once, Yearly
from skavit.core.plan.times import day_number, day_of

MAX_HOLIDAY_DAYS = 366
_LEAP_YEAR = 2028


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


def yearly_between(first: int, last: int) -> Holiday:
    """The days from one month and day up to another of each year, both included (months times 100 plus day)."""
    start, end = (day_number(date(_LEAP_YEAR, each // 100, each % 100)) for each in (first, last))
    return Holiday(start=Yearly(first), days=(end - start) % 366 + 1)


def holiday_dates(holidays: tuple[Holiday, ...]) -> Dates:
    """All dates of holidays as a day rule: each of those that come each year by its month and day."""
    found: list[Dated] = []
    for holiday in holidays:
        match holiday.start:
            case Once(day):
                found += [Once(day + step) for step in range(holiday.days)]
            case Yearly(month_day):
                # In a leap year 29 February is among the days of a long one; in others it is no date.
                first = day_number(date(_LEAP_YEAR, month_day // 100, month_day % 100))
                days = [day_of(first + step) for step in range(holiday.days)]
                found += [Yearly(day.month * 100 + day.day) for day in days]
            case _:
                assert_never(holiday.start)
    return Dates(dates=tuple(sorted(dict.fromkeys(found), key=lambda dated: isinstance(dated, Once))))


def holiday_mask(holidays: tuple[Holiday, ...], days: Ints) -> Bools:
    """Which of the consecutive dates are holidays."""
    found = np.zeros(days.shape, dtype=bool)
    if not days.size:
        return found
    years = range(day_of(int(days[0])).year - 1, day_of(int(days[-1])).year + 1)
    for holiday in holidays:
        for start in dated_in(holiday.start, years):
            found |= (days >= start) & (days < start + holiday.days)
    return found
