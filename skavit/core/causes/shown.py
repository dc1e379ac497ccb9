"""What one would see of a simulated unit at the moments of looks, and whether that is what was seen."""

from dataclasses import dataclass, replace
from datetime import date
from functools import cached_property
from typing import Any

import numpy as np

from skavit.core.causes.looks import BLANK, Bed, Look
from skavit.core.causes.things import first_of, spans_of, things_of
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
# A bed shows what it was given in so many days, where that is much less or more than usual; common practice, no source.
BED_DAYS = 3
DRIER, WETTER = 0.75, 1.25


@dataclass(frozen=True, slots=True, kw_only=True)
class Hold:
    """Things held on or off from one instant up to another, whatever the program says."""

    channels: tuple[int, ...]  # places among the unit's things, from 1
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
    swapped: tuple[int, int] | None = None  # two things (from 0) whose wires are in each other's place
    beds: tuple[
        tuple[int, str, str], ...
    ] = ()  # (station from 1, state, part) that something outside the program makes

    @cached_property
    def outputs(self) -> tuple[Spans, ...]:
        """When each thing is on, running or warm, over the range that was run."""
        found = list(spans_of(self.run))
        if self.stopped is not None:
            found = [self._stood(spans, self.stopped) for spans in found]
        if self.hold is not None:
            held = union(np.array([self.hold.start]), np.array([self.hold.end]))
            for number in self.hold.channels:
                spans = found[number - 1]
                found[number - 1] = unite([spans, held]) if self.hold.on else difference(spans, held)
        if self.swapped is not None:
            a, b = self.swapped
            found[a], found[b] = found[b], found[a]
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
        otherwise |= {look for look, explained in looks.beds(self) if not explained}
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
    """One thing seen at one look."""

    look: int  # which, from 0
    channel: int  # its place among the unit's things, from 0
    on: bool
    explained: bool  # whether a unit would have shown just that


@dataclass(frozen=True)
class Looked:
    """Looks at a unit with the instants at which they were made."""

    plan: Plan
    looks: tuple[Look, ...]
    instants: Ints  # (n,)
    since: Ints  # (n,) from when on a look may have been; the same instant where its time is known
    right: "Shown"

    @cached_property
    def _around(self) -> Ints:
        """(n, 3): just before, at and just after each look."""
        found: Ints = self.instants[:, None] + np.array([1 - READ_S, 0, READ_S - 1])
        return found

    @cached_property
    def seen(self) -> tuple[tuple[bool | None, ...], ...]:
        """What each look says of each thing of the unit."""
        return tuple(self._of_things(look) for look in self.looks)

    def _of_things(self, look: Look) -> tuple[bool | None, ...]:
        said = {"channel": look.outputs, "water": (look.watering,), "station": look.stations, "room": look.warm}
        return tuple(said[thing.sort][thing.number - 1] if said[thing.sort] else None for thing in things_of(self.plan))

    def glances(self, outputs: tuple[Spans, ...]) -> list[Glance]:
        """Each thing that was seen, one after the other, and whether one of these could be seen so then."""
        return [
            Glance(look=i, channel=place, on=on, explained=self._could(spans, around[i], i, on=on))
            for place, spans in enumerate(outputs)
            for around in [spans.at(self._around.ravel()).reshape(-1, 3).tolist()]
            for i in range(len(self.looks))
            if (on := self.seen[i][place]) is not None
        ]

    def _could(self, spans: Spans, around: list[bool], look: int, *, on: bool) -> bool:
        """Whether a thing could be seen on, or off, at a look; where its time is a range, at any time in it."""
        low, high = int(self.since[look]), int(self.instants[look])
        if low == high or on in around:
            return on in around
        lit = spans.cut(low, high).total_s
        return lit > 0 if on else lit < high - low

    def beds(self, shown: "Shown") -> list[tuple[int, bool]]:
        """(look, whether the unit would have left the bed so) of each bed that was seen."""
        return [(i, self._bed(shown, i, bed)) for i, look in enumerate(self.looks) for bed in look.beds]

    def _bed(self, shown: "Shown", look: int, bed: Bed) -> bool:
        if any((n, state) == (bed.station, bed.state) and part == bed.part for n, state, part in shown.beds):
            return True
        if bed.part != "all":
            return False  # what the program does, it does to the whole bed
        until, place = int(self.instants[look]), first_of(self.plan, "station") + bed.station - 1
        given, wanted = (ran.outputs[place].cut(until - BED_DAYS * DAY_S, until).total_s for ran in (shown, self.right))
        return given < DRIER * wanted if bed.state == "dry" else given > WETTER * max(wanted, 60)


class Simulator:
    """Runs variants of one plan over the dates of the looks and some beyond."""

    def __init__(self, plan: Plan, looks: tuple[Look, ...]) -> None:
        self.plan = plan
        back = BED_DAYS + 1 if any(look.beds for look in looks) else 1
        self.first: date = day_of(min(look.since or look.at for look in looks) // DAY_S - back)
        self.last: date = day_of(looks[-1].at // DAY_S + AHEAD_DAYS)
        self.right = Shown(self.run(plan))
        at = np.array([look.at for look in looks], dtype=np.int64)
        since = np.array([look.at if look.since is None else look.since for look in looks], dtype=np.int64)
        clock = self.right.run.site_clock
        self.looked = Looked(plan, looks, clock.first(at), clock.first(since), self.right)

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
