"""The likely causes of what was seen, each drawn over the looks."""

from dataclasses import dataclass

from skavit.charts.cause_strip import Seen, cause_strip, strip_range
from skavit.core.causes import Beyond, Cause, Causes, Likely, Look, beyond, cause_text, check_text, find_causes
from skavit.core.plan.document import Plan
from skavit.core.text.wording import Words, count

# Those behind them are folded away.
AT_ONCE, MOST_SHOWN = 3, 9


@dataclass(frozen=True, slots=True, kw_only=True)
class CauseRow:
    """One cause."""

    number: int
    text: str
    explains: str
    all: bool
    strip: str
    check: str


@dataclass(frozen=True, slots=True, kw_only=True)
class CausesFound:
    """The answer: causes, likeliest first, and what no replay shows."""

    first: list[CauseRow]
    rest: list[CauseRow]
    nothing_wrong: bool  # all that was seen is as keyed
    unexplained: bool  # no single fault explains every look
    beyond: tuple[Beyond, ...]
    in_part: bool


def causes_found(plan: Plan, looks: tuple[Look, ...], words: Words) -> CausesFound:
    """What the looks say of a unit."""
    found = find_causes(plan, looks)
    rows = [_row(number, likely, found, words) for number, likely in enumerate(found.likely[:MOST_SHOWN], start=1)]
    right = next(likely for likely in found.likely if likely.fault.cause is Cause.NONE)
    nothing = found.likely[0] is right and found.all_explained
    return CausesFound(
        first=rows[: 1 if nothing else AT_ONCE],
        rest=[] if nothing else rows[AT_ONCE:],
        nothing_wrong=nothing,
        unexplained=not found.all_explained,
        beyond=beyond(plan, found.looked, right.fault.shown),
        in_part=found.in_part,
    )


def _row(number: int, likely: Likely, found: Causes, words: Words) -> CauseRow:
    shown, looked = likely.fault.shown, found.looked
    seen = [
        Seen(at=int(looked.instants[g.look]), channel=g.channel, on=g.on, explained=g.explained)
        for g in looked.glances(shown.outputs)
    ]
    low, high = strip_range(looked.instants)
    outputs = [spans.cut(low, high) for spans in shown.outputs]
    return CauseRow(
        number=number,
        text=cause_text(likely.fault, found.plan, words),
        explains=f"explains {likely.explains} of {count(len(looked.looks), 'look')}",
        all=likely.explains == len(looked.looks),
        strip=cause_strip(outputs, seen, looked.instants, shown.run.site_clock, words) if outputs else "",
        check=check_text(likely, found.plan, words),
    )
