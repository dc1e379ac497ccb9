"""What a display showed, read back: what is wrong about it, and what its sun times say."""

import datetime as dt
from dataclasses import dataclass, replace

from skavit.charts.curve import Line, curves
from skavit.core.ground.arrays import DAY_S
from skavit.core.ground.errors import UserError
from skavit.core.kinds import Kind
from skavit.core.kinds.place import place_for, place_values
from skavit.core.plan.document import Plan, Site
from skavit.core.plan.sun_settings import Adjust, SunSettings
from skavit.core.plan.times import day_number, day_of
from skavit.core.site.clock import standard_offset_s
from skavit.core.site.clock_check import ClockShown, ClockSlip, check_clock
from skavit.core.site.sun_table import (
    SECONDS_A_DEGREE,
    ImpliedPlace,
    Meaning,
    SunReading,
    TableReading,
    guess_meaning,
    read_table,
)
from skavit.core.text.error_text import error_text
from skavit.core.text.typed import weekday_of
from skavit.core.text.wording import Words, date_text

# A clock is read within a minute, and looked at for one.
READ_S = 90
# A clock is set out by hours and halves of them: zones, daylight saving, a slip. Its sun times may be out with it.
HALF_HOUR_S = 1800
NEAR_S = 300
# Sun times within so many minutes are right: two that are shown in whole minutes, and a place to the nearest degree.
RIGHT_MIN = 5


@dataclass(frozen=True, slots=True, kw_only=True)
class DisplayRead:
    """What a display showed, read back, with what is wrong about it."""

    slips: tuple[ClockSlip, ...]
    table: TableReading | None
    table_error: str
    error_s: int | None  # how far ahead the clock is, where time and date tell it
    sun_ahead_s: int = 0  # how far ahead its sun times are with its clock, by which the table was read


