"""What an output does: the program of the keying in force, and over it what is done by hand or by the mains.

An override lays a *patch* over the program: from its instant until something ends it the output is on or off whatever
the program says. Where nothing is laid the output is as programmed (docs/plan-file.md, "Overrides").
"""

from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from skavit.core.ground.arrays import DAY_S, Ints
from skavit.core.ground.spans import EMPTY, Spans, difference, union, unite
from skavit.core.plan.document import Plan
from skavit.core.plan.overrides import (
    Away,
    Boost,
    ClockSet,
    Countdown,
    ExitButton,
    FirstIn,
    Mode,
    Override,
    PowerCut,
    Setting,
)
from skavit.core.plan.seasonal import stretches
from skavit.core.simulation.events import Events, output_spans
from skavit.core.site.clock import WallClock

FOR_GOOD = 2**62


@dataclass(frozen=True, slots=True, kw_only=True)
class Seams:
    """Which set of entries is in the unit: set ``sets[i]`` from the instant ``at[i]`` on."""

    at: Ints  # (n,) rising; the first holds for all time before
    sets: Ints  # (n,)

    def at_instants(self, instants: Ints) -> Ints:
        """The set that is in the unit at each instant."""
        found: Ints = self.sets[np.searchsorted(self.at[1:], instants, side="right")]
        return found


def seams(plan: Plan, first: int, last: int, site_clock: WallClock) -> Seams:
    """The keyings of a plan over the dates ``first`` to ``last``, by the instants at which each begins."""
    found = stretches(plan.unit.keyings, first, last)
    at = site_clock.first(np.array([stretch.first for stretch in found], dtype=np.int64) * DAY_S)
    return Seams(at=at, sets=np.array([stretch.keying for stretch in found], dtype=np.int64))


def in_force(plan: Plan, events: Events, keyed: Seams) -> Events:
    """The events of the entries that stand in the unit when they act."""
    if not plan.unit.keyings:
        return events
    return events.where(_set_of(plan, events) == keyed.at_instants(events.instant))


def _set_of(plan: Plan, events: Events) -> Ints:
    """The set to which the entry of each event belongs."""
    sizes = [len(entries) for entries in plan.unit.sets]
    found: Ints = np.repeat(np.arange(len(sizes)), sizes)[events.slot]
    return found


def program_spans(plan: Plan, own: Events, keyed: Seams, until: int) -> Spans:
    """The program of a channel under the events of all keyings that act on it, if nobody touches the unit.

    Where another set is keyed, a unit that computes its state takes that of the new program at once; one that waits
    keeps its output until the next entry.
    """
    if not plan.unit.keyings or plan.unit.on_return_to_auto == "waits":
        return output_spans(in_force(plan, own, keyed), until)
    sets = _set_of(plan, own)
    whole = {int(number): output_spans(own.where(sets == number), until) for number in np.unique(keyed.sets)}
    low = np.concatenate([[-FOR_GOOD], keyed.at[1:]])
    high = np.concatenate([keyed.at[1:], [until]])
    return unite(whole[int(n)].cut(int(a), int(b)) for n, a, b in zip(keyed.sets, low, high, strict=True))


