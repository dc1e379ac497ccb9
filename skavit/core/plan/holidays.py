"""Dates on which no entry acts (`unit.holidays` of the plan file)."""

from dataclasses import dataclass
from typing import Any

import numpy as np

from skavit.core.ground.arrays import Bools, Ints
from skavit.core.ground.strict_json import Node
from skavit.core.plan.days import dated_form, read_dated
from skavit.core.plan.times import day_number, day_of

MAX_HOLIDAY_DAYS = 366


@dataclass(frozen=True, slots=True, kw_only=True)
class Holiday:
    """So many days from a date (once), or from a month and day (each year)."""

    once: int | None = None  # days since 1970-01-01
    yearly: int | None = None  # month times 100 plus day
    days: int

    def to_json(self) -> dict[str, Any]:
        """The form of the plan file."""
        return {"from": dated_form(self.once, self.yearly), "days": self.days}


def dated_in(once: int | None, yearly: int | None, years: range) -> list[int]:
    """The dates, as days since 1970-01-01, of a month and day in some years; one given with its year as it is."""
    if once is not None:
        return [once]
    month, day = divmod(yearly or 0, 100)
    leap = [y for y in years if y % 4 == 0 and (y % 100 != 0 or y % 400 == 0)]
    # 29 February stands on 1 March in common years (docs/plan-file.md, "Other unit keys").
    return [
        day_number(day_of(0).replace(y, 3, 1) if (month, day) == (2, 29) and y not in leap
                   else day_of(0).replace(y, month, day))
        for y in years
    ]  # fmt: skip


def read_holiday(node: Node) -> Holiday:
    """A holiday; raises :class:`PlanError`."""
    keys = node.object(["from", "days"], required=["from", "days"])
    once, yearly = read_dated(keys["from"])
    return Holiday(once=once, yearly=yearly, days=keys["days"].integer(1, MAX_HOLIDAY_DAYS))


def holiday_mask(holidays: tuple[Holiday, ...], days: Ints) -> Bools:
    """Which of the consecutive dates are holidays."""
    found = np.zeros(days.shape, dtype=bool)
    if not days.size:
        return found
    years = range(day_of(int(days[0])).year - 1, day_of(int(days[-1])).year + 1)
    for holiday in holidays:
        for start in dated_in(holiday.once, holiday.yearly, years):
            found |= (days >= start) & (days < start + holiday.days)
    return found
