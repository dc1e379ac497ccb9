"""The public holidays of a country and region, and those that a unit holds."""

from dataclasses import dataclass

from skavit.core.plan.days import Holiday
from skavit.core.plan.times import day_number
from skavit.core.text.wording import date_text, dated_text, start_words
from skavit.server.now import today_at
from skavit.units.models import Unit
from skavit.units.public_holidays import (
    PublicHoliday,
    countries,
    country_names,
    country_of,
    public_holidays,
    region_names,
)


@dataclass(frozen=True, slots=True, kw_only=True)
class HolidayRow:
    """A public holiday to choose, or one that is in the unit."""

    key: str
    name: str
    dates: str
    moves: bool
    chosen: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class HolidaysPage:
    """The public holidays of a country and region, and those that the unit holds."""

    unit: Unit
    country: str
    region: str
    countries: list[tuple[str, str]]
    regions: list[tuple[str, str]]
    keyed: dict[str, tuple[Holiday, ...]]  # what each public holiday is keyed as, by its name
    rows: list[HolidayRow]
    own: str  # other dates, as they are typed
    held: int
    most: int | None
    longest: int | None
    refused: str = ""


def holidays_page(unit: Unit, country: str, region: str, now: int) -> HolidaysPage:
    """The whole page, for the country of the site where none that is known is asked for."""
    known = countries()
    country = country if country in known else country_of(unit.site.timezone)
    region = region if region in known.get(country, ()) else ""
    rows = _listed(unit, country, region, now)
    keyed = {row.name: row.keyed for row in rows}
    held = unit.plan.unit.holidays
    limits = unit.plan.unit.limits
    chosen = {key for key, own in keyed.items() if set(own) <= set(held)}
    own = [h for h in held if not any(h in keyed[key] for key in chosen)]
    return HolidaysPage(
        unit=unit,
        country=country,
        region=region,
        countries=country_names(),
        regions=region_names(country),
        keyed=keyed,
        rows=[_row(row, chosen) for row in rows],
        own="; ".join(_holiday_text(holiday) for holiday in own),
        held=len(held),
        most=limits.holidays,
        longest=limits.holiday_days_max,
    )


def _listed(unit: Unit, country: str, region: str, now: int) -> tuple[PublicHoliday, ...]:
    """The public holidays of a country and region in the coming years; none without a country."""
    if not country:
        return ()
    return public_holidays(country, region, today_at(unit.site.place, now))


def _row(row: PublicHoliday, chosen: set[str]) -> HolidayRow:
    days = [day_number(day) for day in row.dates]
    dates = ", ".join(dated_text(day) for day in days) if row.moves else date_text(days[0])
    return HolidayRow(key=row.name, name=row.name, dates=dates, moves=row.moves, chosen=row.name in chosen)


def _holiday_text(holiday: Holiday) -> str:
    start = start_words(holiday.start)
    return f"{start} for {holiday.days}" if holiday.days > 1 else start
