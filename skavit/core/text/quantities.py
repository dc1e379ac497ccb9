"""Quantities as people type and read them, in metric or US customary units; kept in one.

Conversions: NIST Special Publication 811 (2008), appendix B; those of the foot, the inch, the gallon and the mile are exact.
"""

import re
from dataclasses import dataclass, field

from skavit.core.ground.errors import SkavitError, quoted

_TYPED = re.compile(r"\s*([-−]?[0-9]+(?:[.,][0-9]+)?)\s*(\S.*?)?\s*")
GALLON_L, FOOT_M, INCH_MM, MILE_M = 3.785411784, 0.3048, 25.4, 1609.344


@dataclass(frozen=True, slots=True, kw_only=True)
class Measure:
    """One sort of quantity: the unit that it is kept in, and what one of each other unit is in it."""

    name: str
    unit: str
    others: dict[str, float]
    low: float
    high: float
    zero: dict[str, float] = field(default_factory=dict)  # what stands for nothing in a unit that does not begin there

    def read(self, text: str) -> float:
        """The quantity in the unit that it is kept in; a bare number has that unit. Raises :class:`SkavitError`."""
        match = _TYPED.fullmatch(text)
        unit = " ".join((match[2] or self.unit).lower().replace("²", "2").replace("³", "3").split()) if match else ""
        known = {self.unit.lower(): 1.0} | self.others
        if match is None or unit not in known:
            raise SkavitError(f"{quoted(text)} is no {self.name}; accepted: {self.accepted}")
        number = float(match[1].replace(",", ".").replace("−", "-"))
        value = (number - self.zero.get(unit, 0.0)) * known[unit]
        if not self.low <= value <= self.high:
            raise SkavitError(f"{quoted(text)} is out of range; accepted: {self.low:g} to {self.high:g} {self.unit}")
        return value

    @property
    def accepted(self) -> str:
        """What may be typed, in words."""
        return f"a number, or one with {', '.join([self.unit, *self.others])}"


FLOW = Measure(
    name="flow", unit="l/min", low=1e-6, high=100_000,
    others={"l/s": 60, "l/h": 1 / 60, "m3/h": 1000 / 60, "gpm": GALLON_L, "gph": GALLON_L / 60},
)  # fmt: skip
LENGTH = Measure(
    name="length", unit="m", low=1e-4, high=10_000,
    others={"cm": 0.01, "mm": 0.001, "ft": FOOT_M, "in": INCH_MM / 1000},
)  # fmt: skip
AREA = Measure(
    name="area", unit="m2", low=1e-4, high=10_000_000,
    others={"ha": 10_000, "ft2": FOOT_M**2, "sq ft": FOOT_M**2, "acre": 4046.8564224},
)  # fmt: skip
RATE = Measure(name="rate", unit="mm/h", low=1e-3, high=10_000, others={"in/h": INCH_MM})
DEPTH = Measure(name="depth", unit="mm", low=0, high=10_000, others={"cm": 10, "in": INCH_MM})
TEMPERATURE = Measure(name="temperature", unit="C", low=-90, high=60, others={"f": 5 / 9}, zero={"f": 32})
SPEED = Measure(name="speed", unit="m/s", low=0, high=120, others={"km/h": 1 / 3.6, "mph": MILE_M / 3600})


def rate_text(mm_h: float) -> str:
    """A precipitation rate in both systems."""
    return f"{mm_h:.1f} mm/h, {mm_h / INCH_MM:.2f} in/h"


def depth_text(mm: float) -> str:
    """A depth of water in both systems."""
    return f"{mm:.1f} mm, {mm / INCH_MM:.2f} in"
