"""What the sun times that a unit shows say: the correction to key in, the place they imply, the error of the year.

A unit shows whole minutes in its zone's local clock. Noon between a shown sunrise and sunset gives the table's
longitude (four minutes a degree), the time between them its latitude. All places whose times round to those shown are
sought, so that the uncertainty is a bound and no estimate: near the equinoxes the day is twelve hours long everywhere
and the latitude may be anything.
"""

from dataclasses import dataclass
from datetime import date
from enum import Enum
from itertools import combinations

import numpy as np

from skavit.core.ground.arrays import DAY_S, Floats, Ints
from skavit.core.ground.errors import UserError
from skavit.core.ground.strict_json import Node
from skavit.core.plan.document import Site
from skavit.core.plan.sun_settings import Adjust, SunSettings
from skavit.core.plan.times import day_number, day_of, read_clock_time, read_date
from skavit.core.site.almanac import almanac, sun_on, unit_almanac
from skavit.core.site.clock import standard_offset_s, zone_clock
from skavit.core.sun import SunEvent, sun_days

SECONDS_A_DEGREE = 240
# A shown minute stands for half a minute to either side, and tables differ by a second from one another.
ROUNDING_DEG = (30 + 1) / SECONDS_A_DEGREE
GRID_DEG = 0.25
FINE_STEPS = 800
# How far the two sides of a margin may differ: both are shown to the minute, and a table is some way off besides.
EVEN_MIN = 4
# A day that is longer by less than this on either side is a place, or rounding.
LEAST_MARGIN_MIN = 5
READING_FORM = "a date with the sunrise and the sunset shown in whole minutes, such as 2027-02-15,06:52,20:31"
# Beyond this a latitude says nothing, and another reading is needed.
VAGUE_LATITUDE_DEG = 5.0


class Meaning(Enum):
    """What a unit's two sun words stand for."""

    SUNRISE = "sunrise"
    DAWN = "dawn"

    @property
    def events(self) -> tuple[SunEvent, SunEvent]:
        """Its event of the morning and its event of the evening."""
        return (SunEvent.SUNRISE, SunEvent.SUNSET) if self is Meaning.SUNRISE else (SunEvent.DAWN, SunEvent.DUSK)


@dataclass(frozen=True, slots=True, kw_only=True)
class SunReading:
    """The pair of sun times that a unit shows for a date, in seconds after midnight of the zone's local clock."""

    day: date
    sunrise_s: int
    sunset_s: int


@dataclass(frozen=True, slots=True, kw_only=True)
class ImpliedPlace:
    """The middle of all places whose table fits the readings, and half their range either way, in degrees.

    The longitude is counted from the zone's meridian, on past 180 where it is crossed.
    """

    latitude: float
    longitude: float
    latitude_pm: float
    longitude_pm: float

    @property
    def is_vague(self) -> bool:
        """Whether the latitude is too uncertain to say anything about the rest of the year."""
        return self.latitude_pm > VAGUE_LATITUDE_DEG


@dataclass(frozen=True, slots=True, kw_only=True)
class TableErrors:
    """By how many minutes a table without correction is late over a year; NaN where either has no such event."""

    days: Ints  # (n,)
    morning: Floats  # (n,)
    evening: Floats  # (n,)

    def worst(self, correction: Adjust) -> tuple[float, float]:
        """The greatest error left with a correction, in minutes, of the morning and of the evening."""
        return (
            float(np.nanmax(np.abs(self.morning + correction.sunrise_min))),
            float(np.nanmax(np.abs(self.evening + correction.sunset_min))),
        )

    def worst_day(self, correction: Adjust) -> int:
        """The day on which either is out by most."""
        left = np.maximum(np.abs(self.morning + correction.sunrise_min), np.abs(self.evening + correction.sunset_min))
        return int(self.days[np.nanargmax(left)])

    @property
    def best(self) -> Adjust:
        """The whole minutes that make the worst error of the year least."""
        return Adjust(sunrise_min=_least_worst(self.morning), sunset_min=_least_worst(self.evening))


@dataclass(frozen=True, slots=True, kw_only=True)
class TableReading:
    """All that the readings say. ``place`` is None where no place fits them all, and ``errors`` with it."""

    correction: Adjust
    place: ImpliedPlace | None
    errors: TableErrors | None


