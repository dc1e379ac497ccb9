"""A stand-in for a weather station: daily weather drawn around the means of a site's months, the same for the same seed.

Wet and dry days follow one another as a two-state chain, and wet days' rain is exponential (Richardson, Water Resources
Research 17, 1981, in its simplest form). The figures of the chain and of the day's scatter are common practice, no source.
"""

import math
from datetime import date

import numpy as np

from skavit.core.ground.arrays import Floats
from skavit.core.ground.errors import RangeError
from skavit.core.plan.times import day_number
from skavit.core.plan.water import Climate
from skavit.core.water.soil import months_of
from skavit.core.water.weather import MAX_DAYS, Weather

WET_AFTER_WET, WET_AFTER_DRY = 0.5, 0.22
WET_SHARE = WET_AFTER_DRY / (1 + WET_AFTER_DRY - WET_AFTER_WET)  # of all days, in the long run
DRIER_AIR, WETTER_AIR = 1.12, 1 - 0.12 * (1 - WET_SHARE) / WET_SHARE  # ET0 of a dry and a wet day: the mean stays
SCATTER, PERSISTENCE = 0.18, 0.6  # of ET0 from day to day
# Temperatures that go with no more than the order of the months; ET0 is beside them and is what counts.
MEAN_C, SWING_C = 14.0, 10.0


def stand_in(climate: Climate, first: date, last: date, seed: int) -> Weather:
    """Weather of each date from ``first`` to ``last``; raises :class:`RangeError` for a range that is reversed or too long."""
    count = (last - first).days + 1
    if not 0 < count <= MAX_DAYS:
        raise RangeError(f"{first} to {last}; accepted: a last date at or after the first, at most 50 years on")
    days = np.arange(day_number(first), day_number(last) + 1)
    months = months_of(days)
    # Uniform numbers alone are drawn: what is made of them is here, and no release of a library changes it.
    wetness, amount, scatter = np.random.default_rng(seed).random((3, count))
    wet = _chain(wetness)
    rain: Floats = np.where(wet, -np.log1p(-amount) * np.array(climate.rain_mm_day)[months] / WET_SHARE, 0.0)
    by_air = np.where(wet, WETTER_AIR, DRIER_AIR)
    mean = np.array(climate.et0_mm_day)
    et0: Floats = mean[months] * by_air * _wander(scatter)
    warmth: Floats = MEAN_C + SWING_C * ((mean / max(float(mean.max()), 1e-9))[months] - 0.5)
    columns: dict[str, Floats] = {
        "tmin_c": warmth - 5,
        "tmax_c": warmth + 5,
        "rain_mm": np.round(rain, 1),
        "et0_mm": np.round(et0, 2),
    }
    return Weather(days=days, columns=columns)


def _chain(uniform: Floats) -> np.ndarray:
    """Which days are wet."""
    found, wet = np.zeros(uniform.shape, dtype=bool), False
    for place, number in enumerate(uniform.tolist()):
        wet = number < (WET_AFTER_WET if wet else WET_AFTER_DRY)
        found[place] = wet
    return found


def _wander(uniform: Floats) -> Floats:
    """Factors about 1 of which each is like the one before; each within what the scatter allows."""
    steps = (uniform * 2 - 1) * math.sqrt(3)  # of mean 0 and deviation 1
    found, level = np.zeros(uniform.shape), 0.0
    for place, step in enumerate(steps.tolist()):
        level = PERSISTENCE * level + math.sqrt(1 - PERSISTENCE**2) * step
        found[place] = max(1 + SCATTER * level, 0.1)
    return found
