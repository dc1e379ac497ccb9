"""The average year of a latitude, to begin with where no weather station's figures are at hand.

ET0 is Hargreaves-Samani's (FAO-56 equation 52) from the sun of the latitude and temperatures that go with it. The temperatures and
the rain are a stand-in: common practice, no source.
"""

import numpy as np

from skavit.core.plan.water import MONTHS, Climate
from skavit.core.water.et0 import extraterrestrial_radiation, hargreaves

MIDDLES = np.array(
    [15.0, 46, 74, 105, 135, 166, 196, 227, 258, 288, 319, 349]
)  # the middle of each month, day of the year
WARM_C, COOLING_C, SWING_C = (
    28.0,
    0.35,
    0.14,
)  # at the equator; a degree of latitude; half the swing of a year, a degree
RANGE_C = 10.0  # from the night to the day
RAIN_MM_DAY = 2.0


def usual_climate(latitude: float) -> Climate:
    """A climate for a latitude in degrees, to a tenth of a millimetre."""
    away = abs(latitude)
    warmest = 0 if latitude < 0 else 6
    season = np.cos(2 * np.pi * (np.arange(MONTHS) - warmest) / MONTHS)
    mean = WARM_C - COOLING_C * away + SWING_C * away * season
    radiation = extraterrestrial_radiation(MIDDLES, latitude)
    et0 = hargreaves(mean - RANGE_C / 2, mean + RANGE_C / 2, radiation)
    return Climate(et0_mm_day=tuple(np.round(np.maximum(et0, 0.0), 1).tolist()), rain_mm_day=(RAIN_MM_DAY,) * MONTHS)