def read_table(site: Site, readings: tuple[SunReading, ...], meaning: Meaning = Meaning.SUNRISE) -> TableReading:
    """What one or more readings say of a unit's table, its words meaning what ``meaning`` has.

    The correction is true minus shown at the last reading, in whole minutes; the errors are those of the calendar year
    of the last reading. Raises :class:`UserError` for a date on which the site has no such sun times.
    """
    last = readings[-1]
    shown = [_shown(site, reading, meaning) for reading in readings]
    true = _true(site, last, meaning)
    correction = Adjust(
        sunrise_min=round((true[0] - shown[-1][0]) / 60), sunset_min=round((true[1] - shown[-1][1]) / 60)
    )
    place = _implied_place(site, readings, shown, meaning)
    errors = table_errors(site, place, last.day.year, meaning) if place else None
    return TableReading(correction=correction, place=place, errors=errors)


def read_sun_reading(node: Node) -> SunReading:
    """``DATE,SUNRISE,SUNSET`` with whole minutes; raises :class:`PlanError`."""
    parts = node.value.split(",") if isinstance(node.value, str) else []
    if len(parts) != 3:
        node.refuse(READING_FORM)
    rise, fall = (read_clock_time(Node(part.strip(), node.path)).seconds for part in parts[1:])
    if rise % 60 or fall % 60:
        node.refuse(READING_FORM)
    return SunReading(day=read_date(Node(parts[0].strip(), node.path)), sunrise_s=rise, sunset_s=fall)


def guess_meaning(site: Site, reading: SunReading) -> tuple[Meaning, int]:
    """What a unit's words most likely mean, by one reading, and the built-in margin in minutes (0: none).

    A pair that lies evenly outside the true day is civil twilight or the sun with a margin, not a place.
    """
    rise, fall = _true(site, reading, Meaning.SUNRISE)
    shown = _shown(site, reading, Meaning.SUNRISE)
    before, after = (rise - shown[0]) / 60, (shown[1] - fall) / 60
    if min(before, after) < LEAST_MARGIN_MIN or abs(before - after) > EVEN_MIN:
        return Meaning.SUNRISE, 0
    times = sun_on(site, day_number(reading.day))
    if times["dawn"] is not None and times["dusk"] is not None:
        away = (shown[0] - times["dawn"]) / 60, (shown[1] - times["dusk"]) / 60
        if max(map(abs, away)) < EVEN_MIN:
            return Meaning.DAWN, 0
    return Meaning.SUNRISE, round((before + after) / 2)


def table_errors(site: Site, place: ImpliedPlace, year: int, meaning: Meaning = Meaning.SUNRISE) -> TableErrors:
    """The errors of the table of a place over a calendar year at the site."""
    first, last = day_number(date(year, 1, 1)), day_number(date(year, 12, 31))
    settings = SunSettings(source="coordinates", latitude=place.latitude, longitude=place.longitude)
    true, own = almanac(site, first, last), unit_almanac(site, settings, first, last)
    span = true.rows(first, last)
    minutes = []
    for event in meaning.events:
        late = (own.sun.times[event, span] - true.sun.times[event, span]) / 60
        minutes.append(np.where(own.sun.crosses[event, span] & true.sun.crosses[event, span], late, np.nan))
    return TableErrors(days=true.calendar.days[span], morning=minutes[0], evening=minutes[1])


def _least_worst(late: Floats) -> int:
    middle = -(float(np.nanmax(late)) + float(np.nanmin(late))) / 2
    return min((int(np.floor(middle)), int(np.ceil(middle))), key=lambda c: float(np.nanmax(np.abs(late + c))))


def _true(site: Site, reading: SunReading, meaning: Meaning) -> tuple[int, int]:
    """The instants of the true pair on the reading's date."""
    times = sun_on(site, day_number(reading.day))
    first, second = (times[event.name.lower()] for event in meaning.events)
    if first is None or second is None:
        raise UserError(
            f"{reading.day.isoformat()}: no {meaning.value} at this place on that date; accepted: a date with one"
        )
    return first, second


