"""Where the sun is: the NREL solar position algorithm, tabulated once a year and interpolated.

Source: I. Reda and A. Andreas, "Solar Position Algorithm for Solar Radiation Applications", Solar Energy 76(5), 2004,
pp. 577-589 (NREL/TP-560-34302, revised January 2008); step numbers below are those of its section 3.

Time is counted in days of UTC since 1970-01-01 00:00, with UT1 taken as UTC (they differ by less than 0.9 s by
definition, which moves every sun time by as much).
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from skavit.core.ground.arrays import Floats, Ints
from skavit.core.sun import spa_terms

TAU = 2 * np.pi
JULIAN_DAY_OF_1970 = 2440587.5
# Terrestrial minus universal time. IERS Bulletin A has it between 69.1 and 69.4 s from 2017 to 2026; ten seconds of
# it move the sun by 0.4 arcseconds, a sunrise by some 0.03 s, so a constant serves.
DELTA_T_S = 69.2
# The nodes of the tabulated ephemeris stand so far apart.
STEP_DAYS = 4
# Nodes of one block of the tabulation: a quarter of a year.
BLOCK = 25
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


@dataclass(frozen=True, slots=True, kw_only=True)
class _Series:
    """Sums of A cos(x) over terms whose angles x run evenly with time.

    Times that stand :data:`STEP_DAYS` apart are taken in blocks: cos(x + y) = cos x cos y - sin x sin y, with x at a
    block's start and y the way from there, the same in every block. Only the x are left to work out.
    """

    cosines: Floats  # A cos y, (terms, sums, BLOCK)
    sines: Floats

    @classmethod
    def of(cls, amplitude: Floats, rate: Floats) -> "_Series":
        """``amplitude`` (terms, sums); ``rate`` (terms,) in radians a day."""
        way = rate[:, None, None] * np.arange(BLOCK) * STEP_DAYS
        return cls(cosines=amplitude[:, :, None] * np.cos(way), sines=amplitude[:, :, None] * np.sin(way))

    def sums(self, start: Floats, width: int) -> Floats:
        """The sums, (sums, blocks * width), of blocks with the angles ``start`` (blocks, terms)."""
        terms, sums, _ = self.cosines.shape
        flat = np.cos(start) @ self.cosines[:, :, :width].reshape(terms, -1)
        flat -= np.sin(start) @ self.sines[:, :, :width].reshape(terms, -1)
        return flat.reshape(-1, sums, width).swapaxes(0, 1).reshape(sums, -1)


# The periodic sums of step 3.2: the powers of t of longitude, latitude and radius, in this order.
_POWERS = (
    (spa_terms.L0, spa_terms.L1, spa_terms.L2, spa_terms.L3, spa_terms.L4, spa_terms.L5),
    (spa_terms.B0, spa_terms.B1),
    (spa_terms.R0, spa_terms.R1, spa_terms.R2, spa_terms.R3, spa_terms.R4),
)
_ROWS = [(number, row) for number, rows in enumerate(rows for powers in _POWERS for rows in powers) for row in rows]
_TERMS = np.array([row for _, row in _ROWS], dtype=float)
_PHASE, _RATE = _TERMS[:, 1].copy(), _TERMS[:, 2].copy()  # radians, radians a millennium
_AMPLITUDE = np.zeros((len(_ROWS), sum(map(len, _POWERS))))
_AMPLITUDE[np.arange(len(_ROWS)), [number for number, _ in _ROWS]] = _TERMS[:, 0] / 1e8
_HELIOCENTRIC = _Series.of(_AMPLITUDE, _RATE / 365250)

# The arguments of step 3.4.1 to 3.4.5: degrees, and their change with the powers of a century.
_ARGUMENTS = np.array(
    [
        [297.85036, 445267.111480, -0.0019142, 1 / 189474],
        [357.52772, 35999.050340, -0.0001603, -1 / 300000],
        [134.96298, 477198.867398, 0.0086972, 1 / 56250],
        [93.27191, 483202.017538, -0.0036825, 1 / 327270],
        [125.04452, -1934.136261, 0.0020708, 1 / 450000],
    ]
)
_MULTIPLES = np.array(spa_terms.NUTATION_ARGUMENTS, dtype=float)
# Sines of the longitude's terms, then cosines of the obliquity's, each with and without t. Within a block an argument
# runs evenly but for 5e-6 degrees, its square's share.
_LONGITUDE, _OBLIQUITY = np.split(np.radians(np.array(spa_terms.NUTATION_AMPLITUDES, dtype=float) / 36_000_000), 2, 1)
_NUTATION = _Series.of(
    np.block([[_LONGITUDE, np.zeros_like(_LONGITUDE)], [np.zeros_like(_OBLIQUITY), _OBLIQUITY]]),
    np.tile(_MULTIPLES @ np.radians(_ARGUMENTS[:, 1] / 36525), 2),
)


def _heliocentric(millennia: Floats, width: int) -> list[Floats]:
    """Longitude and latitude in radians and the radius in au (step 3.2): sums of A cos(B + C t), polynomials in t."""
    sums = iter(_HELIOCENTRIC.sums(_PHASE + _RATE * millennia[::width, None], width)[:, : millennia.size])
    return [_polynomial([next(sums) for _ in powers], millennia) for powers in _POWERS]


def _polynomial(coefficients: Sequence[Floats | float], t: Floats) -> Floats:
    """The sum of the coefficients times the powers of t, lowest first."""
    found = np.zeros_like(t)
    for coefficient in reversed(coefficients):
        found *= t
        found += coefficient
    return found


def _nutation(centuries: Floats, width: int) -> tuple[Floats, Floats]:
    """Nutation in longitude and in obliquity (step 3.4), in radians."""
    t = centuries[::width]
    angles = np.radians(_ARGUMENTS @ np.array([np.ones_like(t), t, t**2, t**3])).T @ _MULTIPLES.T
    sums = _NUTATION.sums(np.hstack([angles - np.pi / 2, angles]), width)[:, : centuries.size]
    return sums[0] + sums[1] * centuries, sums[2] + sums[3] * centuries


def _mean_obliquity(millennia: Floats) -> Floats:
    """Mean obliquity of the ecliptic (step 3.5.1), in radians."""
    coefficients = [84381.448, -4680.93, -1.55, 1999.25, -51.38, -249.67, -39.05, 7.12, 27.87, 5.79, 2.45]
    return np.radians(_polynomial(coefficients, millennia / 10) / 3600)


def position(day: Floats, delta_t_s: float = DELTA_T_S) -> Position:
    """The sun's geocentric apparent position by steps 3.1 to 3.10 of the algorithm.

    ``day`` is a one-dimensional array of days since 1970-01-01 UTC; ``delta_t_s`` is TT - UT1 in seconds.
    """
    julian_day = np.asarray(day, dtype=float) + JULIAN_DAY_OF_1970
    century = (julian_day - 2451545) / 36525
    ephemeris_century = (julian_day + delta_t_s / 86400 - 2451545) / 36525
    millennia = ephemeris_century / 10
    width = BLOCK if julian_day.size > BLOCK and np.all(np.diff(julian_day) == STEP_DAYS) else 1

    longitude, latitude, distance = _heliocentric(millennia, width)
    nutation_longitude, nutation_obliquity = _nutation(ephemeris_century, width)
    obliquity = _mean_obliquity(millennia) + nutation_obliquity
    aberration = -ABERRATION_AT_1_AU / distance
    apparent = longitude + np.pi + nutation_longitude + aberration
    beta = -latitude
    sine, cosine = np.sin(obliquity), np.cos(obliquity)
    across, along = np.sin(apparent), np.cos(apparent)
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
        right_ascension=np.arctan2(across * cosine - np.tan(beta) * sine, along) % TAU,
        declination=np.arcsin(np.sin(beta) * cosine + np.cos(beta) * sine * across),
        sidereal_time=(mean_sidereal + nutation_longitude * cosine) % TAU,
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class Ephemeris:
    """Cubic pieces of :data:`STEP_DAYS` of the Greenwich hour angle's lead, the sine of declination, the parallax."""

    first_day: int
    pieces: Floats  # shape (4, 3, pieces): power, quantity, piece

    def around(self, day: Floats) -> "Arcs":
        """The pieces in which the times ``day`` (n,) lie, good for a day to either side of them.

        A piece runs through the four nodes around it, so within those it interpolates and does not extrapolate.
        """
        index = ((day - self.first_day) // STEP_DAYS).astype(np.int64)
        base = np.asarray(self.first_day + index * STEP_DAYS, dtype=np.float64)
        return Arcs(base=base, pieces=np.take(self.pieces, index, axis=2))  # laid out row by row, unlike an index


@dataclass(frozen=True, slots=True, kw_only=True)
class Arcs:
    """Pieces of an ephemeris picked for ``n`` dates; times are of shape (..., n)."""

    base: Floats  # (n,)
    pieces: Floats  # (4, 3, n)

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

    def select(self, columns: Ints) -> "Arcs":
        """The pieces of some of the dates."""
        return Arcs(base=self.base[columns], pieces=np.take(self.pieces, columns, axis=2))


# Lagrange's cubic through the four nodes around each piece: powers from the nodes' values. Its error is some 1e-7 rad,
# two milliseconds of the sun's way, most of it from the nutation's terms of two weeks.
_LAGRANGE = np.array([[0, 6, 0, 0], [-2, -3, 6, -1], [3, -6, 3, 0], [-1, 3, -3, 1]]) / 6


@lru_cache(maxsize=64)
def ephemeris(first_year: int, last_year: int) -> Ephemeris:
    """The ephemeris of whole calendar years, with some days to spare at either end; kept once made."""
    first = int(np.datetime64(f"{first_year:04d}-01-01", "D").astype(np.int64)) - 4
    last = int(np.datetime64(f"{last_year + 1:04d}-01-01", "D").astype(np.int64)) + 4
    days = np.arange(first - STEP_DAYS, last + 3 * STEP_DAYS, STEP_DAYS, dtype=float)
    sun = position(days)
    # Greenwich hour angle at 0:00, half a turn plus the equation of time: never near to where the turn begins anew.
    lead = np.mod(sun.sidereal_time - sun.right_ascension, TAU)
    y = np.array([lead, np.sin(sun.declination), PARALLAX_AT_1_AU / sun.distance_au])
    around = np.array([y[:, :-3], y[:, 1:-2], y[:, 2:-1], y[:, 3:]])
    pieces = (_LAGRANGE @ around.reshape(4, -1)).reshape(around.shape)
    return Ephemeris(first_day=first, pieces=pieces)
