"""What a unit as found does all year."""

import datetime as dt
from dataclasses import dataclass, replace

from skavit.core.ground.arrays import DAY_S
from skavit.core.ground.strict_json import Node
from skavit.core.kinds import Kind
from skavit.core.plan.clock_settings import ByHand
from skavit.core.plan.document import Plan
from skavit.core.plan.times import day_of, read_clock_time
from skavit.core.sheet import date_words
from skavit.core.text.typed import slot_typed
from skavit.core.text.wording import Words
from skavit.server.now import local_digits, year_at
from skavit.units.computing import unit_year
from skavit.units.models import AsFound, Unit
from skavit.units.pages.clock.reading import DisplayRead, TableAnswer, read_display, sun_answer
from skavit.units.pages.numbered_findings import NumberedFinding, numbered_findings
from skavit.units.trades import FoundLine, FoundPicture, UnitPages, pages_of


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
    findings: list[NumberedFinding]
    pictures: list[FoundPicture]
    entries: list[FoundLine]
    pages: UnitPages
    several: bool
    revision: int


def as_found_plan(plan: Plan, record: AsFound) -> Plan:
    """The plan that a unit as found runs: its entries, and its clock as far out as it was."""
    made = pages_of(plan).found_plan(plan, record.entries)
    display = display_as_found(plan, record, Words())
    if not display.error_s or isinstance(plan.unit.clock.dst, ByHand):
        return made
    clock = replace(made.unit.clock, error_s=display.error_s)
    return replace(made, unit=replace(made.unit, clock=clock))


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


def _sun_as_found(plan: Plan, kind: Kind | None, record: AsFound, display: DisplayRead) -> TableAnswer | None:
    """What the sun times that it showed say, on the date that it showed or on which it was looked at."""
    shown = record.shown
    looked = day_of(local_digits(plan, record.looked_at) // DAY_S)
    day = dt.date.fromisoformat(shown["date"]) if "date" in shown else looked
    return sun_answer(plan, kind, display, day, (_seconds(record, "sunrise"), _seconds(record, "sunset")))


def when_looked(plan: Plan, record: AsFound, words: Words) -> str:
    """When it was looked at, by the site's clock."""
    digits = local_digits(plan, record.looked_at)
    return f"{date_words(digits)}, {words.minute(digits % DAY_S)}"


def as_found_page(unit: Unit, record: AsFound, words: Words, now: int) -> AsFoundPage:
    """The whole page."""
    plan, pages = as_found_plan(unit.plan, record), pages_of(unit.plan)
    year = year_at(plan.site, now)
    run = unit_year(plan, year, remedies=False)
    names = slots_typed(record)
    listed = numbered_findings(run, words.of_slots(names) if names else words)
    display = display_as_found(unit.plan, record, words)
    return AsFoundPage(
        unit=unit,
        record=record,
        when=when_looked(unit.plan, record, words),
        year=year,
        display=display,
        sun=_sun_as_found(unit.plan, unit.core_kind, record, display),
        findings=listed,
        pictures=pages.found_pictures(run, listed, words),
        entries=pages.found_lines(plan, names, words),
        pages=pages,
        several=len(plan.channels) > 1,
        revision=unit.head_revision.number,
    )
