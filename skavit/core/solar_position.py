"""Where the sun stands: the NREL solar position algorithm, tabulated once a year and interpolated.

Source: I. Reda and A. Andreas, "Solar Position Algorithm for Solar Radiation Applications", Solar Energy 76(5), 2004,
pp. 577-589 (NREL/TP-560-34302, revised January 2008); step numbers below are those of its section 3.

Time is counted in days of UTC since 1970-01-01 00:00, with UT1 taken as UTC (they differ by less than 0.9 s by
definition, which moves every sun time by as much).
"""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from skavit.core import spa_terms

Floats = NDArray[np.float64]

TAU = 2 * np.pi
JULIAN_DAY_OF_1970 = 2440587.5
# Terrestrial minus universal time. IERS Bulletin A has it between 69.1 and 69.4 s from 2017 to 2026; ten seconds of
# it move the sun by 0.4 arcseconds, a sunrise by some 0.03 s, so a constant serves.
DELTA_T_S = 69.2
# Equatorial horizontal parallax at one astronomical unit (step 3.12.1), in radians.
PARALLAX_AT_1_AU = np.radians(8.794 / 3600)


@dataclass(frozen=True, slots=True, kw_only=True)
class Position:
    """The sun as seen from the earth's centre; arrays of one shape, angles in radians."""

    heliocentric_longitude: Floats
    heliocentric_latitude: Floats
    distance_au: Floats
    nutation_longitude: Floats
    obliquity: Floats
    apparent_longitude: Floats
    right_ascension: Floats
    declination: Floats
    sidereal_time: Floats  # apparent, at Greenwich


def _series(tables: tuple[tuple[tuple[float, float, float], ...], ...], millennia: Floats) -> Floats:
    """Sum of A cos(B + C t) over each table, as a polynomial in t (step 3.2), in radians or au."""
    total = np.zeros_like(millennia)
    for power, rows in enumerate(tables):
        a, b, c = np.array(rows, dtype=float).T
        total += (a @ np.cos(b[:, None] + c[:, None] * millennia)) * millennia**power
    return total / 1e8


def _nutation(centuries: Floats) -> tuple[Floats, Floats]:
    """Nutation in longitude and in obliquity (step 3.4), in radians."""
    t = centuries
    arguments = np.radians(
        np.array(
            [
                297.85036 + 445267.111480 * t - 0.0019142 * t**2 + t**3 / 189474,
                357.52772 + 35999.050340 * t - 0.0001603 * t**2 - t**3 / 300000,
                134.96298 + 477198.867398 * t + 0.0086972 * t**2 + t**3 / 56250,
                93.27191 + 483202.017538 * t - 0.0036825 * t**2 + t**3 / 327270,
                125.04452 - 1934.136261 * t + 0.0020708 * t**2 + t**3 / 450000,
            ]
        )
    )
    angles = np.array(spa_terms.NUTATION_ARGUMENTS, dtype=float) @ arguments
    a, b, c, d = np.array(spa_terms.NUTATION_AMPLITUDES, dtype=float).T[:, :, None]
    scale = np.radians(1 / 36_000_000)
    return np.sum((a + b * t) * np.sin(angles), axis=0) * scale, np.sum((c + d * t) * np.cos(angles), axis=0) * scale


def _mean_obliquity(millennia: Floats) -> Floats:
    """Mean obliquity of the ecliptic (step 3.5.1), in radians."""
    coefficients = [84381.448, -4680.93, -1.55, 1999.25, -51.38, -249.67, -39.05, 7.12, 27.87, 5.79, 2.45]
    return np.radians(np.polynomial.polynomial.polyval(millennia / 10, np.array(coefficients)) / 3600)


