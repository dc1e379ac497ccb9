"""What one would see of a simulated unit at the moments of looks, and whether that is what was seen."""

from dataclasses import dataclass, replace
from datetime import date
from functools import cached_property
from typing import Any

import numpy as np

from skavit.core.causes.looks import BLANK, Look
from skavit.core.ground.arrays import DAY_S, Bools, Ints
from skavit.core.ground.spans import EMPTY, Spans, difference, union, unite
from skavit.core.plan.document import Plan
from skavit.core.plan.times import ClockTime, day_of
from skavit.core.simulation.replay import Replay, replay

# A watch and a display are read within a minute; an output that switches in that minute may be seen either way.
READ_S = 60
# The unit is simulated so long beyond the last look, for what to look at next.
AHEAD_DAYS = 8
FOR_EVER = 2**62


@dataclass(frozen=True, slots=True, kw_only=True)
class Hold:
    """Outputs held on or off from one instant up to another, whatever the program says."""

    channels: tuple[int, ...]  # from 1
    on: bool
    start: int = -FOR_EVER
    end: int = FOR_EVER


@dataclass(frozen=True, slots=True, kw_only=True)
class Stopped:
    """A clock that goes no further from an instant on: it shows nothing, or the digits at which it stopped."""

    start: int = -FOR_EVER
    digits: int | None = None


@dataclass(frozen=True)
class Shown:
    """A simulated unit with what was done to its outputs and its clock."""

    run: Replay
    hold: Hold | None = None
    stopped: Stopped | None = None

    @cached_property
    def outputs(self) -> tuple[Spans, ...]:
        """When each channel is on, over the range that was run."""
        found = [channel.actual for channel in self.run.channels]
        if self.stopped is not None:
            found = [self._stood(spans, self.stopped) for spans in found]
        if self.hold is not None:
            held = union(np.array([self.hold.start]), np.array([self.hold.end]))
            for number in self.hold.channels:
                spans = found[number - 1]
                found[number - 1] = unite([spans, held]) if self.hold.on else difference(spans, held)
        return tuple(found)

    def _stood(self, spans: Spans, stopped: Stopped) -> Spans:
        """A unit without its time holds its outputs off; one whose clock stands still, as they were."""
        before = spans.cut(-FOR_EVER, stopped.start)
        if stopped.digits is None or not spans.at(np.array([stopped.start]))[0]:
            return before
        return unite([before, Spans(np.array([stopped.start]), np.array([FOR_EVER]))])

    def digits(self, instants: Ints) -> Ints:
        """What its clock shows at instants; of no meaning where it shows nothing."""
        found = self.run.unit_clock.shows(instants)
        if self.stopped is not None and self.stopped.digits is not None:
            found = np.where(instants >= self.stopped.start, self.stopped.digits, found)
        return found

    def blank(self, instants: Ints) -> Bools:
        """Whether its display is unset at instants."""
        if self.stopped is None or self.stopped.digits is not None:
            return np.zeros(instants.shape, dtype=bool)
        return instants >= self.stopped.start

    def explains(self, looks: "Looked") -> tuple[bool, ...]:
        """Which of the looks show just what this unit would have shown."""
        digits, blank = self.digits(looks.instants).tolist(), self.blank(looks.instants).tolist()
        otherwise = {glance.look for glance in looks.glances(self.outputs) if not glance.explained}
        return tuple(
            i not in otherwise and _displayed(look, digits[i], unset=blank[i]) for i, look in enumerate(looks.looks)
        )


def _displayed(look: Look, digits: int, *, unset: bool) -> bool:
    """Whether a display of these digits is what was read, within the minute of reading."""
    if unset or BLANK in look.display:
        return unset and look.shows in (BLANK, None)
    near = [digits + by for by in (-READ_S, 0, READ_S)]
    return any(
        (not isinstance(look.shows, ClockTime) or at % DAY_S // 60 == look.shows.seconds // 60)
        and (look.date is None or at // DAY_S == look.date)
        and (look.weekday is None or day_of(at // DAY_S).weekday() == look.weekday)
        for at in near
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class Glance:
    """One output seen at one look."""

    look: int  # which, from 0
    channel: int  # from 0
    on: bool
    explained: bool  # whether a unit would have shown just that


@dataclass(frozen=True)
class Looked:
    """Looks with the instants at which they were made."""

    looks: tuple[Look, ...]
    instants: Ints  # (n,)

    @cached_property
    def _around(self) -> Ints:
        """(n, 3): just before, at and just after each look."""
        found: Ints = self.instants[:, None] + np.array([1 - READ_S, 0, READ_S - 1])
        return found

    def glances(self, outputs: tuple[Spans, ...]) -> list[Glance]:
        """Each output that was seen, channel by channel, and whether one of these outputs could be seen so then."""
        return [
            Glance(look=i, channel=channel, on=on, explained=on in around[i])
            for channel, spans in enumerate(outputs)
            for around in [spans.at(self._around.ravel()).reshape(-1, 3).tolist()]
            for i, look in enumerate(self.looks)
            if look.outputs and (on := look.outputs[channel]) is not None
        ]


class Simulator:
    """Runs variants of one plan over the dates of the looks and some beyond."""

    def __init__(self, plan: Plan, looks: tuple[Look, ...]) -> None:
        self.plan = plan
        self.first: date = day_of(looks[0].at // DAY_S - 1)
        self.last: date = day_of(looks[-1].at // DAY_S + AHEAD_DAYS)
        self.right = Shown(self.run(plan))
        at = np.array([look.at for look in looks], dtype=np.int64)
        self.looked = Looked(looks, self.right.run.site_clock.first(at))

    @cached_property
    def explained(self) -> tuple[bool, ...]:
        """Which looks the unit without a fault explains."""
        return self.right.explains(self.looked)

    @cached_property
    def otherwise(self) -> tuple[Glance, ...]:
        """Outputs that were seen otherwise than the unit without a fault would have shown them."""
        return tuple(glance for glance in self.looked.glances(self.right.outputs) if not glance.explained)

    def run(self, plan: Plan) -> Replay:
        """A variant run; what is wanted is not worked out, nobody asks for it here."""
        return replay(plan, self.first, self.last, [EMPTY] * len(plan.channels))

    def with_entry(self, keying: int, slot: int, entry: Any) -> Plan:
        """The plan with another entry in one slot (from 0) of one of its sets."""
        entries = self.plan.unit.sets[keying]
        return self.plan.with_set(keying, (*entries[:slot], entry, *entries[slot + 1 :]))

    def with_clock(self, **settings: Any) -> Plan:
        """The plan with its clock set otherwise."""
        return replace(self.plan, unit=replace(self.plan.unit, clock=replace(self.plan.unit.clock, **settings)))
