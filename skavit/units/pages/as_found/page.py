"""What a unit as found does all year."""

import datetime as dt
from dataclasses import dataclass, replace

from skavit.charts.water_year import water_year_picture
from skavit.charts.year_sheet import OFF_THE_SHEET, year_sheet
from skavit.core.ground.arrays import DAY_S
from skavit.core.ground.strict_json import Node
from skavit.core.plan.clock_settings import ByHand
from skavit.core.plan.document import Plan
from skavit.core.plan.entry import Entry, read_entry
from skavit.core.plan.times import ClockTime, day_of, read_clock_time
from skavit.core.plan.water import Program
from skavit.core.plan.water_edits import water_as_found
from skavit.core.sheet import date_words
from skavit.core.simulation.reverse import as_found
from skavit.core.text.typed import slot_typed
from skavit.core.text.wording import Words, days_text
from skavit.now import local_digits, year_at
from skavit.units.models import AsFound, Unit
from skavit.units.pages.clock.reading import DisplayRead, TableAnswer, read_display, sun_answer
from skavit.units.pages.numbered import Numbered, marks_of, numbered
from skavit.units.results import UnitYear, unit_year

MOST_PICTURES = 12  # of stations


@dataclass(frozen=True, slots=True, kw_only=True)
class ChannelPicture:
    """What one channel of a unit as found does: the windows that its entries make, and its year."""

    name: str
    windows: list[str]
    sheets: tuple[str, str]  # lying, and turned for the phone


@dataclass(frozen=True, slots=True, kw_only=True)
class FoundEntry:
    """An entry that it held, by the slot that was typed before it."""

    slot: str
    action: str
    text: str
    channels: tuple[int, ...]


def slots_typed(record: AsFound) -> tuple[str, ...]:
    """The slots of a unit as found by the numbers that were typed; empty where none was."""
    typed = [slot_typed(line) for line in record.lines.splitlines() if line.strip()]
    if not any(typed):
        return ()
    return tuple(f"slot {number or place}" for place, number in enumerate(typed, start=1))


@dataclass(frozen=True, slots=True, kw_only=True)
class AsFoundPage:
    """What a unit as found does all year, and what is wrong with it."""

    unit: Unit
    record: AsFound
    when: str
    year: int
    display: DisplayRead
    sun: TableAnswer | None
    findings: list[Numbered]
    pictures: list[ChannelPicture]
    entries: list[FoundEntry]
    several: bool
    revision: int


def as_found_plan(plan: Plan, record: AsFound) -> Plan:
    """The plan that a unit as found runs: its entries, and its clock as far out as it was."""
    if plan.water is not None:
        made = water_as_found(plan, tuple(Program.read(Node(raw, "entries")) for raw in record.entries))
    else:
        made = as_found(plan, _entries(plan, record))
    display = display_as_found(plan, record, Words())
    if not display.error_s or isinstance(plan.unit.clock.dst, ByHand):
        return made
    clock = replace(made.unit.clock, error_s=display.error_s)
    return replace(made, unit=replace(made.unit, clock=clock))


def _entries(plan: Plan, record: AsFound) -> tuple[Entry, ...]:
    channels = len(plan.channels)
    return tuple(
        read_entry(Node(raw, f"entries[{index}]"), channels, plan.unit.sun) for index, raw in enumerate(record.entries)
    )


def _seconds(record: AsFound, name: str) -> int | None:
    """A time that it showed, in seconds after midnight; None where none was seen."""
    return read_clock_time(Node(record.shown[name], name)).seconds if name in record.shown else None


def display_as_found(plan: Plan, record: AsFound, words: Words) -> DisplayRead:
    """The display of a unit as it was written down, read back."""
    shown = record.shown
    return read_display(
        plan,
        local_digits(plan, record.looked_at),
        words,
        time=_seconds(record, "time"),
        day=dt.date.fromisoformat(shown["date"]) if "date" in shown else None,
        weekday=shown.get("weekday", ""),
        sun=(_seconds(record, "sunrise"), _seconds(record, "sunset")),
    )