def _shown(site: Site, reading: SunReading, meaning: Meaning) -> tuple[int, int]:
    """The instants that a shown pair stands for: on the date itself, or past the midnight that is nearer."""
    clock = zone_clock(site.timezone, reading.day.year - 1, reading.day.year + 1)
    found = []
    for true, seconds in zip(_true(site, reading, meaning), (reading.sunrise_s, reading.sunset_s), strict=True):
        digits = (day_number(reading.day) + np.array([0, -1, 1])) * DAY_S + seconds
        instants = clock.first(digits)
        found.append(int(instants[np.argmin(np.abs(instants - true))]))
    return found[0], found[1]


def _implied_place(
    site: Site, readings: tuple[SunReading, ...], shown: list[tuple[int, int]], meaning: Meaning
) -> ImpliedPlace | None:
    """The places that fit all readings: first where on a coarse grid of latitudes, then how far on a fine one."""

    def meridians(latitudes: Floats) -> Floats:
        rows = [
            _meridians(site, latitudes, day_number(reading.day), event, instant)
            for reading, pair in zip(readings, shown, strict=True)
            for event, instant in zip(meaning.events, pair, strict=True)
        ]
        return np.array(rows)

    coarse = np.arange(-90 + GRID_DEG, 90, GRID_DEG)
    # A curve may leave a coarse cell's chord: look a little wider here.
    span = _fitting(coarse, meridians(coarse), ROUNDING_DEG * 1.2)
    if span is None:
        return None
    fine = np.linspace(max(span[0] - GRID_DEG, -89.99), min(span[1] + GRID_DEG, 89.99), FINE_STEPS)
    found = meridians(fine)
    span = _fitting(fine, found, ROUNDING_DEG)
    if span is None:
        return None
    # Near the poles the meridians bend fast: the latitudes stand the closer, the nearer they are to either end.
    middle, half = (span[0] + span[1]) / 2, (span[1] - span[0]) / 2
    found = meridians(middle - half * np.cos(np.linspace(0, np.pi, FINE_STEPS)))
    west, east = np.nanmin(found.max(axis=0)) - ROUNDING_DEG, np.nanmax(found.min(axis=0)) + ROUNDING_DEG
    return ImpliedPlace(
        latitude=middle,
        longitude=float(west + east) / 2,
        latitude_pm=half,
        longitude_pm=float(east - west) / 2,
    )


def _meridians(site: Site, latitudes: Floats, day: int, event: SunEvent, instant: int) -> Floats:
    """The longitude at which each latitude has the event of a date at the instant; NaN where there is none."""
    days = np.full(latitudes.shape, day, dtype=np.int64)
    standard = standard_offset_s(site.timezone, day_of(day).year)
    longitudes = np.full(latitudes.shape, standard / SECONDS_A_DEGREE)
    for _ in range(4):  # a degree moves an event by four minutes less a hundredth, so the third step is within a second
        sun = sun_days(latitudes, longitudes, days, standard)
        late = sun.times[event] - instant
        longitudes = longitudes + late / SECONDS_A_DEGREE
    return np.where(sun.crosses[event] & (np.abs(late) <= 1), longitudes, np.nan)


def _fitting(latitudes: Floats, meridians: Floats, rounding_deg: float) -> tuple[float, float] | None:
    """The least and the greatest latitude at which one meridian suits all events, or None.

    ``meridians`` (events, latitudes) are where each event fits exactly; it fits ``rounding_deg`` to either side. In
    each cell of the grid they are taken as straight, so that a range narrower than a cell is found too.
    """
    start, stop = np.zeros(latitudes.size - 1), np.ones(latitudes.size - 1)
    for one, other in combinations(meridians, 2):
        apart = one - other
        with np.errstate(invalid="ignore", divide="ignore"):
            slope = np.diff(apart)
            edges = np.array([(-2 * rounding_deg - apart[:-1]) / slope, (2 * rounding_deg - apart[:-1]) / slope])
        level = slope == 0
        inside = np.abs(apart[:-1]) <= 2 * rounding_deg
        start = np.maximum(start, np.where(level, np.where(inside, 0, 2), edges.min(axis=0)))
        stop = np.minimum(stop, np.where(level, np.where(inside, 1, -1), edges.max(axis=0)))
    fits = np.nonzero(start <= stop)[0]  # NaN compares as false: cells with a polar edge are left out
    if not fits.size:
        return None
    step = np.diff(latitudes)
    first, last = fits[0], fits[-1]
    return float(latitudes[first] + start[first] * step[first]), float(latitudes[last] + stop[last] * step[last])
