"""Sun times of a place for whole ranges of dates: noon, dawn, sunrise, sunset, dusk.

The rules are the plan file's (docs/plan-file.md, "Values"): a date's times hang on its solar noon, the upper transit
nearest to 12:00 local standard time; sunrise and dawn are the last upward crossings between the lower transit before
it and the noon, sunset and dusk the first downward crossings between the noon and the lower transit after it.
Altitudes are topocentric at sea level on WGS84, with no refraction beyond that in -0.8333 degrees.
"""

from dataclasses import dataclass
from enum import IntEnum

import numpy as np

from skavit.core.ground.arrays import DAY_S, Bools, Floats, Ints
from skavit.core.sun.solar_position import TAU, Arcs, ephemeris

# Upper limb with standard refraction, and the end of civil twilight: the usual conventions, fixed by the plan file.
SUNRISE_ALTITUDE_DEG = -0.8333
CIVIL_ALTITUDE_DEG = -6.0
WGS84_POLAR_RATIO = 0.99664719  # as step 3.12.2 of the solar position algorithm has it
USUAL_ALTITUDES_DEG = (CIVIL_ALTITUDE_DEG, SUNRISE_ALTITUDE_DEG)
# Rows of dawn, sunrise, sunset and dusk: which of the two altitudes, and before or after the noon.
ALTITUDE_OF_ROW = np.array([0, 1, 1, 0])
SIDES = np.array([-1.0, -1.0, 1.0, 1.0])[:, None]
FIRST_YEAR, LAST_YEAR = 1900, 2400
# Hour angles are iterated where the crossing is clear; nearer to grazing than this it is bracketed on altitude.
CLEAR_COSINE = 0.95
STEADY_SINE = 0.71  # of 45 degrees of latitude


class SunEvent(IntEnum):
    """The four sun times that a plan can name; the value is their row in :attr:`SunDays.times`."""

    DAWN = 0
    SUNRISE = 1
    SUNSET = 2
    DUSK = 3

    @property
    def morning(self) -> bool:
        """Whether the event lies before its noon."""
        return self <= SunEvent.SUNRISE

    @property
    def swapped(self) -> "SunEvent":
        """The one of the other half-day: sunset for sunrise, dusk for dawn."""
        return SunEvent(3 - self)


@dataclass(frozen=True, slots=True, kw_only=True)
class SunDays:
    """Sun times of ``n`` dates at one place; instants are whole seconds of UTC since 1970."""

    days: Ints  # (n,) dates, as days since 1970-01-01
    noon: Ints  # (n,)
    times: Ints  # (4, n), rows as in SunEvent; the limit instant where there is no crossing
    crosses: Bools  # (4, n): the sun does cross the altitude in that half-day
    up_at_noon: Bools  # (4, n): at noon it is above the altitude (no crossing then means polar day)

    def kind(self, i: int) -> str:
        """``normal``, ``polar-day`` or ``polar-night``, of sunrise and sunset on the ``i``-th date."""
        rows = [SunEvent.SUNRISE, SunEvent.SUNSET]
        if all(self.crosses[rows, i]):
            return "normal"
        return "polar-day" if self.up_at_noon[SunEvent.SUNRISE, i] else "polar-night"


def to_seconds(day: Floats) -> Ints:
    """Days since 1970 to the nearest whole second, halves up."""
    return np.floor(day * DAY_S + 0.5).astype(np.int64)


@dataclass(frozen=True, slots=True, kw_only=True)
class _Sky:
    """The sun over a place on ``n`` dates: hour angle and sine of altitude as functions of times (..., n).

    The place is one for all dates, each number of shape (), or one a date, of shape (n,).
    """

    arcs: Arcs
    longitude: Floats
    sine: Floats
    cosine: Floats
    lift: Floats  # what one radian of parallax takes off the sine of altitude there

    def height(self, day: Floats, threshold: Floats) -> Floats:
        """Sine of the topocentric altitude less ``threshold`` (a sine)."""
        sine = self.arcs.sine_declination(day)
        angle = self.arcs.hour_angle(day) + self.longitude
        up: Floats = self.sine * sine + self.cosine * np.sqrt(1 - sine**2) * np.cos(angle)
        return up - self.needed(threshold)

    def needed(self, threshold: Floats) -> Floats:
        """The sine of geocentric altitude at which the topocentric one has the sine ``threshold``."""
        return threshold + self.arcs.parallax * (self.lift - threshold)

    def transit(self, near: Floats, angle: float) -> Floats:
        """The time at which the hour angle is ``angle`` (0 or pi), nearest to ``near``."""
        away = self.arcs.hour_angle(near) + (self.longitude - angle)
        turns = np.floor(away / TAU + 0.5)
        day: Floats = near - away / TAU + turns
        # Each step leaves some 2e-4 of the error: under a millisecond after two.
        away = self.arcs.hour_angle(day) + (self.longitude - angle)
        found: Floats = day - away / TAU + turns
        return found

    def extreme(self, transit: Floats, upper: bool) -> Floats:
        """When the altitude is greatest (least) near an upper (lower) transit: the declination moves meanwhile."""
        sine = self.arcs.sine_declination(transit)
        cosine = np.sqrt(1 - sine**2)
        side = 1.0 if upper else -1.0
        tangent = self.sine / np.maximum(self.cosine, 1e-9)
        pull = self.arcs.sine_rate(transit) * (tangent * cosine - sine * side) / (cosine**2 * TAU)
        return transit + side * np.arcsin(np.clip(pull, -1, 1)) / TAU

    def select(self, columns: Ints) -> "_Sky":
        """The same sky on some of the dates."""
        longitude, sine, cosine, lift = (
            part[columns] if part.ndim else part for part in (self.longitude, self.sine, self.cosine, self.lift)
        )
        return _Sky(arcs=self.arcs.select(columns), longitude=longitude, sine=sine, cosine=cosine, lift=lift)