def position(day: Floats, delta_t_s: float = DELTA_T_S) -> Position:
    """The sun's geocentric apparent position by steps 3.1 to 3.10 of the algorithm.

    ``day`` is a one-dimensional array of days since 1970-01-01 UTC; ``delta_t_s`` is TT - UT1 in seconds.
    """
    julian_day = np.asarray(day, dtype=float) + JULIAN_DAY_OF_1970
    century = (julian_day - 2451545) / 36525
    ephemeris_century = (julian_day + delta_t_s / 86400 - 2451545) / 36525
    millennia = ephemeris_century / 10

    longitude = _series((spa_terms.L0, spa_terms.L1, spa_terms.L2, spa_terms.L3, spa_terms.L4, spa_terms.L5), millennia)
    latitude = _series((spa_terms.B0, spa_terms.B1), millennia)
    distance = _series((spa_terms.R0, spa_terms.R1, spa_terms.R2, spa_terms.R3, spa_terms.R4), millennia)
    nutation_longitude, nutation_obliquity = _nutation(ephemeris_century)
    obliquity = _mean_obliquity(millennia) + nutation_obliquity
    aberration = -np.radians(20.4898 / 3600) / distance
    apparent = longitude + np.pi + nutation_longitude + aberration
    beta = -latitude
    mean_sidereal = np.radians(
        280.46061837 + 360.98564736629 * (julian_day - 2451545) + 0.000387933 * century**2 - century**3 / 38_710_000
    )
    return Position(
        heliocentric_longitude=longitude % TAU,
        heliocentric_latitude=latitude,
        distance_au=distance,
        nutation_longitude=nutation_longitude,
        obliquity=obliquity,
        apparent_longitude=apparent % TAU,
        right_ascension=np.arctan2(
            np.sin(apparent) * np.cos(obliquity) - np.tan(beta) * np.sin(obliquity), np.cos(apparent)
        )
        % TAU,
        declination=np.arcsin(np.sin(beta) * np.cos(obliquity) + np.cos(beta) * np.sin(obliquity) * np.sin(apparent)),
        sidereal_time=(mean_sidereal + nutation_longitude * np.cos(obliquity)) % TAU,
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class Ephemeris:
    """Cubic pieces, one a day, of the sun's lead over the mean clock, its sine of declination and its parallax."""

    first_day: int
    pieces: NDArray[np.float64]  # shape (4, 3, days): power, quantity, day

    def around(self, day: Floats) -> "Arcs":
        """The pieces of the days in which the times ``day`` (n,) lie, good for a day to either side of them.

        A piece runs through the four days around its own, so within those it interpolates and does not extrapolate.
        """
        base = np.floor(day)
        return Arcs(base=base, pieces=self.pieces[:, :, (base - self.first_day).astype(np.int64)])


@dataclass(frozen=True, slots=True, kw_only=True)
class Arcs:
    """Pieces of an ephemeris picked for ``n`` dates; times are of shape (..., n)."""

    base: Floats  # (n,)
    pieces: NDArray[np.float64]  # (4, 3, n)

    def _cubic(self, quantity: int, day: Floats) -> Floats:
        f = day - self.base
        c0, c1, c2, c3 = self.pieces[:, quantity]
        found: Floats = c0 + f * (c1 + f * (c2 + f * c3))
        return found

    def hour_angle(self, day: Floats) -> Floats:
        """Greenwich hour angle, continuous through the day."""
        return TAU * (day - self.base) + self._cubic(0, day)

    def sine_declination(self, day: Floats) -> Floats:
        """Sine of the declination."""
        return self._cubic(1, day)

    def sine_rate(self, day: Floats) -> Floats:
        """Change of the sine of declination a day."""
        f = day - self.base
        _, c1, c2, c3 = self.pieces[:, 1]
        found: Floats = c1 + f * (2 * c2 + f * 3 * c3)
        return found

    @property
    def parallax(self) -> Floats:
        """Horizontal parallax; it moves by 2e-8 rad a day, so the day's own serves."""
        found: Floats = self.pieces[0, 2]
        return found

    def select(self, columns: NDArray[np.int64]) -> "Arcs":
        """The pieces of some of the dates."""
        return Arcs(base=self.base[columns], pieces=self.pieces[:, :, columns])


@lru_cache(maxsize=64)
def ephemeris(first_year: int, last_year: int) -> Ephemeris:
    """The ephemeris of whole calendar years, with four days to spare at either end; kept once made."""
    first = int(np.datetime64(f"{first_year:04d}-01-01", "D").astype(np.int64)) - 4
    last = int(np.datetime64(f"{last_year + 1:04d}-01-01", "D").astype(np.int64)) + 4
    days = np.arange(first - 1, last + 3, dtype=float)
    sun = position(days)
    # Greenwich hour angle less one turn a day: the equation of time plus a constant, smooth once unwrapped.
    lead = np.unwrap(sun.sidereal_time - sun.right_ascension - TAU * np.mod(days, 1))
    y = np.array([lead, np.sin(sun.declination), PARALLAX_AT_1_AU / sun.distance_au])
    # Lagrange's cubic through the four days around each day. Its error is some 1e-9 rad, nutation included.
    before, here, after, later = y[:, :-3], y[:, 1:-2], y[:, 2:-1], y[:, 3:]
    pieces = np.array(
        [
            here,
            -before / 3 - here / 2 + after - later / 6,
            (before + after) / 2 - here,
            (later - before) / 6 + (here - after) / 2,
        ]
    )
    return Ephemeris(first_day=first, pieces=pieces)
