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
# The nodes of the tabulated ephemeris stand so far apart.
STEP_DAYS = 4
# Nodes of one block of the tabulation.
BLOCK = 10
# Equatorial horizontal parallax at one astronomical unit (step 3.12.1), in radians.
PARALLAX_AT_1_AU = np.radians(8.794 / 3600)
ABERRATION_AT_1_AU = np.radians(20.4898 / 3600)  # step 3.6


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


# All periodic terms of step 3.2 in one table: each row's B and C, and its A in the column of its sum. The sums are
# the powers of t of longitude, latitude and radius, in this order.
_SUMS = tuple(
    (quantity, rows)
    for quantity, powers in enumerate(
        (
            (spa_terms.L0, spa_terms.L1, spa_terms.L2, spa_terms.L3, spa_terms.L4, spa_terms.L5),
            (spa_terms.B0, spa_terms.B1),
            (spa_terms.R0, spa_terms.R1, spa_terms.R2, spa_terms.R3, spa_terms.R4),
        )
    )
    for rows in powers
)
_TERMS = np.array([row for _, rows in _SUMS for row in rows], dtype=float)
_PHASE, _RATE = _TERMS[:, 1].copy(), _TERMS[:, 2].copy()
_AMPLITUDE = np.zeros((len(_SUMS), len(_TERMS)))
_start = 0
for _sum, (_, _rows) in enumerate(_SUMS):
    _AMPLITUDE[_sum, _start : _start + len(_rows)] = _TERMS[_start : _start + len(_rows), 0] / 1e8
    _start += len(_rows)
_NUTATION_ARGUMENTS = np.array(spa_terms.NUTATION_ARGUMENTS, dtype=np.int64)
_MOST_MULTIPLE = int(np.abs(_NUTATION_ARGUMENTS).max())
_NUTATION_SINES = np.array(spa_terms.NUTATION_AMPLITUDES, dtype=float).T[:2]
_NUTATION_COSINES = np.array(spa_terms.NUTATION_AMPLITUDES, dtype=float).T[2:]


def _cosines(millennia: Floats) -> Floats:
    """cos(B + C t) of all periodic terms, shape (times, terms).

    Times that stand evenly apart are split into blocks, and the cosine of a sum taken for the cosine of each: a tenth
    of the cosines to work out.
    """
    count = millennia.size
    steps = np.diff(millennia)
    if count < BLOCK * 2 or np.ptp(steps) > 1e-9 * steps[0]:
        return np.cos(_PHASE + _RATE * millennia[:, None])
    near = _RATE * (millennia[:BLOCK, None] - millennia[0])
    far = _PHASE + _RATE * millennia[::BLOCK, None]
    blocks = np.cos(far)[:, None] * np.cos(near) - np.sin(far)[:, None] * np.sin(near)
    return blocks.reshape(-1, len(_TERMS))[:count]


