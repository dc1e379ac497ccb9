"""The rows of a unit's page: windows as sentences, slots of the memory, and the forms that open in them."""

import re
from dataclasses import dataclass
from typing import TypeVar

import numpy as np
from django.http import Http404, QueryDict

from skavit.core.ground.arrays import Ints
from skavit.core.load import LOGIC, power
from skavit.core.memory import place
from skavit.core.plan.document import Plan
from skavit.core.plan.entry import Entry
from skavit.core.plan.limits import Limits
from skavit.core.plan.load import Load
from skavit.core.plan.window import Window
from skavit.core.simulation.purpose import Purpose, purposes
from skavit.core.simulation.wanted import pulsed, window_spans
from skavit.core.site.almanac import almanac
from skavit.core.text.wording import Words, are_pulses, count, cycle_text, days_text, on_time_text, pulses_text
from skavit.switching.pages.unit.forms import ChannelForm
from skavit.switching.pages.unit.sentences import EntryForm, WindowForm, end_text
from skavit.units.pages.numbered_findings import NumberedFinding, slot_words
from skavit.units.pages.unit.parts import Forms
from skavit.units.years import UnitYear

Row = TypeVar("Row")


_PLACE = re.compile(r"window-(?P<channel>\d+)-(?P<window>\d+|new)|entry-(?P<entry>\d+|new)")


@dataclass(frozen=True, slots=True, kw_only=True)
class EntryRow:
    """A slot of the memory."""

    place: str
    number: int
    shown: str  # the number of its slot, or of the pair that it is half of
    name: str  # slot 3; or pair 2, its OFF
    action: str
    time: str
    days: str
    channels: str
    purpose: Purpose
    changes: str
    findings: list[NumberedFinding]
    pair: str  # "first" or "second" half of a slot that holds two; empty for a slot of its own
    form: EntryForm | None  # where it is open


@dataclass(frozen=True, slots=True, kw_only=True)
class WindowRow:
    """A window as a sentence."""

    place: str
    index: int
    start: str
    end: str
    days: str
    pulses: str  # how it pulses; empty where it does not
    hours: str
    form: WindowForm | None


@dataclass(frozen=True, slots=True, kw_only=True)
class ChannelRow:
    """A channel with its windows."""

    number: int
    name: str
    hours: str
    load: str  # what hangs on it, in a few words
    windows: list[WindowRow]
    new_place: str
    new: WindowForm | None
    rename: ChannelForm


def form_at(
    place: str, plan: Plan, revision: int, words: Words, data: QueryDict | None = None, keying: int = 0
) -> WindowForm | EntryForm:
    """The form of a place, showing the row there, or bound to what was typed; 404 for no place of the plan."""
    match = _PLACE.fullmatch(place)
    if match is None:
        raise Http404(place)
    shared = {
        "data": data,
        "place": place,
        "words": words,
        "limits": plan.unit.limits,
        "initial": {"revision": revision},
    }
    row = match["entry"] or match["window"]
    index = None if row == "new" else int(row)
    if match["entry"]:
        entries = plan.unit.sets[keying]
        return EntryForm(plan=plan, keying=keying, index=index, shown=_at(entries, index), **shared)
    channel = int(match["channel"])
    if not 1 <= channel <= len(plan.channels):
        raise Http404(place)
    windows = plan.channels[channel - 1].windows
    return WindowForm(plan=plan, channel=channel, index=index, shown=_at(windows, index), **shared)


def place_now(place: str, before: Plan, plan: Plan, keying: int = 0) -> str:
    """The place at which a row of an older plan is now; that of a new row where it is gone, or the place is no row's."""
    match = _PLACE.fullmatch(place)
    row = match["entry"] or match["window"] if match else "new"
    if match is None or row == "new":
        return place
    if match["entry"]:
        found = _found(int(row), before.unit.sets[keying], plan.unit.sets[keying])
        return f"entry-{found}"
    channel = int(match["channel"])
    if not 1 <= channel <= min(len(before.channels), len(plan.channels)):
        return "window-1-new"
    found = _found(int(row), before.channels[channel - 1].windows, plan.channels[channel - 1].windows)
    return f"window-{channel}-{found}"


def _found(index: int, before: tuple[Row, ...], rows: tuple[Row, ...]) -> int | str:
    """Find the old row in the new plan: as it was, or in its place where none was added or removed; else it is new."""
    if index < len(before) and before[index] in rows:
        return rows.index(before[index])
    return index if index < len(rows) and len(before) == len(rows) else "new"


def _at(rows: tuple[Row, ...], index: int | None) -> Row | None:
    """The row of an index; None for a new one."""
    if index is None:
        return None
    if index >= len(rows):
        raise Http404(index)
    return rows[index]


