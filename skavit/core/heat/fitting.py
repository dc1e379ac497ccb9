"""Set points for a unit: the wanted week put into its day groups and periods, with the least kelvin hours of error where it does not fit.

Every way of parting the week into the unit's day groups is tried. Where all days of a group want the same, and no more than it has
periods, their set points are keyed as they are. Else the group's best day is found exactly: its set points lie at times at which a
day of the group wants a change, its degrees among those that are wanted, and the cheapest choice of them is searched stage by stage
(dynamic programming over the day as a circle). What is found is proven by the replay.
"""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from datetime import date
from functools import lru_cache

import numpy as np

from skavit.core.ground.arrays import DAY_S, HOUR_S, Floats, Ints
from skavit.core.ground.budget import Budget
from skavit.core.heat.targets import ZoneReplay, targets
from skavit.core.heat.week import DAYS, EVEN, Day, Week, Weight, set_points
from skavit.core.plan.days import Weekdays
from skavit.core.plan.document import Plan
from skavit.core.plan.heat import MAX_PERIODS, Heat, HeatLimits, SetPoint, Zone
from skavit.core.plan.times import day_of
from skavit.core.simulation.replay import replay
from skavit.core.text.sharing import shared_days_text
from skavit.core.text.wording import count

# A unit with any set of weekdays has 877 partings; beside those of alike days the first by their size are tried.
MOST_PARTINGS = 200
MOST_TIMES = 48
CLOCKS_JUMP_BEFORE_S = 4 * HOUR_S  # of the day, wherever clocks are changed
# Of a search over all zones together: half a second to a second. A step is one time against another in one period.
MOST_STEPS = 500_000
ALL = (1 << DAYS) - 1


@dataclass(frozen=True, slots=True, kw_only=True)
class HeatLoss:
    """What a unit cannot hold of a zone (from 1)."""

    zone: int
    reason: str
    first: date
    last: date
    too_warm_kh: float
    too_cold_kh: float
    nearest: str