def read_display(
    plan: Plan,
    digits: int,
    words: Words,
    *,
    time: int | None,
    day: dt.date | None,
    weekday: str,
    sun: tuple[int | None, int | None],
) -> DisplayRead:
    """What is wrong with a display that must show ``digits``, and what its sun times say."""
    right = day_of(digits // DAY_S)
    shown = ClockShown(seconds=time, day=day, weekday=weekday_of(weekday) if weekday else None)
    slips = check_clock(shown, digits, words)
    error_s = None
    if time is not None:
        on = day_number(day or right) * DAY_S + time
        away = on - digits // 60 * 60
        if day is None:
            away = (away + DAY_S // 2) % DAY_S - DAY_S // 2
        error_s = away if abs(away) > READ_S else 0
    table, table_error, ahead = _table(plan.site, day or right, sun, error_s or 0)
    return DisplayRead(slips=slips, table=table, table_error=table_error, error_s=error_s, sun_ahead_s=ahead)


def _table(
    site: Site, day: dt.date, sun: tuple[int | None, int | None], error_s: int
) -> tuple[TableReading | None, str, int]:
    """(what its sun times say, why they say nothing, by how far ahead they were taken to be).

    A clock that is out by hours shows its sun times out by as much, or not: what needs the smaller correction is believed.
    """
    if sun[0] is None or sun[1] is None:
        return None, "", 0
    out = round(error_s / HALF_HOUR_S) * HALF_HOUR_S
    tried, error = [], ""
    for ahead in (0, out) if out and abs(error_s - out) <= NEAR_S else (0,):
        try:
            tried.append((read_table(site, (_reading(day, sun[0], sun[1], ahead),)), ahead))
        except UserError as refused:
            error = error or error_text(refused)
    if not tried:
        return None, error, 0
    table, ahead = min(tried, key=lambda one: abs(one[0].correction.sunrise_min) + abs(one[0].correction.sunset_min))
    return table, "", ahead


def _reading(day: dt.date, sunrise_s: int, sunset_s: int, ahead_s: int = 0) -> SunReading:
    """The sun times of a display in whole minutes, by a right clock."""
    first, last = ((seconds // 60 * 60 - ahead_s) % DAY_S for seconds in (sunrise_s, sunset_s))
    return SunReading(day=day, sunrise_s=first, sunset_s=last)


@dataclass(frozen=True, slots=True, kw_only=True)
class OverTheYear:
    """What is left over the year with a correction, and the correction that leaves least."""

    worst: tuple[str, str]  # minutes of sunrise and of sunset
    worst_on: str
    best: tuple[str, str]
    best_adjust: Adjust
    best_worst: tuple[str, str]


@dataclass(frozen=True, slots=True, kw_only=True)
class PlaceTaken:
    """The place that a table implies, to be taken as the unit's: by latitude alone where it is on the zone's meridian."""

    latitude: float
    longitude: float | None
    words: str


@dataclass(frozen=True, slots=True, kw_only=True)
class TableAnswer:
    """What a pair of sun times says: the correction, the place that it implies, what is left over the year."""

    correction: tuple[str, str]
    adjust: Adjust
    place: str
    takes: PlaceTaken | None  # the place as the unit's own, where it says enough
    year: OverTheYear | None
    curves: str
    meaning: str = ""  # where it is out evenly, what that most likely is
    clock_first: str = ""  # what its sun times say while its clock is out: then nothing is to be corrected yet


def sun_answer(
    plan: Plan, kind: Kind | None, read: DisplayRead, day: dt.date, shown: tuple[int | None, int | None]
) -> TableAnswer | None:
    """What a display's sun times say; None where it shows none, or none that can be."""
    if read.table is None or shown[0] is None or shown[1] is None:
        return None
    answer = table_answer(plan.site, read.table, kind)
    if read.error_s:
        return replace(answer, takes=None, clock_first=_clock_first(read))
    reading = _reading(day, shown[0], shown[1])
    meaning, margin = guess_meaning(plan.site, reading)
    if meaning is Meaning.DAWN:
        twilight = (
            "These are dawn and dusk, civil twilight. Does it mean those? Then it is right as it is, and needs none."
        )
        return replace(answer, meaning=twilight)
    return replace(answer, meaning=margin_words(margin)) if margin else answer


def _clock_first(read: DisplayRead) -> str:
    """What to do where the clock is out: its sun times are judged by that clock, and corrected only once it is right."""
    assert read.table is not None
    correction = read.table.correction
    right = max(abs(correction.sunrise_min), abs(correction.sunset_min)) <= RIGHT_MIN
    if right and read.sun_ahead_s:
        return "By its own clock these sun times are right. Set the clock; they move with it."
    if right:
        return "Its sun times are right. Set the clock."
    return "Set the clock first. Then read the sun times again: they may move with it."


def margin_words(margin_min: int) -> str:
    """What a pair evenly outside the true day means."""
    return (
        f"Evenly {margin_min} min outside the true day. What does it mean by its words: sunrise and sunset with a margin built "
        "in, or twilight? Its manual tells, or a reading in another season. Then it needs no correction."
    )


def table_answer(site: Site, table: TableReading, kind: Kind | None = None) -> TableAnswer:
    """The correction, the implied place with its bounds, and what is left over the year.

    The place to take is one that a unit of the kind can be told: a region of its list, a latitude of its table.
    """
    place, year = _place_words(site, table), None
    if table.errors is not None and table.place is not None and not table.place.is_vague:
        worst, best = table.errors.worst(table.correction), table.errors.best
        left = table.errors.worst(best)
        year = OverTheYear(
            worst=(f"{worst[0]:.0f}", f"{worst[1]:.0f}"),
            worst_on=date_text(table.errors.worst_day(table.correction)),
            best=(signed(best.sunrise_min), signed(best.sunset_min)),
            best_adjust=best,
            best_worst=(f"{left[0]:.0f}", f"{left[1]:.0f}"),
        )
    return TableAnswer(
        correction=(signed(table.correction.sunrise_min), signed(table.correction.sunset_min)),
        adjust=table.correction,
        place=place,
        takes=_taken(site, table, kind),
        year=year,
        curves=_error_curves(table, table.correction),
    )


def _place_words(site: Site, table: TableReading) -> str:
    place = table.place
    if place is None or table.errors is None:
        return "No place on earth has these two times on that date: look at the date, AM and PM, and daylight saving."
    if place.is_vague:
        return (
            f"Near the equinox the length of day says little: its latitude may be {place.latitude_pm:.0f}° either way. "
            "Read it again some weeks from now."
        )
    where = f"{_degrees(place.latitude, 'NS')}, {_degrees(_east(place), 'EW')}"
    on_it = _on_meridian(site, place, day_of(int(table.errors.days[0])).year)
    tail = " That is the zone's own meridian: a zone table, by latitude alone." if on_it else ""
    return f"It behaves as if it stood at {where}, give or take {place.latitude_pm:.1f}° and {place.longitude_pm:.1f}°.{tail}"


def _east(place: ImpliedPlace) -> float:
    return (place.longitude + 180) % 360 - 180


def _on_meridian(site: Site, place: ImpliedPlace, year: int) -> bool:
    return abs(place.longitude - standard_offset_s(site.timezone, year) / SECONDS_A_DEGREE) <= place.longitude_pm


def _taken(site: Site, table: TableReading, kind: Kind | None) -> PlaceTaken | None:
    place = table.place
    if place is None or table.errors is None or place.is_vague:
        return None
    if kind is not None and kind.sun.place in ("region", "table"):
        return _of_its_list(kind, site, place, day_of(int(table.errors.days[0])).year)
    latitude = round(place.latitude, 1)
    if _on_meridian(site, place, day_of(int(table.errors.days[0])).year):
        words = f"Take {_degrees(latitude, 'NS')} as the latitude of its table"
        return PlaceTaken(latitude=latitude, longitude=None, words=words)
    longitude = round(_east(place), 1)
    words = f"Take {_degrees(latitude, 'NS')}, {_degrees(longitude, 'EW')} as its place"
    return PlaceTaken(latitude=latitude, longitude=longitude, words=words)


def _of_its_list(kind: Kind, site: Site, place: ImpliedPlace, year: int) -> PlaceTaken:
    """The region or the latitude of a kind's own list that is nearest to a place."""
    there = replace(site, latitude=place.latitude, longitude=_east(place))
    told = place_for(kind, there, SunSettings())
    values, _ = place_values(kind, there, told, year)
    name = next(iter(values.values()))
    words = f"Take region {name}" if kind.sun.place == "region" else f"Take {name} of its table"
    return PlaceTaken(latitude=told.latitude or 0.0, longitude=told.longitude, words=words)


def _degrees(value: float, sides: str) -> str:
    """Degrees no finer than a shown minute allows."""
    return f"{abs(value):.1f}° {sides[value < 0]}"


def signed(minutes: int) -> str:
    """Minutes with their sign, as a unit takes them."""
    return f"{minutes:+d}".replace("-", "−") if minutes else "0"


def _error_curves(table: TableReading, correction: Adjust) -> str:
    """The error left over the year with a correction: sunrise full, sunset dashed."""
    errors = table.errors
    if errors is None or (table.place and table.place.is_vague):
        return ""
    lines = [
        Line(minutes=errors.morning + correction.sunrise_min, class_="curve-one"),
        Line(minutes=errors.evening + correction.sunset_min, class_="curve-two"),
    ]
    return curves(int(errors.days[0]), lines, "Minutes by which the unit's sunrise and sunset are late over the year")