def _year_on(window: Window, plan: Plan, found: UnitYear) -> str:
    """How long a window is on in the year."""
    book = almanac(plan.site, found.replay.first, found.replay.last + 2)
    span = book.rows(found.replay.first, found.replay.last)
    stretches = window_spans(window, book, np.arange(span.start, span.stop), found.replay.site_clock)
    start, end = pulsed(window, *stretches, found.replay.start)
    return _on_a_year((end - start)[end > start])


def _on_a_year(lengths: Ints) -> str:
    return f"{on_time_text(lengths, pulses=are_pulses(lengths))} a year"


def channel_rows(plan: Plan, found: UnitYear, revision: int, words: Words, forms: Forms) -> list[ChannelRow]:
    """The channels with their windows; a row whose form is open shows the form."""
    rows = []
    for number, channel in enumerate(plan.channels, start=1):
        windows = []
        for index, window in enumerate(channel.windows):
            place = f"window-{number}-{index}"
            windows.append(
                WindowRow(
                    place=place,
                    index=index,
                    start=words.time(window.start),
                    end=end_text(window, words),
                    days=days_text(window.days),
                    pulses=cycle_text(window.repeat) if window.repeat else "",
                    hours=_year_on(window, plan, found),
                    form=forms.get(place),
                )
            )
        rows.append(
            ChannelRow(
                number=number,
                name=channel.name,
                hours=_on_a_year(found.replay.channels[number - 1].wanted.lengths),
                load=_load_text(channel.load),
                windows=windows,
                new_place=f"window-{number}-new",
                new=forms.get(f"window-{number}-new"),
                rename=forms.get(f"channel-{number}")
                or ChannelForm(initial={"revision": revision, "name": channel.name}, auto_id=f"channel-{number}-%s"),
            )
        )
    return rows


def _load_text(load: Load | None) -> str:
    """What hangs on a channel, in a few words."""
    if load is None:
        return "what hangs on it?"
    name = LOGIC[load.sort].name.lower()
    if load.run is None:
        takes = power(load)
        return f"{name}, {takes:g} W" if takes else name
    return f"{name}, {count(sum(lamp.va > 0 for lamp in load.run.lamps), 'lamp')}"


def entry_rows(
    plan: Plan, found: UnitYear, findings: list[NumberedFinding], words: Words, forms: Forms, keying: int = 0
) -> list[EntryRow]:
    """The slots of a keying in order, each with what it is for and what it changes."""
    rows = []
    sets = plan.unit.sets
    before = sum(len(entries) for entries in sets[:keying])
    serving = purposes(found.replay)[before : before + len(sets[keying])]
    halves = _halves(sets[keying], plan.unit.limits)
    several, named = len(plan.channels) > 1, slot_words(plan, words, keying)
    for index, (entry, purpose) in enumerate(zip(sets[keying], serving, strict=True)):
        blamed = [
            n
            for n in findings
            if index + 1 in n.finding.slots and n.finding.keying == keying and n.finding.severity != "note"
        ]
        tail = f" {pulses_text(entry, words)}" if entry.ends_itself else ""
        tail += ", past the reader" if entry.bypass else ""
        tail += ", disabled" if entry.disabled else ""
        rows.append(
            EntryRow(
                place=f"entry-{index}",
                number=index + 1,
                shown=named.slot_of(index + 1).split()[-1],
                name=named.slot(index + 1),
                action=entry.action.upper(),
                time=words.time(entry.at),
                days=days_text(entry.days) + tail,
                channels=", ".join(plan.channels[n - 1].name for n in entry.channels) if several else "",
                purpose=purpose,
                changes=count(purpose.switches_days, "day"),
                findings=blamed,
                pair=halves.get(index, ""),
                form=forms.get(f"entry-{index}"),
            )
        )
    return rows


def _halves(entries: tuple[Entry, ...], limits: Limits) -> dict[int, str]:
    """Of entries that share a slot and stand together, which half each is."""
    pairs = [slot.entries for slot in place(entries, limits).slots if len(slot.entries) > 1]
    return {index: half for on, off in pairs for index, half in ((on, "first"), (off, "second"))}


def slots_used(plan: Plan, keying: int = 0) -> str:
    """How many slots are used of how many, in the shape of the unit's memory."""
    limits, entries = plan.unit.limits, plan.unit.sets[keying]
    if limits.slots is None:
        used, most = len(entries), limits.entries
        return f"{used} of {count(most, 'slot')}" if most is not None else count(used, "slot")
    placing = place(entries, limits)
    told = []
    for number, bank in enumerate(limits.slots):
        used = sum(slot.bank == number for slot in placing.slots)
        word = {"pair": "pair", "on": "ON slot", "off": "OFF slot"}.get(bank.shape, "slot")
        sort = f" for {bank.times[0]} times" if bank.times is not None and len(bank.times) == 1 else ""
        per = "" if bank.per == "unit" else f" a {bank.per.replace('-', ' ')}"
        most_of = (
            f" of {count(bank.count, word)}{per}" if bank.count is not None else f" {word}{'s' if used != 1 else ''}"
        )
        told.append(f"{used}{most_of}{sort}")
    return ", ".join(told)
