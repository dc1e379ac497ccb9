"""Quantities as people type and read them, in metric or US customary units; kept in one.

Conversions: NIST Special Publication 811 (2008), appendix B; those of the foot, the inch, the gallon and the mile are exact.
"""

import re
from dataclasses import dataclass, field

from skavit.core.ground.errors import UserError, quoted

_TYPED = re.compile(r"\s*([-−]?[0-9]+(?:[.,][0-9]+)?)\s*(\S.*?)?\s*")
GALLON_L, FOOT_M, INCH_MM, MILE_M = 3.785411784, 0.3048, 25.4, 1609.344


@dataclass(frozen=True, slots=True, kw_only=True)
class Measure:
    """One sort of quantity: the unit that it is kept in, and what one of each other unit is in it."""

    name: str
    unit: str
    us: str  # the one that a US customary crew means by a bare number
    others: dict[str, float]
    low: float
    high: float
    zero: dict[str, float] = field(default_factory=dict)  # what stands for nothing in a unit that does not begin there

    def read(self, text: str, *, us: bool = False) -> float:
        """The quantity in the unit that it is kept in; a bare number has that unit, or the US one. Raises :class:`UserError`."""
        match = _TYPED.fullmatch(text)
        unit = (
            " ".join((match[2] or self.bare(us=us)).lower().replace("²", "2").replace("³", "3").split())
            if match
            else ""
        )
        known = {self.unit.lower(): 1.0} | self.others
        if match is None or unit not in known:
            raise UserError(f"{quoted(text)} is no {self.name}; accepted: {self.accepted}")
        number = float(match[1].replace(",", ".").replace("−", "-"))
        value = (number - self.zero.get(unit, 0.0)) * known[unit]
        if not self.low <= value <= self.high:
            raise UserError(f"{quoted(text)} is out of range; accepted: {self.low:g} to {self.high:g} {self.unit}")
        return value

    @property
    def low_text(self) -> str:
        """An example in the unit that it is kept in."""
        return f"{min(max(self.low, 10.0), self.high):g} {self.unit}"

    def bare(self, *, us: bool) -> str:
        """The unit of a bare number."""
        return self.us if us else self.unit

    def typed(self, value: float, *, us: bool) -> str:
        """A quantity as a field shows it: a number in the unit that a bare number means."""
        if not us:
            return f"{value:g}"
        return f"{value / self.others[self.us.lower()] + self.zero.get(self.us.lower(), 0.0):.5g}"

    @property
    def accepted(self) -> str:
        """What may be typed, in words."""
        return f"a number, or one with {', '.join([self.unit, *self.others])}"


FLOW = Measure(
    name="flow", unit="l/min", us="gpm", low=1e-6, high=100_000,
    others={"l/s": 60, "l/h": 1 / 60, "m3/h": 1000 / 60, "gpm": GALLON_L, "gph": GALLON_L / 60},
)  # fmt: skip
VOLUME = Measure(
    name="volume", unit="l", us="gal", low=1e-3, high=10_000_000,
    others={"litres": 1, "ml": 0.001, "m3": 1000, "gal": GALLON_L},
)  # fmt: skip
PRESSURE = Measure(
    name="pressure", unit="kPa", us="psi", low=1, high=10_000, others={"bar": 100, "psi": 6.894757},
)  # fmt: skip
LENGTH = Measure(
    name="length", unit="m", us="ft", low=1e-4, high=10_000,
    others={"cm": 0.01, "mm": 0.001, "ft": FOOT_M, "in": INCH_MM / 1000},
)  # fmt: skip
AREA = Measure(
    name="area", unit="m2", us="sq ft", low=1e-4, high=10_000_000,
    others={"ha": 10_000, "ft2": FOOT_M**2, "sq ft": FOOT_M**2, "acre": 4046.8564224},
)  # fmt: skip
RATE = Measure(name="rate", unit="mm/h", us="in/h", low=1e-3, high=10_000, others={"in/h": INCH_MM})
DEPTH = Measure(name="depth", unit="mm", us="in", low=0, high=10_000, others={"cm": 10, "in": INCH_MM})
TEMPERATURE = Measure(name="temperature", unit="C", us="F", low=-90, high=60, others={"f": 5 / 9}, zero={"f": 32})
SPEED = Measure(name="speed", unit="m/s", us="mph", low=0, high=120, others={"km/h": 1 / 3.6, "mph": MILE_M / 3600})


def rate_text(mm_h: float) -> str:
    """A precipitation rate in both systems."""
    return f"{mm_h:.1f} mm/h, {mm_h / INCH_MM:.2f} in/h"


def depth_text(mm: float) -> str:
    """A depth of water in both systems."""
    return f"{mm:.1f} mm, {mm / INCH_MM:.2f} in"


def depth_of(mm: float, *, us: bool) -> str:
    """A depth of water in one system: 82 mm; 3.2 in."""
    return f"{mm / INCH_MM:,.1f} in" if us else f"{mm:,.0f} mm"


def rate_of(mm_h: float, *, us: bool) -> str:
    """A precipitation rate in one system: 13 mm/h; 0.51 in/h."""
    return f"{mm_h / INCH_MM:.2f} in/h" if us else f"{mm_h:.0f} mm/h"


def flow_of(l_min: float, *, us: bool) -> str:
    """A flow in one system: 38 l/min; 10 gpm."""
    return f"{l_min / GALLON_L:.3g} gpm" if us else f"{l_min:.4g} l/min"


LARGE_L = 10_000


def volume_of(litres: float, *, us: bool) -> str:
    """So much water in one system: 340 litres; 12.4 m³; 3,280 gal."""
    if us:
        return f"{litres / GALLON_L:,.0f} gal"
    return f"{litres:,.0f} litres" if litres < LARGE_L else f"{litres / 1000:,.1f} m³"


def pressure_of(kpa: float, *, us: bool) -> str:
    """A pressure in one system: 300 kPa; 44 psi."""
    return f"{kpa / PRESSURE.others['psi']:.0f} psi" if us else f"{kpa:.0f} kPa"


def warmth_of(c: float, *, us: bool) -> str:
    """A temperature in one system: 20.5 °C; 69 °F."""
    return f"{round(c * 9 / 5 + 32, 1):g} °F" if us else f"{round(c, 1):g} °C"


def kelvin_hours_of(kelvin_hours: float, *, us: bool) -> str:
    """Degrees times hours in one system."""
    return f"{kelvin_hours * 9 / 5 if us else kelvin_hours:,.0f} degree hours"


def degrees_of(kelvin: float, *, us: bool) -> str:
    """A difference of temperatures in one system."""
    return f"{round(kelvin * 9 / 5, 1):g} °F" if us else f"{round(kelvin, 1):g} °C"
