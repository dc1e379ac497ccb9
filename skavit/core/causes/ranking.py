"""The ranking of causes: each single fault held against the looks, those that explain every look first."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from skavit.core.causes.fault import Cause, Fault, Named
from skavit.core.causes.faults import ENTRY_STEPS, faults
from skavit.core.causes.looks import Happened, Look
from skavit.core.causes.pairs import together
from skavit.core.causes.shown import READ_S, Looked, Shown, Simulator
from skavit.core.ground.arrays import DAY_S, MINUTE_S
from skavit.core.ground.budget import Budget
from skavit.core.ground.spans import difference, unite
from skavit.core.plan.document import Plan

MOST_LISTED = 24
# A difference that somebody can be asked to look at lasts so long at least.
LONG_ENOUGH_S = 20 * MINUTE_S

# Two faults are looked for where no single one explains all: of each way to explain some looks the likeliest so many.
MOST_ALIKE, MOST_PAIRS_TRIED, MOST_PAIRS = 6, 200, 6

_GROUP = dict.fromkeys(Cause, 1) | {
    Cause.NONE: 0,
    Cause.ENTRY_LOST: 2,
    Cause.ENTRY_HALF_DAY: 2,
    Cause.SUN_SWAPPED: 2,
    Cause.START_LOST: 2,
    Cause.START_HALF_DAY: 2,
    Cause.RUN_LOST: 2,
    Cause.SEASON_ZERO: 2,
    Cause.POINT_LOST: 2,
    Cause.POINT_HALF_DAY: 2,
    Cause.VALVE_SHUT: 2,
    Cause.VALVE_OPEN: 2,
    Cause.PRESSURE_LOW: 2,
    Cause.RAIN_SENSOR: 2,
    Cause.BATTERY_LOW: 2,
    Cause.HEAD_BLOCKED: 4,
    Cause.ENTRY_DAYS: 3,
    Cause.PROGRAM_DAYS: 3,
    Cause.WIRES_SWAPPED: 3,
    Cause.ENTRY_STRAY: 4,
    Cause.START_STRAY: 4,
}
# What may go wrong while the power fails, and what may while somebody is at the unit: common practice, no source.
_BY_POWER = {
    Cause.CLOCK_HOUR,
    Cause.CLOCK_HALF_DAY,
    Cause.CLOCK_DATE,
    Cause.CLOCK_MINUTES,
    Cause.CLOCK_STOPPED,
    Cause.CORRECTION_LOST,
}
_BY_HAND = (
    set(Cause) - _BY_POWER - {Cause.NONE, Cause.HEAD_BLOCKED, Cause.PRESSURE_LOW, Cause.BATTERY_LOW, Cause.RAIN_SENSOR}
)
_LETS = {"power-cut": _BY_POWER, "visit": _BY_HAND}
_ORDER = {cause: place for place, cause in enumerate(Cause)}


@dataclass(frozen=True, slots=True, kw_only=True)
class Telling:
    """A moment at which two causes show different things: what the first would show, and what the second."""

    at: int  # local digits
    channel: int | None  # a thing's place among those of the unit, from 1; None: the display
    first: int  # the digits displayed, or whether the output is on; -1 for a blank display
    second: int


@dataclass(frozen=True, kw_only=True)
class Likely:
    """A fault with how many looks it explains, and what tells it from the one that comes next."""

    fault: Fault
    explained: tuple[bool, ...]
    after: Happened | None = None  # what happened just before it began, and may have brought it about
    telling: Telling | None = None

    @property
    def explains(self) -> int:
        """Looks that show just what a unit with this fault would have shown."""
        return sum(self.explained)


@dataclass(frozen=True, kw_only=True)
class Pair:
    """Two faults together, and which looks each explains."""

    first: Likely
    second: Likely
    explained: tuple[bool, ...]

    @property
    def explains(self) -> int:
        """Looks that show just what a unit with both would have shown."""
        return sum(self.explained)


@dataclass(frozen=True, kw_only=True)
class Causes:
    """The causes of what was seen, likeliest first."""

    plan: Plan
    looked: Looked
    likely: tuple[Likely, ...]
    pairs: tuple[Pair, ...]  # where no single fault explains all, two that explain more; likeliest first
    in_part: bool  # the unit holds so much that not every entry was tried

    @property
    def all_explained(self) -> bool:
        """Whether some single fault explains every look."""
        return self.likely[0].explains == len(self.looked.looks)


def find_causes(
    plan: Plan, looks: tuple[Look, ...], *, has_date: bool = True, happened: Sequence[Happened] = ()
) -> Causes:
    """Each single fault put into the unit, replayed and held against looks in order of time.

    ``has_date``: whether the unit knows the date; the date of another is never out. ``happened``: what the record tells of the
    unit; what it lets happen is likelier where it lies just before the first look that the unit as planned does not explain.
    Listed are those that explain as many looks as the unit without a fault, or more. Raises :class:`RangeError` for a plan
    that asks for too much over the dates of the looks.
    """
    unit, budget = Simulator(plan, looks), Budget(ENTRY_STEPS)
    between = _between(unit, happened)
    found: dict[Named, Likely] = {}
    every: list[Likely] = []
    for fault in (fault for fault in faults(unit, budget) if has_date or fault.cause is not Cause.CLOCK_DATE):
        after = next((event for event in between if fault.cause in _LETS[event.what]), None)
        likely = Likely(fault=fault, explained=fault.shown.explains(unit.looked), after=after)
        every.append(likely)
        if fault.named not in found or _first(likely) < _first(found[fault.named]):
            found[fault.named] = likely
    ranked = sorted(found.values(), key=_first)
    least = max(1, found[Fault(cause=Cause.NONE, shown=unit.right).named].explains)
    listed = [one for one in ranked if one.fault.cause is Cause.NONE or one.explains >= least][:MOST_LISTED]
    told = tuple(
        replace(one, telling=_telling(unit, one.fault.shown, other))
        for one, other in zip(listed, _others(listed), strict=True)
    )
    pairs = () if told[0].explains == len(looks) else _pairs(unit, every)
    return Causes(plan=plan, looked=unit.looked, likely=told, pairs=pairs, in_part=budget.ended)


def _between(unit: Simulator, happened: Sequence[Happened]) -> list[Happened]:
    """What happened between the last look that the unit as planned explains and the first that it does not; the latest first."""
    if all(unit.explained) or not unit.explained[0]:
        return []
    first = unit.explained.index(False)
    low, high = unit.looked.looks[first - 1].at, unit.looked.looks[first].at
    return sorted((event for event in happened if low < event.at <= high), key=lambda event: -event.at)


def _pairs(unit: Simulator, singles: list[Likely]) -> tuple[Pair, ...]:
    """Two faults that explain more together than either alone: those first that explain most and leave least open."""
    alike: dict[tuple[bool, ...], list[Likely]] = {}
    for one in sorted(singles, key=_first):
        gained = tuple(e and not before for e, before in zip(one.explained, unit.explained, strict=True))
        if any(gained) and one.fault.cause is not Cause.NONE:
            alike.setdefault(gained, []).append(one)
    ways = [(gained, one) for gained, own in alike.items() for one in own[:MOST_ALIKE]]
    tried = [
        (a, b) for n, (gained, a) in enumerate(ways) for other, b in ways[n + 1 :] if _adds(gained, other)
    ]  # fmt: skip
    tried.sort(key=lambda pair: (-_most(*pair), _open(*pair)))
    found = []
    for a, b in tried[:MOST_PAIRS_TRIED]:
        shown = together(unit, a.fault, b.fault)
        explained = shown.explains(unit.looked) if shown is not None else ()
        if sum(explained) > max(a.explains, b.explains):
            found.append(Pair(first=a, second=b, explained=explained))
    found.sort(key=lambda pair: (-pair.explains, _open(pair.first, pair.second)))
    best = found[0].explains if found else 0
    told: dict[frozenset[Named], Pair] = {}
    for pair in found:
        if pair.explains == best:
            told.setdefault(frozenset([pair.first.fault.named, pair.second.fault.named]), pair)
    return tuple(told.values())[:MOST_PAIRS]


def _adds(gained: tuple[bool, ...], other: tuple[bool, ...]) -> bool:
    """Whether each explains a look that the other does not."""
    pairs = list(zip(gained, other, strict=True))
    return any(a and not b for a, b in pairs) and any(b and not a for a, b in pairs)


def _most(one: Likely, other: Likely) -> int:
    return sum(a or b for a, b in zip(one.explained, other.explained, strict=True))


def _open(one: Likely, other: Likely) -> tuple[int, int, float]:
    """What two faults leave open, as :func:`_first` has it of one."""
    ranks = [_first(likely)[1:4] for likely in (one, other)]
    return sum(rank[0] for rank in ranks), sum(rank[1] for rank in ranks), sum(rank[2] for rank in ranks)


def _first(likely: Likely) -> tuple[int, int, int, float, tuple[int, ...]]:
    """Sort key: what explains most first, then what leaves least open."""
    fault = likely.fault
    # What began with a change of the clocks that lies between the looks is a clock that nobody moved.
    # So is what somebody at the unit, or a power cut, may have done just then.
    group = _GROUP[fault.cause] + 2 * fault.guessed - (fault.began or likely.after is not None)
    return -likely.explains, group, _ORDER[fault.cause], fault.size, (fault.slot or 0, *fault.place)


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
    # What is asked can be answered now, or be seen tonight.
    end = min(unit.right.run.end, now + DAY_S)
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
