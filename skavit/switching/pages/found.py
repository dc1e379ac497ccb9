"""A unit that switches as it was found: its entries, and what they make."""

from dataclasses import replace
from typing import Any

from skavit.charts.year_sheet import OFF_THE_SHEET, year_sheet
from skavit.core.ground.strict_json import Node
from skavit.core.plan.document import Plan
from skavit.core.plan.entry import read_entry
from skavit.core.simulation.reverse import as_found
from skavit.core.text.wording import Words, days_text
from skavit.units.pages.numbered_findings import NumberedFinding, marks_of
from skavit.units.trades import FoundLine, FoundPicture
from skavit.units.years import UnitYear


def found_plan(plan: Plan, held: list[Any]) -> Plan:
    """The plan of a unit that holds some entries, given as JSON."""
    channels, sun = len(plan.channels), plan.unit.sun
    entries = (read_entry(Node(raw, f"entries[{index}]"), channels, sun) for index, raw in enumerate(held))
    return as_found(plan, tuple(entries))


def taken(plan: Plan, found: Plan, *, windows: bool) -> Plan:
    """The plan with the entries of a found one, and with its windows where they are wanted."""
    kept = replace(plan, channels=found.channels) if windows else plan
    return kept.with_entries(found.unit.entries)


def found_pictures(run: UnitYear, listed: list[NumberedFinding], words: Words) -> list[FoundPicture]:
    """What each channel did all year."""
    return [_picture(run, index, listed, words) for index in range(len(run.replay.plan.channels))]


def _picture(run: UnitYear, index: int, listed: list[NumberedFinding], words: Words) -> FoundPicture:
    channel, year, marks = run.replay.plan.channels[index], run.year_of(index), marks_of(listed, index + 1)

    def sheet(*, turned: bool) -> str:
        return year_sheet(year, marks=marks, cursor=OFF_THE_SHEET, today=None, words=words, turned=turned)

    return FoundPicture(
        name=channel.name,
        summary=[
            f"On from {words.time(w.start)} until {words.time(w.to) if w.to else ''}, {days_text(w.days)}"
            for w in channel.windows
        ],
        sheets=(sheet(turned=False), sheet(turned=True)),
    )


def found_lines(plan: Plan, slots: tuple[str, ...], words: Words) -> list[FoundLine]:
    """The entries that it held."""
    return [
        FoundLine(
            slot=slots[index].split()[-1] if slots else str(index + 1),
            action=entry.action.upper(),
            text=f"{words.time(entry.at)}, {days_text(entry.days)}",
            channels=entry.channels,
        )
        for index, entry in enumerate(plan.unit.entries)
    ]
