"""A repair as a whole: the changes in their order, what each takes away, the mended plan and what is left."""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from datetime import date

from skavit.core.ground.budget import Budget
from skavit.core.plan.document import Plan
from skavit.core.plan.seasonal import stretches
from skavit.core.plan.times import day_of
from skavit.core.repair.edits import Edit, edited
from skavit.core.repair.search import changes
from skavit.core.simulation.replay import Replay, replay

TOLERANCE_S = 60


@dataclass(frozen=True, slots=True, kw_only=True)
class Step:
    """One change of the order told, and what it takes away."""

    edit: Edit
    keying: int  # of which set of entries
    hours: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Repair:
    """The fewest changes, those first that take away most, and the plan after them."""

    steps: tuple[Step, ...]
    before: Plan
    plan: Plan
    before_h: float
    left_h: float
    ended: bool  # the budget ended before all was tried


def repair(plan: Plan, first: date, last: date, budget: Budget | None = None) -> Repair:
    """The fewest changes of entries after which the unit does what is wanted over the dates, within its limits.

    Entries are judged by the site's clock and sun where the unit's own are out; hours are those of the unit as it is.
    Of several sets of entries each is mended on its own dates. Raises :class:`RangeError` as :func:`replay` does.
    """
    before_s = replay(plan, first, last).wrong_s
    mended, left_s, steps, ended = plan, before_s, [], False
    for keying, run in _runs(plan, first, last):
        found = changes(run, TOLERANCE_S, budget)
        ended |= found.ended
        # Told by what each takes away in the unit as it is.
        for edits in replace(found, judged=run).in_order():
            changed = mended.with_set(keying, edited(plan.unit.sets[keying], edits))
            after_s = replay(changed, first, last).wrong_s
            steps.append(Step(edit=edits[-1], keying=keying, hours=(left_s - after_s) / 3600))
            left_s = after_s
        mended = mended.with_set(keying, edited(plan.unit.sets[keying], found.edits))
    return Repair(
        steps=tuple(steps), before=plan, plan=mended, before_h=before_s / 3600, left_h=left_s / 3600, ended=ended
    )


def _runs(plan: Plan, first: date, last: date) -> Iterator[tuple[int, Replay]]:
    """(set of entries, its run on the dates on which the unit holds it), each set once, on its longest stretch."""
    if not plan.unit.keyings:
        yield 0, replay(plan, first, last)
        return
    whole = replay(plan, first, last)
    longest: dict[int, tuple[int, int]] = {}
    for stretch in stretches(plan.unit.keyings, whole.first, whole.last):
        old = longest.get(stretch.keying)
        if old is None or stretch.last - stretch.first > old[1] - old[0]:
            longest[stretch.keying] = stretch.first, stretch.last
    for keying, (low, high) in longest.items():
        yield keying, replay(plan.with_only_set(keying), day_of(low), day_of(high))
