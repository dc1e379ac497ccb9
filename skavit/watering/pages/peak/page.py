"""The week in which a unit waters most, as rows of a page and as a table."""

from dataclasses import dataclass

from skavit.core.text.wording import Words, date_text, duration_text, minutes_text
from skavit.core.water.peak_week import PeakWeek, StationWeek
from skavit.web.tables import table

COLUMNS = ("station", "name", "minutes", "days", "minutes_a_day", "mm", "litres", "supply_pct")


@dataclass(frozen=True, slots=True, kw_only=True)
class PeakRow:
    """One station."""

    number: int
    name: str
    minutes: str
    a_day: str
    depth: str
    water: str
    supply: str


@dataclass(frozen=True, slots=True, kw_only=True)
class PeakPage:
    """The week and its stations."""

    dates: str
    rows: list[PeakRow]
    water: str
    night: str


def peak_page(week: PeakWeek, words: Words) -> PeakPage:
    """The week in the reader's units."""
    return PeakPage(
        dates=f"{date_text(week.first)} to {date_text(week.first + 6)}",
        rows=[_row(station, words) for station in week.stations],
        water=words.volume(week.litres),
        night=f"{duration_text(week.night_s)}, {words.minute(week.from_s)} to {words.minute(week.to_s)}",
    )


def _row(station: StationWeek, words: Words) -> PeakRow:
    days = f"{minutes_text(station.most_minutes)} on {station.days} of 7 days" if station.days else "not at all"
    return PeakRow(
        number=station.number,
        name=station.name,
        minutes=minutes_text(station.minutes),
        a_day=days,
        depth="" if station.mm is None else words.depth(station.mm),
        water=words.volume(station.litres),
        supply="" if station.supply_share is None else f"{100 * station.supply_share:.0f} %",
    )


def peak_table(week: PeakWeek | None) -> str:
    """The same as CSV, in metric units; its head alone where nothing waters."""
    return table(COLUMNS, (_cells(station) for station in (week.stations if week else ())))


def _cells(one: StationWeek) -> list[object]:
    mm = "" if one.mm is None else round(one.mm, 1)
    supply = "" if one.supply_share is None else round(100 * one.supply_share)
    minutes, most = round(one.minutes, 1), round(one.most_minutes, 1)
    return [one.number, one.name, minutes, one.days, most, mm, round(one.litres), supply]
