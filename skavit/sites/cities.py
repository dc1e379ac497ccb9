"""Cities by name and time zones by coordinates, both offline.

The cities are GeoNames' (geonames.org, CC BY 4.0), made into a table by scripts/make_cities.py; the zones come from
the package tzfpy, whose outlines are simplified from OpenStreetMap's (ODbL).
"""

import csv
import unicodedata
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path

import tzfpy

from skavit.core.ground.zones import timezones

TABLE = Path(__file__).resolve().parent / "data" / "cities.csv"
LEAST_LETTERS, MOST_FOUND = 2, 8


@dataclass(frozen=True, slots=True)
class City:
    """A city as the table has it; ``folded`` is its name in small letters without marks."""

    name: str
    country: str
    latitude: float
    longitude: float
    timezone: str
    folded: str


def folded(text: str) -> str:
    """Small letters without accents: Motueka and motueka, Zürich and zurich are the same."""
    plain = unicodedata.normalize("NFKD", text)
    return "".join(letter for letter in plain if not unicodedata.combining(letter)).casefold().strip()


@lru_cache(maxsize=1)
def cities() -> tuple[City, ...]:
    """All cities of the table whose zone the pinned zone data have, the largest first."""
    with TABLE.open(encoding="utf-8", newline="") as file:
        rows = [
            City(name, country, float(latitude), float(longitude), timezone, folded(name))
            for name, country, latitude, longitude, timezone in csv.reader(file)
        ]
    return tuple(city for city in rows if city.timezone in timezones())


def find_cities(text: str, near: str = "") -> list[City]:
    """The cities whose name begins with what was typed, those of the time zone ``near`` first, then the largest."""
    wanted = folded(text)
    if len(wanted) < LEAST_LETTERS:
        return []
    found = [city for city in cities() if city.folded.startswith(wanted)]
    found.sort(key=lambda city: (city.timezone != near, city.folded != wanted))
    return found[:MOST_FOUND]


def zone_at(latitude: float, longitude: float) -> str:
    """The time zone of coordinates; empty where there is none, as far out at sea."""
    found = str(tzfpy.get_tz(longitude, latitude) or "")
    return found if found in timezones() and not found.startswith("Etc/") else ""
