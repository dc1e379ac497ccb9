"""Day rules moved by whole days."""

from dataclasses import replace
from typing import assert_never

import numpy as np

from skavit.core.plan.days import (
    DAILY,
    MAX_HOLIDAY_DAYS,
    Dates,
    Days,
    EveryNth,
    Holiday,
    Narrowed,
    Once,
    Parity,
    Weekdays,
    Yearly,
)
from skavit.core.plan.times import (
    day_of,
)

LEAP_YEAR = 2028


def shift_days(days: Days, by: int) -> Days:
    """The dates ``by`` days after those of a rule, or the nearest rule that holds them all."""
    if not by:
        return days
    match days:
        case Weekdays():
            return days.shifted(by)
        case EveryNth():
            return EveryNth(days.interval, days.start + by)
        case Dates():
            yearly = {md for old in days.yearly for md in _month_days_after(old, by)}
            spans = (_shift_span(span, by) for span in days.spans)
            return Dates((*map(Yearly, sorted(yearly)), *spans, *(Once(day + by) for day in days.once)))
        case Parity():
            return DAILY  # the day after the 31st is odd again: no parity holds it
        case Narrowed():
            return _shift_narrowed(days, by)
        case _:
            assert_never(days)


def _shift_span(span: Holiday, by: int) -> Holiday:
    """The dates ``by`` days after those of a span; of each year those after leap days and after common ones."""
    if isinstance(span.start, Once):
        return replace(span, start=Once(span.start.day + by))
    starts = _month_days_after(span.start.month_day, by)
    return Holiday(start=Yearly(starts[0]), days=min(span.days + len(starts) - 1, MAX_HOLIDAY_DAYS))


def _shift_narrowed(days: Narrowed, by: int) -> Narrowed:
    between = None
    if days.between:
        between = (_month_days_after(days.between[0], by)[0], _month_days_after(days.between[1], by)[-1])
    without = tuple(shift_days(rule, by) for rule in days.without)
    if any(isinstance(rule, Parity) for rule in days.without):
        without = ()
    return Narrowed(days=shift_days(days.days, by), between=between, without=without)


def _month_days_after(month_day: int, by: int) -> list[int]:
    """The month and day ``by`` days later, in leap years and in common years."""
    found = []
    for year in (LEAP_YEAR, LEAP_YEAR + 1):
        if month_day == 229 and year != LEAP_YEAR:
            continue
        start = np.datetime64(f"{year}-{month_day // 100:02d}-{month_day % 100:02d}")
        later = day_of(int((start + by).astype(np.int64)))
        found.append(later.month * 100 + later.day)
    return sorted(set(found))


def month_day_of(day: int) -> int:
    """Return the month times 100 plus the day of the month of a day, in days since 1970."""
    found = day_of(day)
    return found.month * 100 + found.day
