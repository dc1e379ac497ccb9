"""Public holidays of a country and region, for the coming years: which come on the same day each year, and which move.

The days are those of the package `holidays` (MIT licence); the country is found by its zone, the region is chosen.
"""

import re
from dataclasses import dataclass
from datetime import date
from functools import lru_cache
from importlib.resources import files

import holidays

from skavit.core.plan.days import Holiday, Once, Yearly
from skavit.core.plan.times import day_number
from skavit.core.text.wording import start_words

YEARS = 3


@dataclass(frozen=True, slots=True, kw_only=True)
class PublicHoliday:
    """A public holiday: its name and its dates in the coming years."""

    name: str
    dates: tuple[date, ...]
    moves: bool  # not on the same month and day each year

    @property
    def keyed(self) -> tuple[Holiday, ...]:
        """As a unit holds it: once for each year where it moves, else each year."""
        if self.moves:
            return tuple(Holiday(start=Once(day_number(day)), days=1) for day in self.dates)
        day = self.dates[0]
        return (Holiday(start=Yearly(day.month * 100 + day.day), days=1),)


# Two letters that holidays are known by and that no standard has given out.
NOT_IN_THE_TABLE = {"XK": "Kosovo"}


@lru_cache(maxsize=1)
def countries() -> dict[str, tuple[str, ...]]:
    """The countries known, by their two letters, each with its regions."""
    return {
        country: tuple(regions) for country, regions in holidays.list_supported_countries(include_aliases=False).items()
    }


@lru_cache(maxsize=1)
def _zone_countries() -> dict[str, str]:
    """The country of each zone, by the table that comes with the pinned zone data."""
    table = files("tzdata").joinpath("zoneinfo/zone.tab").read_text()
    rows = (line.split("\t") for line in table.splitlines() if not line.startswith("#"))
    return {row[2]: row[0] for row in rows}


def country_of(timezone: str) -> str:
    """The country of a zone as two letters; empty where its holidays are not known."""
    found = _zone_countries().get(timezone, "")
    return found if found in countries() else ""


def country_names() -> list[tuple[str, str]]:
    """(two letters, name) of the countries known, by the names of the zone data's table."""
    table = files("tzdata").joinpath("zoneinfo/iso3166.tab").read_text()
    names = dict(line.split("\t")[:2] for line in table.splitlines() if not line.startswith("#"))
    names |= NOT_IN_THE_TABLE
    return sorted(((code, names.get(code, code)) for code in countries()), key=lambda pair: pair[1])


def region_names(country: str) -> list[tuple[str, str]]:
    """(code, name) of the regions of a country, by name."""
    if not countries().get(country):
        return []
    aliases = holidays.country_holidays(country).get_subdivision_aliases()
    return sorted(((code, (aliases.get(code) or [code])[0]) for code in countries()[country]), key=lambda pair: pair[1])


def public_holidays(country: str, region: str | None, today: date) -> tuple[PublicHoliday, ...]:
    """The public holidays of the :data:`YEARS` years from a date on, in the order in which they come.

    ``country`` and ``region`` are codes of :func:`countries`; no region is all the country.
    """
    years = range(today.year, today.year + YEARS + 1)
    end = today.replace(year=today.year + YEARS, day=min(today.day, 28))
    found = holidays.country_holidays(country, subdiv=region or None, years=years, language="en_US")
    dates: dict[str, list[date]] = {}
    for day, names in sorted((day, names) for day, names in found.items() if today <= day < end):
        for name in names.split("; "):
            dates.setdefault(name, []).append(day)
    rows = [
        PublicHoliday(
            name=name,
            dates=tuple(days),
            moves=len({(day.month, day.day) for day in days}) > 1 or len(days) < YEARS,
        )
        for name, days in dates.items()
    ]
    return tuple(sorted(rows, key=lambda row: row.dates[0]))


ALL_OF_THEM = "public holidays"


def named_dates(text: str, timezone: str, year: int) -> str:
    """Return a typed list of dates with the names of public holidays put as their dates, of the zone's country.

    "Good Friday, 24 Dec" becomes "26 Mar 2027, 14 Apr 2028, 24 Dec"; ``public holidays`` are all of them. Those of the years
    from ``year`` on; what is no name stays as it was typed.
    """
    parts = [part.strip() for part in re.split("[,;]", text) if part.strip()]
    country = country_of(timezone)
    if not country or not any(part[0].isalpha() for part in parts):
        return text
    rows = public_holidays(country, None, date(year, 1, 1))
    named = {row.name.casefold(): [row] for row in rows} | {ALL_OF_THEM: list(rows)}
    found: list[str] = []
    for part in parts:
        chosen = named.get(part.casefold())
        found += [part] if chosen is None else [start_words(day.start) for row in chosen for day in row.keyed]
    return ", ".join(found)
