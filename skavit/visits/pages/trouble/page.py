"""The likely causes of what was seen, each drawn over the looks."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from skavit.charts.cause_strip import Seen, cause_strip, strip_range
from skavit.core.causes import (
    Beyond,
    Cause,
    Causes,
    Happened,
    Likely,
    Look,
    Pair,
    beyond,
    cause_text,
    check_text,
    find_causes,
    things_of,
)
from skavit.core.ground.arrays import DAY_S
from skavit.core.plan.document import Plan
from skavit.core.text.wording import Words, count, weekday_date

# Those behind them are folded away.
AT_ONCE, MOST_SHOWN, MOST_PAIRS = 3, 9, 3
# A strip of more lanes shows only those that somebody looked at.
MOST_LANES = 4


@dataclass(frozen=True, slots=True, kw_only=True)
class CauseRow:
    """One cause."""

    number: int
    text: str
    explains: str
    all: bool
    after: str  # what happened just before it began; empty where nothing is known
    strip: str
    check: str


@dataclass(frozen=True, slots=True, kw_only=True)
class PairRow:
    """Two causes together, each with the looks that it explains."""

    number: int
    explains: str
    causes: list[tuple[str, str, str, str]]  # what it is, which looks it explains, after what, what to look at


@dataclass(frozen=True, slots=True, kw_only=True)
class CausesFound:
    """The answer: causes, likeliest first, and what no replay shows."""

    pairs: list[PairRow]  # where no single fault explains every look

    first: list[CauseRow]
    rest: list[CauseRow]
    nothing_wrong: bool  # all that was seen is as keyed
    unexplained: bool  # no single fault explains every look
    beyond: tuple[Beyond, ...]
    in_part: bool


def causes_found(
    plan: Plan, looks: tuple[Look, ...], words: Words, *, has_date: bool = True, happened: Sequence[Happened] = ()
) -> CausesFound:
    """What the looks say of a unit; ``has_date``: whether it knows the date; ``happened``: what its record tells."""
    found = find_causes(plan, looks, has_date=has_date, happened=happened)
    rows = [_row(number, likely, found, words) for number, likely in enumerate(found.likely[:MOST_SHOWN], start=1)]
    right = next(likely for likely in found.likely if likely.fault.cause is Cause.NONE)
    nothing = found.likely[0] is right and found.all_explained
    return CausesFound(
        pairs=[_pair(number, pair, found, words) for number, pair in enumerate(found.pairs[:MOST_PAIRS], start=1)],
        first=rows[: 1 if nothing else AT_ONCE],
        rest=[] if nothing else rows[AT_ONCE:],
        nothing_wrong=nothing,
        unexplained=not found.all_explained,
        beyond=beyond(plan, found.looked, right.fault.shown),
        in_part=found.in_part,
    )


def _pair(number: int, pair: Pair, found: Causes, words: Words) -> PairRow:
    told = [
        (
            cause_text(one.fault, found.plan, words),
            f"look{'s' * (one.explains > 1)} {_numbers(one.explained)}",
            _after_text(one.after),
            check_text(one, found.plan, words),
        )
        for one in (pair.first, pair.second)
    ]
    return PairRow(
        number=number, explains=f"explain {pair.explains} of {count(len(found.looked.looks), 'look')}", causes=told
    )


def _after_text(event: Happened | None) -> str:
    """What happened just before it began."""
    if event is None:
        return ""
    day = weekday_date(event.at // DAY_S)
    return f"Somebody was there on {day}." if event.what == "visit" else f"The power failed on {day}."


def _numbers(explained: tuple[bool, ...]) -> str:
    """Which looks, from 1, in order of time."""
    return ", ".join(str(number) for number, one in enumerate(explained, start=1) if one)


def _row(number: int, likely: Likely, found: Causes, words: Words) -> CauseRow:
    shown, looked = likely.fault.shown, found.looked
    seen = [
        Seen(at=int(looked.instants[g.look]), channel=g.channel, on=g.on, explained=g.explained)
        for g in looked.glances(shown.outputs)
    ]
    low, high = strip_range(looked.instants)
    lanes = sorted({one.channel for one in seen}) if len(shown.outputs) > MOST_LANES else range(len(shown.outputs))
    things = things_of(found.plan)
    labels = ["all" if things[lane].sort == "water" else str(things[lane].number) for lane in lanes]
    outputs = [shown.outputs[lane].cut(low, high) for lane in lanes]
    seen = [replace(one, channel=list(lanes).index(one.channel)) for one in seen]
    return CauseRow(
        number=number,
        text=cause_text(likely.fault, found.plan, words),
        explains=f"explains {likely.explains} of {count(len(looked.looks), 'look')}",
        all=likely.explains == len(looked.looks),
        after=_after_text(likely.after),
        strip=cause_strip(outputs, labels, seen, looked.instants, shown.run.site_clock, words) if outputs else "",
        check=check_text(likely, found.plan, words),
    )
