"""Entries that make no period and no gap too short to be of use: what begins or ends one is moved, or left out."""

from collections.abc import Iterable, Iterator
from dataclasses import replace

import numpy as np

from skavit.core.fitting.proof import Proof, proof
from skavit.core.fitting.shifting import shift_days
from skavit.core.fitting.trial import Range
from skavit.core.ground.arrays import DAY_S
from skavit.core.memory import holds_all
from skavit.core.plan.clock_settings import ClockSettings
from skavit.core.plan.document import Plan
from skavit.core.plan.entry import Entry
from skavit.core.plan.limits import Limits
from skavit.core.plan.times import MAX_OFFSET_MIN, ClockTime, SunTime


def without_briefs(plan: Plan, first_year: int, dates: Range | None = None) -> Proof:
    """The proof of a plan whose entries make no period and no gap too short: the least wrong that is near it.

    The search weighs them, as one of many things; here they end. As there the unit's clock is taken to be right: what a wrong
    one makes too short is no fault of the entries. The proof is by the clock that the plan has.
    """
    settings = plan.unit.clock
    best = proof(by_clock(plan, ClockSettings()), first_year, dates)
    held = holds_all(plan.unit.entries, plan.unit.limits)
    while best.brief_count:
        moved = (proof(other, first_year, dates) for other in _moved(best))
        tried = [*moved, *(_without_idle(other, first_year, dates) for other in _without_one(best))]
        fewer = [proven for proven in tried if proven.brief_count < best.brief_count and (not held or _holds(proven))]
        if not fewer:
            # Nothing near it has fewer of them: the channel is left as it would be with nothing keyed.
            every = range(len(best.plan.unit.entries))
            channels = frozenset(number for number, spans in enumerate(best.briefs, start=1) if len(spans))
            best = proof(best.plan.with_entries(tuple(without_slots(best.plan, every, channels))), first_year, dates)
            break
        best = min(fewer, key=lambda proven: proven.weight_s)
    return best if settings == ClockSettings() else proof(by_clock(best.plan, settings), first_year, dates)


def _holds(proven: Proof) -> bool:
    """Whether the memory has a slot for each entry: an OFF that is left out may leave its pair with half of one."""
    return holds_all(proven.plan.unit.entries, proven.plan.unit.limits)


def by_clock(plan: Plan, settings: ClockSettings) -> Plan:
    """Return the plan with another clock in its unit."""
    return replace(plan, unit=replace(plan.unit, clock=settings))


def _without_idle(plan: Plan, first_year: int, dates: Range | None) -> Proof:
    """The proof of a plan less the entries that change nothing in it, such as the OFF of an ON that was left out."""
    best = proof(plan, first_year, dates)
    for index in reversed(range(len(plan.unit.entries))):
        entries = best.plan.unit.entries
        fewer = proof(best.plan.with_entries((*entries[:index], *entries[index + 1 :])), first_year, dates)
        pairs = zip(fewer.replay.channels, best.replay.channels, strict=True)
        if all(without.actual == before.actual for without, before in pairs):
            best = fewer
    return best


def _worst(proven: Proof) -> tuple[int, list[tuple[int, int]]]:
    """The channel (from 0) with the most brief spans, and those."""
    channel = max(range(len(proven.briefs)), key=lambda number: len(proven.briefs[number]))
    spans = proven.briefs[channel]
    return channel, [(int(on), int(off)) for on, off in zip(spans.on, spans.off, strict=True)]


def _moved(proven: Proof) -> Iterator[Plan]:
    """The plan with what begins the first brief span moved earlier, or with what ends it moved later."""
    plan, (channel, spans) = proven.plan, _worst(proven)
    least_s = proven.least_s(channel, spans[0])
    missing_s = max(least_s - (off - on) for on, off in spans if off - on < least_s)
    for at, side in zip(spans[0], (-1, 1), strict=True):
        for slot in _acting(proven, channel, at):
            entry = plan.unit.entries[slot]
            moved = _later(entry, side * missing_s, plan.unit.limits)
            if moved is not None:
                entries = (*plan.unit.entries[:slot], moved, *plan.unit.entries[slot + 1 :])
                if holds_all(entries, plan.unit.limits):
                    yield plan.with_entries(entries)


def _later(entry: Entry, by_s: float, limits: Limits) -> Entry | None:
    """An entry that acts so many seconds later (or earlier), rounded away by the unit's steps; None if it can't."""
    match entry.at:
        case ClockTime():
            step = max(limits.clock_step_s or 1, 60)
            days, seconds = divmod(entry.at.seconds + _rounded_away(by_s, step) * step, DAY_S)
            moved = replace(entry, at=ClockTime(seconds), days=shift_days(entry.days, days))
            return moved if limits.holds_days(moved.days) else None
        case SunTime():
            minutes = entry.at.offset_min + _rounded_away(by_s, 60)
            most = MAX_OFFSET_MIN if limits.sun_offset_max_min is None else limits.sun_offset_max_min
            return replace(entry, at=SunTime(entry.at.event, minutes)) if abs(minutes) <= most else None
        case _:
            return None


def _rounded_away(seconds: float, step: int) -> int:
    return int(np.copysign(np.ceil(abs(seconds) / step), seconds))


def _without_one(proven: Proof) -> Iterator[Plan]:
    """The plan without what begins the first brief span of the worst channel, without what ends it, without both."""
    plan, (channel, spans) = proven.plan, _worst(proven)
    begins, ends = (frozenset(_acting(proven, channel, at)) for at in spans[0])
    for slots in {begins, ends, begins | ends} - {frozenset()}:
        yield plan.with_entries(tuple(without_slots(plan, slots, frozenset({channel + 1}))))


def _acting(proven: Proof, channel: int, instant: int) -> list[int]:
    """The entries (from 0) that act on a channel at an instant."""
    events = proven.replay.events.of_channel(channel)
    return sorted({int(slot) for slot in events.slot[np.flatnonzero(events.instant == instant)]})


def without_slots(plan: Plan, slots: Iterable[int], channels: frozenset[int]) -> Iterator[Entry]:
    """The plan's entries, some of them (from 0) off those channels; where every entry acts on all, they are left out."""
    gone = frozenset(slots)
    together = plan.unit.channel_mode == "together"
    for index, entry in enumerate(plan.unit.entries):
        if index not in gone:
            yield entry
        elif not together and (left := tuple(number for number in entry.channels if number not in channels)):
            yield replace(entry, channels=left)
