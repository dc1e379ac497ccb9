"""How fast a station waters: from its flow, from the spacing of its heads or drippers, or from cans set out under it."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import pi

from skavit.core.ground.errors import UserError

LEAST_CANS, MOST_CANS = 4, 400
QUARTER = 0.25
# Basic intake in mm an hour, the middle of each range of FAO Irrigation Water Management, training manual 5 (Brouwer and
# others, 1988), table 7; quoted from memory.
INTAKE_MM_H = {"sand": 30.0, "sandy loam": 25.0, "loam": 15.0, "clay loam": 7.5, "clay": 3.0}


@dataclass(frozen=True, slots=True, kw_only=True)
class CanTest:
    """What cans under a running station say."""

    rate_mm_h: float  # of all cans
    lower_mm_h: float  # of the quarter that got least
    cans: int

    @property
    def du(self) -> float:
        """Lower-quarter distribution uniformity."""
        return self.lower_mm_h / self.rate_mm_h


def rate_by_area(flow_l_min: float, area_m2: float) -> float:
    """Millimetres an hour of a flow spread over an area: a litre on a square metre is a millimetre."""
    return flow_l_min * 60 / area_m2


def rate_by_spacing(flow_l_min: float, spacing_m: float, rows_m: float) -> float:
    """Millimetres an hour of heads or drippers that each water one field of a grid."""
    return rate_by_area(flow_l_min, spacing_m * rows_m)


def can_depth_mm(millilitres: float, opening_mm: float) -> float:
    """Depth of the water in a round can, as rain: its water over the area of its opening."""
    return millilitres * 1000 / (pi * opening_mm**2 / 4)


def can_test(depths_mm: Sequence[float], minutes: float) -> CanTest:
    """Rate and lower-quarter uniformity of cans; raises :class:`UserError` for too few, too many or none wet.

    The lowest quarter of the cans over all of them, as ASAE/ASABE S436 and the Irrigation Association's audit guidelines
    have it (from memory); of a number of cans that is no multiple of four the next one counts in part.
    """
    if not LEAST_CANS <= len(depths_mm) <= MOST_CANS:
        raise UserError(f"{len(depths_mm)} cans; accepted: {LEAST_CANS} to {MOST_CANS}")
    if not sum(depths_mm):
        raise UserError("every can is empty; accepted: water in some of them")
    quarter = len(depths_mm) * QUARTER
    rising, whole = sorted(depths_mm), int(quarter)
    lowest = sum(rising[:whole]) + rising[whole] * (quarter - whole)
    an_hour = 60 / minutes
    return CanTest(
        rate_mm_h=sum(depths_mm) / len(depths_mm) * an_hour, lower_mm_h=lowest / quarter * an_hour, cans=len(depths_mm)
    )
