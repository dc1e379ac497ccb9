"""Dates of a site with their sun times and calendar parts, made a calendar year at a time and kept."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from skavit.core.plan.days import Calendar
from skavit.core.plan.document import Site
from skavit.core.plan.sun_settings import SunSettings
from skavit.core.plan.times import day_number, day_of
from skavit.core.site.clock import standard_offset_s, standard_offsets_s
from skavit.core.sun import USUAL_ALTITUDES_DEG, SunDays, SunEvent, sun_days


@dataclass(frozen=True, slots=True)
class Almanac:
    """Consecutive local dates of a site."""

    calendar: Calendar
    sun: SunDays

    def rows(self, first: int, last: int) -> slice:
        """The rows of the dates ``first`` to ``last``, both included (days since 1970)."""
        start = int(self.calendar.days[0])
        return slice(first - start, last - start + 1)


Place = tuple[float, float, str, tuple[float, float]]  # latitude, longitude, zone, the two altitudes


@lru_cache(maxsize=1024)
def _sun_of_year(place: Place, year: int) -> SunDays:
    latitude, longitude, timezone, altitudes = place
    days = np.arange(np.datetime64(f"{year:04d}-01-01"), np.datetime64(f"{year + 1:04d}-01-01")).astype(np.int64)
    return sun_days(latitude, longitude, days, standard_offsets_s(timezone, days), altitudes)


@lru_cache(maxsize=64)
def _calendar(first_year: int, last_year: int) -> Calendar:
    return Calendar(np.arange(f"{first_year:04d}-01-01", f"{last_year + 1:04d}-01-01", dtype="M8[D]").astype(np.int64))


@lru_cache(maxsize=64)
def _almanac(places: tuple[Place, ...], first_year: int) -> Almanac:
    """The place of each year from the first on: a zone's standard time, and its meridian with it, may change."""
    years = [_sun_of_year(place, year) for year, place in enumerate(places, start=first_year)]
    sun = SunDays(
        days=np.concatenate([y.days for y in years]),
        noon=np.concatenate([y.noon for y in years]),
        times=np.concatenate([y.times for y in years], axis=1),
        crosses=np.concatenate([y.crosses for y in years], axis=1),
        up_at_noon=np.concatenate([y.up_at_noon for y in years], axis=1),
    )
    return Almanac(_calendar(first_year, first_year + len(places) - 1), sun)


def almanac(site: Site, first: int, last: int) -> Almanac:
    """The almanac of a site for whole years around the dates ``first`` to ``last`` (days since 1970)."""
    place = (site.latitude, site.longitude, site.timezone, USUAL_ALTITUDES_DEG)
    years = day_of(first).year, day_of(last).year
    return _almanac((place,) * (years[1] - years[0] + 1), years[0])


def unit_almanac(site: Site, sun: SunSettings, first: int, last: int) -> Almanac:
    """The same with the sun times of a unit's own place or, of a photocell, of the altitude at which it switches.

    A zone table is at the meridian of the zone's standard time of each year, UTC offset times 15 degrees.
    """
    years = day_of(first).year, day_of(last).year
    latitude = site.latitude if sun.latitude is None else sun.latitude
    longitude = site.longitude if sun.longitude is None else sun.longitude
    altitudes = USUAL_ALTITUDES_DEG if sun.altitude_deg is None else (sun.altitude_deg, sun.altitude_deg)
    places = []
    for year in range(years[0], years[1] + 1):
        east = standard_offset_s(site.timezone, year) / 240 if sun.source == "table" else longitude
        places.append((latitude, east, site.timezone, altitudes))
    return _almanac(tuple(places), years[0])


def sun_on(site: Site, day: int) -> dict[str, int | None]:
    """Dawn, sunrise, noon, sunset and dusk of one date as instants; None where there is none."""
    book = almanac(site, day, day)
    row = day - day_number(day_of(day).replace(month=1, day=1))
    found: dict[str, int | None] = {
        event.name.lower(): int(book.sun.times[event, row]) if book.sun.crosses[event, row] else None
        for event in SunEvent
    }
    return found | {"noon": int(book.sun.noon[row])}