def _sun_as_found(plan: Plan, record: AsFound, display: DisplayRead) -> TableAnswer | None:
    """What the sun times that it showed say, on the date that it showed or on which it was looked at."""
    shown = record.shown
    looked = day_of(local_digits(plan, record.looked_at) // DAY_S)
    day = dt.date.fromisoformat(shown["date"]) if "date" in shown else looked
    return sun_answer(plan, display, day, (_seconds(record, "sunrise"), _seconds(record, "sunset")))


def when_looked(plan: Plan, record: AsFound, words: Words) -> str:
    """When it was looked at, by the site's clock."""
    digits = local_digits(plan, record.looked_at)
    return f"{date_words(digits)}, {words.minute(digits % DAY_S)}"


def as_found_page(unit: Unit, record: AsFound, words: Words, now: int) -> AsFoundPage:
    """The whole page."""
    plan = as_found_plan(unit.plan, record)
    year = year_at(plan.site, now)
    run = unit_year(plan, year, mends=False)
    names = slots_typed(record)
    listed = numbered(run, words.of_slots(names) if names else words)
    display = display_as_found(unit.plan, record, words)
    return AsFoundPage(
        unit=unit,
        record=record,
        when=when_looked(unit.plan, record, words),
        year=year,
        display=display,
        sun=_sun_as_found(unit.plan, record, display),
        findings=listed,
        pictures=_pictures(run, listed, words),
        entries=_programs(plan, words)
        if plan.water
        else [
            FoundEntry(
                slot=names[index].split()[-1] if names else str(index + 1),
                action=e.action.upper(),
                text=f"{words.time(e.at)}, {days_text(e.days)}",
                channels=e.channels,
            )
            for index, e in enumerate(plan.unit.entries)
        ],
        several=len(plan.channels) > 1,
        revision=unit.head_revision.number,
    )


def _pictures(run: UnitYear, listed: list[Numbered], words: Words) -> list[ChannelPicture]:
    water = run.replay.plan.water
    if water is None:
        return [_picture(run, index, listed, words) for index in range(len(run.replay.plan.channels))]
    return [_water_picture(run, index, listed, words) for index in range(min(len(water.stations), MOST_PICTURES))]


def _water_picture(run: UnitYear, station: int, listed: list[Numbered], words: Words) -> ChannelPicture:
    """A station's year, with the hours in which it is watered on a day in its greatest month."""
    water, year = run.replay.plan.water, run.station_year(station)
    assert water is not None
    assert year is not None
    pictures = [
        water_year_picture(year, marks=marks_of(listed, station + 1), cursor=OFF_THE_SHEET, today=None, narrow=narrow)
        for narrow in (False, True)
    ]
    litres = run.water.litres_by_month(station).sum() if run.water else 0.0
    told = f"{words.volume(float(litres))} a year" if litres else "nothing waters it"
    return ChannelPicture(
        name=f"{station + 1} {water.stations[station].name}", windows=[told], sheets=(pictures[0], pictures[1])
    )


def _programs(plan: Plan, words: Words) -> list[FoundEntry]:
    """The programs that it held, each with the hours in which its stations run one after another."""
    water = plan.water
    assert water is not None
    found = []
    for program in water.programs:
        seconds = sum(program.run_seconds(0, water.run_step_s))
        hours = ", ".join(
            f"{words.time(at)}" + (f" to {words.clock(at.seconds + seconds)}" if isinstance(at, ClockTime) else "")
            for at in program.starts
        )
        runs = ", ".join(f"station {run.station} {run.run_min:g} min" for run in program.runs)
        season = f", at {program.adjust_pct:g} %" if program.adjust_pct != 100 else ""
        text = f"{hours}, {days_text(program.days)}: {runs}{season}"
        found.append(FoundEntry(slot=program.name, action="", text=text, channels=()))
    return found


def _picture(run: UnitYear, index: int, listed: list[Numbered], words: Words) -> ChannelPicture:
    channel, year, marks = run.replay.plan.channels[index], run.year_of(index), marks_of(listed, index + 1)

    def sheet(*, turned: bool) -> str:
        return year_sheet(year, marks=marks, cursor=OFF_THE_SHEET, today=None, words=words, turned=turned)

    return ChannelPicture(
        name=channel.name,
        windows=[
            f"On from {words.time(w.start)} until {words.time(w.to) if w.to else ''}, {days_text(w.days)}"
            for w in channel.windows
        ],
        sheets=(sheet(turned=False), sheet(turned=True)),
    )