def _clear_crossings(sky: _Sky, noon: Floats, sine_altitudes: Floats) -> tuple[Floats, Bools]:
    """Crossings of two altitudes by iterated hour angle, shape (4, n), and where that is safely away from grazing."""
    angle_at_noon, sine = sky.arcs.both(noon)
    tangent = sky.sine / sky.cosine
    needed = sky.needed(sine_altitudes) / sky.cosine

    def half_day(needed: Floats, sine: Floats) -> tuple[Floats, Floats]:
        """The hour angle at which the sun reaches an altitude, and its cosine."""
        cosine = needed - tangent * sine
        cosine /= np.sqrt(1 - sine * sine)
        return cosine, np.arccos(np.minimum(np.maximum(cosine, -1), 1))

    # At noon morning and evening are alike. Each further step leaves up to 1e-3 of the error at 40 degrees and 8e-3
    # where it is still clear near the polar circles.
    day = noon + SIDES * (half_day(needed, sine)[1] / TAU)[ALTITUDE_OF_ROW]
    needed = needed[ALTITUDE_OF_ROW]
    for _ in range(2 if np.all(np.abs(sky.sine) < STEADY_SINE) else 3):
        angle, sine = sky.arcs.both(day)
        cosine, half = half_day(needed, sine)
        half *= SIDES
        half -= angle
        half += angle_at_noon
        half /= TAU
        day = day + half
    return day, np.abs(cosine) < CLEAR_COSINE


def _bracketed(sky: _Sky, low: Floats, high: Floats, threshold: Floats) -> tuple[Floats, Bools]:
    """The one crossing between a lowest and a highest point, by bisection to 1e-4 s, and whether there is one."""
    exists = (sky.height(low, threshold) < 0) & (sky.height(high, threshold) >= 0)
    for _ in range(30):
        middle = (low + high) / 2
        above = sky.height(middle, threshold) >= 0
        high = np.where(above, middle, high)
        low = np.where(above, low, middle)
    return high, exists


def sun_days(
    latitude: float | Floats,
    longitude: float | Floats,
    days: Ints,
    standard_offset_s: Ints | int,
    altitudes_deg: tuple[float, float] = USUAL_ALTITUDES_DEG,
) -> SunDays:
    """Sun times of the local dates ``days`` at a place, or each at a place of its own.

    ``latitude`` and ``longitude`` in degrees, north and east positive, one or (n,); ``days`` an array of shape (n,) of days since
    1970-01-01; ``standard_offset_s`` the local standard time's offset from UTC in seconds, one or (n,);
    ``altitudes_deg`` that of dawn and dusk, and that of sunrise and sunset.
    """
    days = np.asarray(days, dtype=np.int64)
    if days.size == 0:
        none = np.zeros((4, 0), dtype=bool)
        return SunDays(days=days, noon=days, times=np.zeros((4, 0), dtype=np.int64), crosses=none, up_at_noon=none)
    years = np.array([days.min(), days.max()], dtype="datetime64[D]").astype("datetime64[Y]").astype(int) + 1970
    phi = np.radians(latitude)
    reduced = np.arctan(WGS84_POLAR_RATIO * np.tan(phi))
    midday = days + 0.5 - np.asarray(standard_offset_s) / DAY_S
    sky = _Sky(
        arcs=ephemeris(int(years[0]), int(years[1])).around(midday),
        longitude=np.asarray(np.radians(longitude)),
        sine=np.asarray(np.sin(phi)),
        cosine=np.asarray(np.cos(phi)),
        lift=np.asarray(np.cos(reduced) * np.cos(phi) + WGS84_POLAR_RATIO * np.sin(reduced) * np.sin(phi)),
    )
    noon = sky.transit(midday, 0.0)
    sine_altitudes = np.sin(np.radians(altitudes_deg))
    when, crosses = _clear_crossings(sky, noon, sine_altitudes[:, None])
    # Where the crossing is clear the sun is up at noon; the rest is looked at closely.
    up_at_noon = crosses.copy()
    rows, columns = np.nonzero(~crosses)
    if rows.size:
        found = _near_grazing(sky.select(columns), noon[columns], rows, sine_altitudes[ALTITUDE_OF_ROW[rows]])
        when[rows, columns], crosses[rows, columns], up_at_noon[rows, columns] = found
    return SunDays(days=days, noon=to_seconds(noon), times=to_seconds(when), crosses=crosses, up_at_noon=up_at_noon)


def _near_grazing(sky: _Sky, noon: Floats, rows: Ints, threshold: Floats) -> tuple[Floats, Bools, Bools]:
    """Events bracketed on altitude: (when, whether it crosses, whether it is up at noon), of shape (n,).

    Where there is no crossing, ``when`` is the limit: the half-day's lower transit in the polar day, else the noon.
    """
    under = sky.transit(noon + np.where(rows <= SunEvent.SUNRISE, -0.5, 0.5), np.pi)
    first, last = np.minimum(noon, under), np.maximum(noon, under)
    highest = np.clip(sky.extreme(noon, upper=True), first, last)
    lowest = np.clip(sky.extreme(under, upper=False), first, last)
    when, crosses = _bracketed(sky, lowest, highest, threshold)
    up_at_noon = sky.height(noon, threshold) > 0
    return np.where(crosses, when, np.where(up_at_noon, under, noon)), crosses, up_at_noon
