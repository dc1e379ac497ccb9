"""The ranking of causes: each single fault held against the looks, those that explain every look first."""

from dataclasses import dataclass

import numpy as np

from skavit.core.causes.fault import Cause, Fault
from skavit.core.causes.faults import ENTRY_STEPS, faults
from skavit.core.causes.looks import Look
from skavit.core.causes.shown import READ_S, Looked, Shown, Simulator
from skavit.core.ground.arrays import DAY_S, MINUTE_S
from skavit.core.ground.budget import Budget
from skavit.core.ground.spans import difference, unite
from skavit.core.plan.document import Plan

MOST_LISTED = 24
# A difference that somebody can be asked to look at lasts so long at least.
LONG_ENOUGH_S = 20 * MINUTE_S

_GROUP = dict.fromkeys(Cause, 1) | {
    Cause.NONE: 0,
    Cause.ENTRY_LOST: 2,
    Cause.ENTRY_HALF_DAY: 2,
    Cause.SUN_SWAPPED: 2,
    Cause.ENTRY_STRAY: 4,
}
_ORDER = {cause: place for place, cause in enumerate(Cause)}


@dataclass(frozen=True, slots=True, kw_only=True)
class Telling:
    """A moment at which two causes show different things: what the first would show, and what the second."""

    at: int  # local digits
    channel: int | None  # from 1; None: the display
    first: int  # the digits displayed, or whether the output is on; -1 for a blank display
    second: int


@dataclass(frozen=True, kw_only=True)
class Likely:
    """A fault with how many looks it explains, and what tells it from the one that comes next."""

    fault: Fault
    explained: tuple[bool, ...]
    telling: Telling | None = None

    @property
    def explains(self) -> int:
        """Looks that show just what a unit with this fault would have shown."""
        return sum(self.explained)


@dataclass(frozen=True, kw_only=True)
class Causes:
    """The causes of what was seen, likeliest first."""

    plan: Plan
    looked: Looked
    likely: tuple[Likely, ...]
    in_part: bool  # the unit holds so much that not every entry was tried

    @property
    def all_explained(self) -> bool:
        """Whether some single fault explains every look."""
        return self.likely[0].explains == len(self.looked.looks)


def find_causes(plan: Plan, looks: tuple[Look, ...]) -> Causes:
    """Each single fault put into the unit, replayed and held against looks in order of time.

    Listed are those that explain as many looks as the unit without a fault, or more. Raises :class:`RangeError` for a plan that
    asks for too much over the dates of the looks.
    """
    unit, budget = Simulator(plan, looks), Budget(ENTRY_STEPS)
    found: dict[tuple[Cause, int | None, int], Likely] = {}
    for fault in faults(unit, budget):
        likely = Likely(fault=fault, explained=fault.shown.explains(unit.looked))
        place = fault.cause, fault.slot, fault.keying
        if place not in found or _first(likely) < _first(found[place]):
            found[place] = likely
    ranked = sorted(found.values(), key=_first)
    least = max(1, found[Cause.NONE, None, 0].explains)
    listed = [one for one in ranked if one.fault.cause is Cause.NONE or one.explains >= least][:MOST_LISTED]
    told = tuple(
        Likely(fault=one.fault, explained=one.explained, telling=_telling(unit, one.fault.shown, other))
        for one, other in zip(listed, _others(listed), strict=True)
    )
    return Causes(plan=plan, looked=unit.looked, likely=told, in_part=budget.ended)


def _first(likely: Likely) -> tuple[int, int, int, float, int]:
    """Sort key: what explains most first, then what leaves least open."""
    fault = likely.fault
    return -likely.explains, _GROUP[fault.cause] + 2 * fault.guessed, _ORDER[fault.cause], fault.size, fault.slot or 0


def _others(listed: list[Likely]) -> list[Shown | None]:
    """For each cause the one from which it must be told: the next, and of the last the one before."""
    shown: list[Shown | None] = [likely.fault.shown for likely in listed]
    return [*shown[1:], shown[-2] if len(shown) > 1 else None]


def _telling(unit: Simulator, one: Shown, other: Shown | None) -> Telling | None:
    """What to look at: the display now where nobody read it, else the first output that differs in the days to come."""
    if other is None:
        return None
    last = unit.looked.looks[-1]
    now = unit.looked.instants[-1:]
    if last.shows is None:
        a, b = (
            -1 if shown.blank(now)[0] else int(shown.digits(now)[0]) // MINUTE_S * MINUTE_S for shown in (one, other)
        )
        if abs(a - b) > READ_S:
            return Telling(at=last.at, channel=None, first=a, second=b)
    return _output_telling(unit, one, other, int(now[0]))


def _output_telling(unit: Simulator, one: Shown, other: Shown, now: int) -> Telling | None:
    end = unit.right.run.end
    found = []
    for number, (a, b) in enumerate(zip(one.outputs, other.outputs, strict=True), start=1):
        apart = unite([difference(a, b), difference(b, a)]).cut(now, end)
        if not len(apart):
            continue
        long = apart.lengths >= LONG_ENOUGH_S
        place = int(np.argmax(long)) if long.any() else int(np.argmax(apart.lengths))
        middle = int(apart.on[place] + apart.off[place]) // 2
        found.append((not long.any(), min(middle, int(apart.on[place]) + DAY_S // 24), number, a))
    if not found:
        return None
    _, at, number, spans = min(found, key=lambda each: each[:3])
    on = bool(spans.at(np.array([at]))[0])
    digits = int(unit.right.run.site_clock.digits(np.array([at]))[0]) // MINUTE_S * MINUTE_S
    return Telling(at=digits, channel=number, first=on, second=not on)