def armed(plan: Plan, channel: int, spans: Spans, site_clock: WallClock) -> Spans:
    """Periods of a channel (from 0) that waits in each until the first person has come in.

    On a date on which nobody is written down to have come in, somebody is taken to have come at once.
    """
    if not plan.channels[channel].first_in or not len(spans):
        return spans
    came = np.sort([o.at for o in plan.overrides if o.channel == channel + 1 and isinstance(o.setting, FirstIn)])
    if not came.size:
        return spans
    digits = site_clock.digits(spans.on)
    day = digits // DAY_S
    first = np.searchsorted(came, day * DAY_S)  # the first on the date on which the period begins, or later
    of_day = came[np.minimum(first, came.size - 1)]
    waits = (first < came.size) & (of_day // DAY_S == day) & (of_day > digits)
    begin = np.where(waits, site_clock.first(np.asarray(of_day, dtype=np.int64)), spans.on)
    return union(np.minimum(begin, spans.off), spans.off)


@dataclass(frozen=True, slots=True, kw_only=True)
class Patch:
    """From ``start`` until ``end`` the output is on or off, whatever its program."""

    start: int
    end: int
    on: bool
    by_hand: bool  # the program does not act meanwhile; else it is on automatic, and the next entry ends the patch
    by: Setting  # what laid it

    @property
    def flashing(self) -> bool:
        """Whether the clock has lost its time, so that nothing acts."""
        return isinstance(self.by, PowerCut)

    def covers(self, instant: int) -> bool:
        """Whether it holds at an instant."""
        return self.start <= instant < self.end


class Hand:
    """Works through the overrides of one channel, in order of time; its patches stand in that order and apart."""

    def __init__(self, plan: Plan, program: Spans, turns: Ints, site_clock: WallClock) -> None:
        self.plan, self.program, self.turns, self.clock = plan, program, turns, site_clock
        self.patches: list[Patch] = []
        self.cuts: list[tuple[int, int]] = []

    def _patch_at(self, instant: int) -> Patch | None:
        place = bisect_right(self.patches, instant, key=lambda patch: patch.start) - 1
        return self.patches[place] if place >= 0 and self.patches[place].covers(instant) else None

    def held_at(self, instant: int) -> bool:
        """Whether something holds the output at an instant, so that its program does not run."""
        patch = self._patch_at(instant)
        return patch is not None and patch.by_hand

    def _output(self, instant: int) -> bool:
        patch = self._patch_at(instant)
        return patch.on if patch else bool(self.program.at(np.array([instant]))[0])

    def _next_entry(self, instant: int) -> int:
        """The next instant after this at which an entry acts on the channel."""
        place = int(np.searchsorted(self.turns, instant, side="right"))
        return int(self.turns[place]) if place < self.turns.size else FOR_GOOD

    def _from_here(self, instant: int, *patches: Patch) -> None:
        """Lay patches from an instant on in place of all that was to come."""
        while self.patches and self.patches[-1].start >= instant:
            self.patches.pop()
        if self.patches and self.patches[-1].end > instant:
            self.patches[-1] = replace(self.patches[-1], end=instant)
        self.patches += [patch for patch in patches if patch.start < patch.end]

    def act(self, instant: int, override: Override) -> None:
        """What one override does at its instant; a flashing clock lets nothing act but its setting."""
        before, setting = self._patch_at(instant), override.setting
        if before and before.flashing:
            if isinstance(setting, ClockSet) and not self._without_power(instant):
                self._from_here(instant)
            return
        match setting:
            case Mode():
                self._mode(instant, setting, before)
            case Boost():
                end = instant + round(setting.minutes * 60)
                self._from_here(instant, Patch(start=instant, end=end, on=True, by_hand=True, by=setting))
            case ExitButton():
                end = instant + setting.seconds
                self._from_here(instant, Patch(start=instant, end=end, on=True, by_hand=True, by=setting))
            case FirstIn():
                pass  # it lets the program run, which :func:`armed` knows
            case Countdown():
                end = instant + round(setting.minutes * 60)
                kept = Patch(start=instant, end=end, on=self._output(instant), by_hand=True, by=setting)
                self._from_here(instant, kept, self._until_next(end, setting, on=setting.then_on))
            case Away():
                digits = int(self.clock.digits(np.array([instant]))[0]) + setting.days * DAY_S
                end = int(self.clock.first(np.array([digits]))[0])
                self._from_here(instant, Patch(start=instant, end=end, on=False, by_hand=True, by=setting))
            case PowerCut():
                self._power_cut(instant, setting)
            case ClockSet():
                self._from_here(instant)

    def _until_next(self, instant: int, by: Setting, *, on: bool) -> Patch:
        return Patch(start=instant, end=self._next_entry(instant), on=on, by_hand=False, by=by)

    def _mode(self, instant: int, mode: Mode, before: Patch | None) -> None:
        word = mode.word
        if word in ("on", "off"):
            self._from_here(instant, Patch(start=instant, end=FOR_GOOD, on=word == "on", by_hand=True, by=mode))
        elif word in ("auto-on", "auto-off"):
            self._from_here(instant, self._until_next(instant, mode, on=word == "auto-on"))
        elif before and before.by_hand:
            waits = self.plan.unit.on_return_to_auto == "waits"
            self._from_here(instant, *([self._until_next(instant, mode, on=before.on)] if waits else []))

    def _without_power(self, instant: int) -> bool:
        return any(low <= instant < high for low, high in reversed(self.cuts))

    def _power_cut(self, instant: int, cut: PowerCut) -> None:
        """No mains: all off; what goes on beneath a short cut goes on as if it were not there."""
        end, reserve = instant + round(cut.hours * 3600), self.plan.unit.reserve_h
        self.cuts.append((instant, end))
        if reserve is not None and cut.hours > reserve:
            self._from_here(instant, Patch(start=instant, end=FOR_GOOD, on=False, by_hand=True, by=cut))

    @property
    def without_mains(self) -> Spans:
        """The power cuts."""
        return _spans(self.cuts)

    def output(self) -> Spans:
        """The program with the patches laid over it, and nothing on without mains."""
        if not self.patches and not self.cuts:
            return self.program
        uncovered = difference(self.program, patched(self.patches))
        return difference(unite([uncovered, patched([p for p in self.patches if p.on])]), self.without_mains)


def patched(patches: Sequence[Patch]) -> Spans:
    """When any of the patches lies over the program."""
    return _spans([(patch.start, patch.end) for patch in patches])


def _spans(pairs: Sequence[tuple[int, int]]) -> Spans:
    if not pairs:
        return EMPTY
    on, off = np.array(pairs, dtype=np.int64).T
    return union(on, off)


def overridden(plan: Plan, channel: int, program: Spans, turns: Ints, site_clock: WallClock, until: int) -> Hand:
    """What the overrides of a plan before ``until`` make of the program of a channel (from 0).

    ``turns``: the rising instants at which entries act on the channel.
    """
    hand = Hand(plan, program, turns, site_clock)
    mine = [o for o in plan.overrides if o.channel in (None, channel + 1)]
    at = site_clock.first(np.array([o.at for o in mine], dtype=np.int64))
    for index in np.argsort(at, kind="stable"):
        if at[index] < until:
            hand.act(int(at[index]), mine[index])
    return hand