def _heliocentric(millennia: Floats) -> list[Floats]:
    """Longitude and latitude in radians and the radius in au (step 3.2): sums of A cos(B + C t), polynomials in t."""
    sums = (_cosines(millennia) @ _AMPLITUDE.T).T
    found = [np.zeros_like(millennia) for _ in range(3)]
    for (quantity, _), values in zip(_SUMS[::-1], sums[::-1], strict=True):  # highest power first
        found[quantity] *= millennia
        found[quantity] += values
    return found


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
    # exp(i sum Y X) is the product of whole powers of the five exp(i X): five exponentials in place of 63.
    once = np.exp(1j * arguments)[:, None]
    up = np.cumprod(np.repeat(once, _MOST_MULTIPLE, axis=1), axis=1)
    powers = np.concatenate([up[:, ::-1].conj(), np.ones_like(once), up], axis=1)
    waves = np.ones((len(_NUTATION_ARGUMENTS), t.size), dtype=complex)
    for argument, multiples in enumerate(_NUTATION_ARGUMENTS.T):
        waves *= powers[argument, multiples + _MOST_MULTIPLE]
    sines, cosines = _NUTATION_SINES @ waves.imag, _NUTATION_COSINES @ waves.real
    scale = np.radians(1 / 36_000_000)
    return (sines[0] + sines[1] * t) * scale, (cosines[0] + cosines[1] * t) * scale


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

    longitude, latitude, distance = _heliocentric(millennia)
    nutation_longitude, nutation_obliquity = _nutation(ephemeris_century)
    obliquity = _mean_obliquity(millennia) + nutation_obliquity
    aberration = -ABERRATION_AT_1_AU / distance
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
    """Cubic pieces of :data:`STEP_DAYS` of the Greenwich hour angle's lead, the sine of declination, the parallax."""

    first_day: int
    pieces: NDArray[np.float64]  # shape (4, 3, pieces): power, quantity, piece

    def around(self, day: Floats) -> "Arcs":
        """The pieces in which the times ``day`` (n,) lie, good for a day to either side of them.

        A piece runs through the four nodes around it, so within those it interpolates and does not extrapolate.
        """
        index = ((day - self.first_day) // STEP_DAYS).astype(np.int64)
        base = np.asarray(self.first_day + index * STEP_DAYS, dtype=np.float64)
        return Arcs(base=base, pieces=self.pieces[:, :, index])


@dataclass(frozen=True, slots=True, kw_only=True)
class Arcs:
    """Pieces of an ephemeris picked for ``n`` dates; times are of shape (..., n)."""

    base: Floats  # (n,)
    pieces: NDArray[np.float64]  # (4, 3, n)

    def _cubic(self, quantity: int, f: Floats) -> Floats:
        c0, c1, c2, c3 = self.pieces[:, quantity]
        found: Floats = f * c3
        found += c2  # in place: this is the innermost loop of a year of sun times
        found *= f
        found += c1
        found *= f
        found += c0
        return found

    def hour_angle(self, day: Floats) -> Floats:
        """Greenwich hour angle, continuous through the day."""
        away = day - self.base
        return TAU * away + self._cubic(0, away / STEP_DAYS)

    def sine_declination(self, day: Floats) -> Floats:
        """Sine of the declination."""
        return self._cubic(1, (day - self.base) / STEP_DAYS)

    def both(self, day: Floats) -> tuple[Floats, Floats]:
        """Greenwich hour angle and sine of declination."""
        away = day - self.base
        f = away / STEP_DAYS
        angle = self._cubic(0, f)
        angle += TAU * away
        return angle, self._cubic(1, f)

    def sine_rate(self, day: Floats) -> Floats:
        """Change of the sine of declination a day."""
        f = (day - self.base) / STEP_DAYS
        _, c1, c2, c3 = self.pieces[:, 1]
        found: Floats = (c1 + f * (2 * c2 + f * 3 * c3)) / STEP_DAYS
        return found

    @property
    def parallax(self) -> Floats:
        """Horizontal parallax; it moves by 2e-8 rad a day, so the piece's own serves."""
        found: Floats = self.pieces[0, 2]
        return found

    def select(self, columns: NDArray[np.int64]) -> "Arcs":
        """The pieces of some of the dates."""
        return Arcs(base=self.base[columns], pieces=self.pieces[:, :, columns])


@lru_cache(maxsize=64)
def ephemeris(first_year: int, last_year: int) -> Ephemeris:
    """The ephemeris of whole calendar years, with some days to spare at either end; kept once made."""
    first = int(np.datetime64(f"{first_year:04d}-01-01", "D").astype(np.int64)) - 4
    last = int(np.datetime64(f"{last_year + 1:04d}-01-01", "D").astype(np.int64)) + 4
    days = np.arange(first - STEP_DAYS, last + 3 * STEP_DAYS, STEP_DAYS, dtype=float)
    sun = position(days)
    # Greenwich hour angle less one turn a day: the equation of time plus a constant, smooth once unwrapped.
    lead = np.unwrap(sun.sidereal_time - sun.right_ascension - TAU * np.mod(days, 1))
    y = np.array([lead, np.sin(sun.declination), PARALLAX_AT_1_AU / sun.distance_au])
    # Lagrange's cubic through the four nodes around each piece. Its error is some 1e-7 rad, two milliseconds of the
    # sun's way, most of it from the nutation's terms of two weeks.
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
