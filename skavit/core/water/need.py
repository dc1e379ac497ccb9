"""What a station needs, and how fast the ground takes it: plain figures of the trade, millimetres and minutes."""

import math
from collections.abc import Sequence

import numpy as np

from skavit.core.ground.arrays import Floats
from skavit.core.plan.water import MONTHS, Climate, Station
from skavit.core.water.soil import counted_rain


def longest_run_min(station: Station) -> float:
    """Minutes until water runs off: what may stand on the surface, over what falls faster than it sinks in.

    Without end where the rate is not above the intake rate, or the soil or the rate is not known (docs/plan-file.md).
    """
    rate, soil = station.rate, station.soil
    if rate is None or soil is None or rate <= soil.intake_mm_h:
        return math.inf
    return 60 * soil.surface_mm / (rate - soil.intake_mm_h)


def least_soak_min(station: Station) -> float:
    """Minutes until what was on the surface has sunk in; none where nothing ever is there."""
    if station.soil is None or math.isinf(longest_run_min(station)):
        return 0.0
    return 60 * station.soil.surface_mm / station.soil.intake_mm_h


def reaching_mm_min(station: Station) -> float:
    """Millimetres a minute that reach the driest quarter; 0 where the rate is not known."""
    return (station.rate or 0.0) * station.du / 60


def litres_of_mm(station: Station, mm: float) -> float:
    """What flows so that so many millimetres reach the driest quarter of a station whose rate is known."""
    return mm / reaching_mm_min(station) * station.flow_l_min


def net_need_mm_day(station: Station, climate: Climate) -> Floats:
    """Millimetres a day of each month, January first, that the plants need beyond the rain of the average year; shape (12,)."""
    et0, rain = np.array(climate.et0_mm_day), np.array(climate.rain_mm_day)
    crop = np.array([station.crop_in(month) for month in range(MONTHS)])
    found: Floats = np.maximum(crop * et0 - counted_rain(rain, et0), 0.0)
    return found


def month_shares(stations: Sequence[Station], climate: Climate, step_pct: float) -> tuple[float, ...]:
    """A share for each month, January first: the need of the neediest station as a part of its greatest, in steps, rounded up."""
    needs = [net_need_mm_day(station, climate) for station in stations]
    parts = [need / need.max() for need in needs if need.max() > 0]
    most = np.max(parts, axis=0) if parts else np.zeros(MONTHS)
    return tuple((np.ceil(most * 100 / step_pct - 1e-9) * step_pct + 0.0).tolist())  # no negative zero


def scheduling_multiplier(du: float) -> float:
    """What to lengthen run times by for a lower-quarter uniformity, the milder of the two schools.

    Dividing by ``du`` waters the driest quarter in full; this one, 1/(0.4 + 0.6 DU), counts on the water that moves
    sideways in the soil (Irrigation Association, Landscape Irrigation Scheduling and Water Management, 2005; from memory).
    """
    return 1 / (0.4 + 0.6 * du)
