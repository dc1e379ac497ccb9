"""Holidays as dates of a day rule, and the days between two dates of each year as one."""

from datetime import date

from skavit.core.plan.days import Dates, Holiday, Yearly, in_order
from skavit.core.plan.times import day_number

_LEAP_YEAR = 2028


def yearly_between(first: int, last: int) -> Holiday:
    """The days from one month and day up to another of each year, both included (months times 100 plus day)."""
    start, end = (day_number(date(_LEAP_YEAR, each // 100, each % 100)) for each in (first, last))
    return Holiday(start=Yearly(first), days=(end - start) % 366 + 1)


def holiday_dates(holidays: tuple[Holiday, ...]) -> Dates:
    """Return the dates of holidays as a day rule; one of a single day as that date."""
    found = (holiday.start if holiday.days == 1 else holiday for holiday in holidays)
    return Dates(dates=in_order(dict.fromkeys(found)))
