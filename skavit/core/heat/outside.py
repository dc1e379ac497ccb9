"""A stand-in for the weather outside, from the latitude alone: the mean of each month, the day's swing, the coldest night.

Means near a coast by latitude and their yearly swing, the day's swing, and how much colder than the mean the coldest night is:
common practice, no source. Where the plan says what it is outside, that counts.
"""

import math

import numpy as np

from skavit.core.ground.arrays import Floats
from skavit.core.plan.heat import Outside

MONTHS = 12
WARMEST_MONTH = 0  # January in the south; half a year later in the north
DAY_SWING_C = 4.5  # the mean of a day plus and minus so much
COLDEST_HOUR = 6
USUAL_BELOW_C, COLDEST_BELOW_C = (
    4.5,
    11.0,
)  # a usual and the coldest winter's night, below the mean of the coldest month
FREEZES_BELOW_C = 11.0  # a month with such a mean may have frost
HOURS_A_DAY = 24


def monthly_c(latitude: float) -> tuple[float, ...]:
    """The mean of each month, January first."""
    away = abs(latitude)
    mean, swing = min(27.0, 30.0 - 0.39 * away), 0.12 * away
    warmest = WARMEST_MONTH if latitude < 0 else WARMEST_MONTH + 6
    return tuple(mean + swing * math.cos(2 * math.pi * (month - warmest - 0.5) / MONTHS) for month in range(MONTHS))


def usual_outside(latitude: float) -> Outside:
    """A winter's nights, and the months in which it may freeze."""
    months = monthly_c(latitude)
    coldest = min(months)
    return Outside(
        coldest_c=round(max(coldest - COLDEST_BELOW_C, -30.0), 1),
        usual_c=round(max(coldest - USUAL_BELOW_C, -30.0), 1),
        frost_months=tuple(month for month, c in enumerate(months, start=1) if c < FREEZES_BELOW_C),
    )


def hourly_c(latitude: float, days: int) -> Floats:
    """The temperature of each hour from 1 January on; shape (24 times days,)."""
    months = np.array(monthly_c(latitude))
    middles = (np.arange(-1, MONTHS + 1) + 0.5) * days / MONTHS
    hours = np.arange(days * HOURS_A_DAY)
    mean = np.interp(hours / HOURS_A_DAY, middles, np.concatenate([months[-1:], months, months[:1]]))
    found: Floats = mean - DAY_SWING_C * np.cos(2 * math.pi * (hours % HOURS_A_DAY - COLDEST_HOUR) / HOURS_A_DAY)
    return found