@dataclass(frozen=True, slots=True, kw_only=True)
class HeatFit:
    """The plan with its set points keyed, and what could not be held."""

    plan: Plan
    losses: tuple[HeatLoss, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Holds:
    """What one unit's program holds."""

    masks: frozenset[int]
    periods: int
    step_s: int
    limits: HeatLimits

    def holds(self, day: Day) -> bool:
        """Whether a day can be keyed as it is."""
        return len(day) <= self.periods and all(
            seconds % self.step_s == 0 and self.limits.nearest(c) == c for seconds, c in day
        )


def holds_of(plan: Plan) -> Holds:
    """What the program of a plan's unit holds."""
    assert plan.heat is not None
    limits = plan.heat.limits
    return Holds(
        masks=plan.unit.limits.masks(),
        periods=limits.periods or MAX_PERIODS,
        step_s=plan.unit.limits.clock_step_s or 1,
        limits=limits,
    )


def fit_heat(plan: Plan, year: int, weight: Weight = EVEN) -> HeatFit:
    """The plan with set points keyed for what is wanted; the proof covers ``year`` and the next."""
    heat = plan.heat
    if heat is None:
        return HeatFit(plan=plan, losses=())
    made = replace(plan, heat=refitted(plan, weight))
    return HeatFit(plan=made, losses=tuple(_losses(made, year, holds_of(plan))))


def refitted(plan: Plan, weight: Weight = EVEN) -> Heat:
    """The heating side with its set points fitted, without a proof."""
    heat, holds = plan.heat, holds_of(plan)
    assert heat is not None
    budget = Budget(MOST_STEPS)
    zones = tuple(replace(zone, keyed=fitted(zone, heat.frost_c, holds, weight, budget)) for zone in heat.zones)
    return replace(heat, zones=zones)


def in_groups(points: tuple[SetPoint, ...], plan: Plan) -> tuple[tuple[int, Day], ...] | None:
    """Set points parted into the day groups of a plan's unit: (weekdays as a mask, its day) each; None where they do not go."""
    heat = plan.heat
    assert heat is not None
    holds = holds_of(plan)
    week = Week.of(points, heat.frost_c)
    if not all(isinstance(point.days, Weekdays) for point in points) or not all(map(holds.holds, week.days)):
        return None
    for groups in _partings(_of_alike_days(week, holds.masks)):
        return tuple((mask, week.days[(mask & -mask).bit_length() - 1]) for mask in groups)
    return None


def fitted(zone: Zone, frost_c: float, holds: Holds, weight: Weight, budget: Budget) -> tuple[SetPoint, ...]:
    """The set points of one zone; the best of the partings that the budget allows, one at least."""
    wanted = Week.of(zone.wanted, frost_c)
    best: tuple[float, int, int] | None = None
    found: list[tuple[int, Day]] = []
    days = _BestDays(wanted, holds, weight, budget)
    for groups in (*_partings(_of_alike_days(wanted, holds.masks)), *_partings(holds.masks)):
        if best is not None and budget.ended:
            break
        made = [(mask, days.of(mask)) for mask in groups]
        own = tuple(next(day for mask, day in made if mask >> place & 1) for place in range(DAYS))
        rank = (round(Week(own, frost_c).apart(wanted, weight), 6), len(groups), sum(len(day) for _, day in made))
        if best is None or rank < best:
            best, found = rank, made
        if best[0] == 0:
            break  # partings come by their size: nothing betters it
    return _as_wanted(set_points(found), zone)


def _as_wanted(points: tuple[SetPoint, ...], zone: Zone) -> tuple[SetPoint, ...]:
    """Set points of each group by their time; those of the small hours in the order in which they are wanted.

    Where a clock jumps over two set points at once, the later in the list wins.
    """
    order = {(point.at, point.c): place for place, point in reversed(list(enumerate(zone.wanted)))}
    groups = list(dict.fromkeys(point.days for point in points))

    def key(point: SetPoint) -> tuple[int, bool, int, int]:
        late = point.at.seconds >= CLOCKS_JUMP_BEFORE_S
        place = 0 if late else order.get((point.at, point.c), len(order))
        return groups.index(point.days), late, place, point.at.seconds

    return tuple(sorted(points, key=key))


def _of_alike_days(wanted: Week, masks: frozenset[int]) -> frozenset[int]:
    """The day groups of which all days want the same."""
    return frozenset(
        mask for mask in masks if len({day for place, day in enumerate(wanted.days) if mask >> place & 1}) == 1
    )


@lru_cache(maxsize=64)
def _partings(masks: frozenset[int]) -> tuple[tuple[int, ...], ...]:
    """The ways of parting the week into day groups of the unit, fewest groups first; each group once."""

    def parts(left: int) -> Iterator[tuple[int, ...]]:
        if not left:
            yield ()
            return
        lowest = left & -left
        for mask in sorted(masks, reverse=True):
            if mask & lowest and mask & left == mask:
                for rest in parts(left & ~mask):
                    yield (mask, *rest)

    return tuple(sorted(parts(ALL), key=len)[:MOST_PARTINGS])


class _BestDays:
    """The best day of each group of weekdays, found once."""

    def __init__(self, wanted: Week, holds: Holds, weight: Weight, budget: Budget) -> None:
        self.wanted, self.holds, self.weight, self.budget = wanted, holds, weight, budget
        self._found: dict[tuple[Day, ...], Day] = {}

    def of(self, mask: int) -> Day:
        """The day of a group."""
        places = [place for place in range(DAYS) if mask >> place & 1]
        own = tuple(self.wanted.days[place] for place in places)
        if len(set(own)) == 1 and self.holds.holds(own[0]):
            return own[0]
        wants = tuple(self._whole(place) for place in places)
        if wants not in self._found:
            self.budget.take(min(sum(map(len, wants)), MOST_TIMES) ** 2 * self.holds.periods)
            self._found[wants] = best_day(wants, self.holds, self.weight)
        return self._found[wants]

    def _whole(self, place: int) -> Day:
        """A day with what holds as it begins."""
        own = self.wanted.days[place]
        return own if own and own[0][0] == 0 else ((0, self.wanted.at_midnight(place)), *own)


def best_day(days: tuple[Day, ...], holds: Holds, weight: Weight) -> Day:
    """The day with at most so many set points that is nearest to several days, each told from midnight on.

    What it ends with is what it begins with: the day before is one of the same.
    """
    at = _times(days, holds.step_s)
    turns = np.unique(np.concatenate([at, *(np.array([s for s, _ in day]) for day in days)]))
    lengths = np.diff(np.append(turns, DAY_S)) / HOUR_S
    degrees = sorted({holds.limits.nearest(c) for day in days for _, c in day})
    # What an elementary piece of the day costs at each of the degrees, all days together; shape (pieces, degrees).
    cost = np.zeros((turns.size, len(degrees)))
    for day in days:
        own = np.array([c for _, c in day])[np.searchsorted([s for s, _ in day], turns, "right") - 1]
        cost += weight.of(np.array(degrees) - own[:, None]) * lengths[:, None]
    before = np.concatenate([np.zeros((1, len(degrees))), np.cumsum(cost, axis=0)])
    places = np.searchsorted(turns, at)
    return _cheapest(at, before[places], before[-1], degrees, min(holds.periods, at.size))


def _times(days: tuple[Day, ...], step_s: int) -> Ints:
    """The times at which a set point may stand: where a day wants a change, to the unit's step either way."""
    wanted = {seconds for day in days for place, (seconds, _) in enumerate(day) if place or seconds}
    if not wanted:
        wanted = {0}
    low = {seconds // step_s * step_s for seconds in wanted}
    high = {min(-(-seconds // step_s) * step_s, (DAY_S - 1) // step_s * step_s) for seconds in wanted}
    return np.array(sorted(low | high)[:MOST_TIMES], dtype=np.int64)


def _cheapest(at: Ints, before: Floats, total: Floats, degrees: list[float], periods: int) -> Day:
    """The set points, at most so many, at which the circle of the day costs least.

    ``before``: what each of the degrees costs from midnight to each time, shape (times, degrees); ``total``: to the next midnight.
    """
    count_, best = at.size, np.inf
    found: tuple[int, ...] = ()
    # From time i to time j (j after i) at its best degrees; from i round midnight to j as well.
    ahead = before[None, :, :] - before[:, None, :]
    arcs = np.where((np.arange(count_)[None, :] > np.arange(count_)[:, None])[:, :, None], ahead, ahead + total)
    choice, price = arcs.argmin(axis=2), arcs.min(axis=2)
    for start in range(count_):
        order = np.roll(np.arange(count_), -start)
        prices = price[np.ix_(order, order)]
        whole = float(price[start, start])
        reach = np.full(count_, np.inf)
        back: list[Ints] = []
        reach[0] = 0.0
        totals: list[tuple[float, tuple[int, ...]]] = [(whole, ())] if start == 0 else []
        for _ in range(1, periods):
            options = np.where(np.arange(count_)[:, None] < np.arange(count_)[None, :], reach[:, None] + prices, np.inf)
            came, reach = options.argmin(axis=0), options.min(axis=0)
            back.append(came)
            ends = reach + prices[:, 0]
            last = int(ends[1:].argmin()) + 1 if count_ > 1 else 0
            if last:
                totals.append((float(ends[last]), tuple(_trace(back, last))))
        for cost, middle in totals:
            if cost < best - 1e-9:
                best, found = cost, tuple(int(order[n]) for n in (0, *middle))
    nexts = (*found[1:], found[0])
    day = sorted((int(at[a]), degrees[int(choice[a, b])]) for a, b in zip(found, nexts, strict=True))
    return tuple(point for place, point in enumerate(day) if len(day) == 1 or point[1] != day[place - 1][1]) or (
        day[0],
    )


def _trace(back: list[Ints], last: int) -> list[int]:
    """The times passed on the way to ``last``, the first left out."""
    found = [last]
    for came in reversed(back[1:]):
        found.append(int(came[found[-1]]))
    return found[::-1]


def _losses(plan: Plan, year: int, holds: Holds) -> Iterator[HeatLoss]:
    run = replay(plan, date(year, 1, 1), date(year + 1, 12, 31))
    warmed = targets(run)
    assert warmed is not None
    for number, zone in enumerate(warmed.zones, start=1):
        pieces, wanted = zone.both_by_program
        wrong = pieces.where(pieces.c != wanted)
        if not len(wrong):
            continue
        digits = run.site_clock.digits(np.array([wrong.on[0], wrong.off[-1] - 1]))
        yield HeatLoss(
            zone=number,
            reason=_reason(zone.zone, plan, holds),
            first=day_of(int(digits[0]) // DAY_S),
            last=day_of(int(digits[1]) // DAY_S),
            too_warm_kh=zone.program_kh(1) / 2,
            too_cold_kh=zone.program_kh(-1) / 2,
            nearest=_nearest(zone),
        )


def _nearest(zone: ZoneReplay) -> str:
    warm, cold = zone.program_kh(1) / 2, zone.program_kh(-1) / 2
    told = [f"{kh:,.0f} kelvin hours a year too {word}" for kh, word in ((warm, "warm"), (cold, "cold")) if kh >= 0.5]
    return " and ".join(told) or "less than a kelvin hour a year"


def _reason(zone: Zone, plan: Plan, holds: Holds) -> str:
    """Why the wanted set points cannot be keyed as they are."""
    assert plan.heat is not None
    if any(not isinstance(point.days, Weekdays) for point in zone.wanted):
        return "the unit holds a week: what is wanted on some dates only it cannot"
    week = Week.of(zone.wanted, plan.heat.frost_c)
    longest = max(len(day) for day in week.days)
    if longest > holds.periods:
        return f"{count(longest, 'set point')} on a day, the unit has {holds.periods}"
    if any(holds.limits.nearest(c) != c for day in week.days for _, c in day):
        return "degrees that the unit does not have"
    if any(seconds % holds.step_s for day in week.days for seconds, _ in day):
        return "times between its steps"
    if plan.unit.clock.dst != type(plan.unit.clock)().dst or not plan.unit.clock.is_right:
        return "the unit's clock does not keep the site's time"
    return shared_days_text(week.days, Week.of(zone.keyed, plan.heat.frost_c).days) or "no day groups do just that"
