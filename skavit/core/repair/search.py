"""The changes of a unit's entries: exactly where some entries do just what is wanted, else the best that is found."""

from dataclasses import replace

from skavit.core.fitting import Trial, fit
from skavit.core.ground.budget import Budget
from skavit.core.ground.errors import RangeError
from skavit.core.ground.spans import Spans
from skavit.core.memory import holds_all
from skavit.core.plan.document import Plan
from skavit.core.plan.times import day_of
from skavit.core.repair.edits import Edit, Entries, edited, unlike_slips
from skavit.core.repair.exact import Exact
from skavit.core.repair.found import Search
from skavit.core.repair.nearest import LEAST_S, Nearest
from skavit.core.repair.worlds import by_right_clock, by_right_sun, untouched
from skavit.core.simulation.replay import ChannelReplay, Replay

# What a repair may look at, in events; a step is some 0.4 microseconds.
REPAIR_STEPS = 6_000_000
# How far beside a turn of what the unit can do at best an act does no harm: its steps may be coarse, or its sun another.
SLACKS_S = (60, 600, 1800)
MOST_ENTRIES = 400


def changes(run: Replay, tolerance_s: int, budget: Budget | None = None, *, at_once: bool = False) -> Search:
    """The fewest changes of the entries of a replay, judged by a right clock and as if nobody touched the unit.

    A unit of a foreign sun is judged by that, or by the site's where fewer changes then leave less. ``tolerance_s``:
    how long a difference may last and still be none, in seconds. ``at_once``: only what takes no search.
    """
    budget = budget or Budget(REPAIR_STEPS)
    own = by_right_clock(untouched(run))
    found = _changes(own, tolerance_s, budget, at_once=at_once)
    right = by_right_sun(own)
    if right is own or not own.wrong_s:
        return found
    other = _changes(right, tolerance_s, budget, at_once=at_once)
    better = len(other.edits) <= len(found.edits) and other.left_s < found.left_s
    return other if better else found


def _changes(run: Replay, tolerance_s: int, budget: Budget, *, at_once: bool) -> Search:
    wrong = [
        channel
        for channel in run.channels
        if _is_wrong(channel.extra, tolerance_s) or _is_wrong(channel.missing, tolerance_s)
    ]
    if not wrong or not can_be_mended(run.plan):
        return Search(judged=run)
    if len(run.plan.unit.entries) > MOST_ENTRIES:
        return Search(judged=run, ended=True)
    exact = _exact(run, run, tolerance_s, budget)
    if exact is not None:
        return Search(judged=run, edits=exact, ended=budget.ended)
    if at_once:
        return Search(judged=run, ended=True)
    fitted = _fitted(run, budget)
    ways = [Nearest(run, fitted, budget).edits()]
    if fitted:
        # What the unit can do at best, in place of what is wanted.
        target = run.under(run.plan.with_entries(fitted))
        ways += [way for slack_s in SLACKS_S if (way := _exact(run, target, max(slack_s, tolerance_s), budget, fitted))]
    return Search(judged=run, edits=_best(run, ways), ended=budget.ended)


def _exact(
    run: Replay, target: Replay, tolerance_s: int, budget: Budget, more: Entries = ()
) -> tuple[Edit, ...] | None:
    """The fewest changes after which the unit does what is wanted, or else what another run does."""
    plan = _by_offsets(run.plan)
    trial = Trial(plan, day_of(run.first).year, budget, (day_of(run.first), day_of(run.last)))
    if target is not run:
        run, trial.base = _towards(run, target), _towards(trial.base, target)
    return Exact(run, trial, plan.unit.limits, tolerance_s, more).edits()


def _towards(run: Replay, target: Replay) -> Replay:
    """A run as if what another does were wanted."""
    pairs = zip(run.channels, target.channels, strict=True)
    channels = tuple(ChannelReplay(own.name, t.actual, own.actual, t.program, own.hand) for own, t in pairs)
    return replace(run, channels=channels)


def _best(run: Replay, ways: list[tuple[Edit, ...]]) -> tuple[Edit, ...]:
    """Of several ways the one with the fewest changes of those that leave least, or hardly more, and that can be keyed."""
    entries, limits = run.plan.unit.entries, run.plan.unit.limits
    held = [way for way in ways if holds_all(edited(entries, way), limits)] or ways
    judged = [(run.under(run.plan.with_entries(edited(entries, way))).wrong_s, way) for way in dict.fromkeys(held)]
    enough = min(left for left, _ in judged) + LEAST_S
    return min((way for left, way in judged if left <= enough), key=lambda way: (len(way), unlike_slips(entries, way)))


def _is_wrong(spans: Spans, tolerance_s: int) -> bool:
    return bool(len(spans.longer_than(tolerance_s)))


def can_be_mended(plan: Plan) -> bool:
    """Whether a unit runs its entries at all: not by hand alone, and not as pulses of one length."""
    return bool(plan.channels) and plan.unit.operating != "manual" and plan.unit.channel_mode != "pulse"


def _by_offsets(plan: Plan) -> Plan:
    """The plan with the corrections that stand in it: a unit that keys offsets as corrections keys bare sun times."""
    if plan.unit.limits.offset_by != "correction":
        return plan
    limits = replace(plan.unit.limits, offset_by="entry", sun_offset_max_min=0)
    return replace(plan, unit=replace(plan.unit, limits=limits))


def _fitted(run: Replay, budget: Budget) -> Entries:
    try:
        return fit(run.plan, day_of(run.first).year, Budget(budget.left // 3)).plan.unit.entries
    except RangeError:
        return ()
