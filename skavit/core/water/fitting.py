"""Programs made from what the plants need: within the controller's limits, the allowed hours and what the ground takes.

The soil says how many days it lasts in the month of greatest need, the rule for days how many of them it can be, and the
precipitation rate how long a run that makes. Run-off cuts a run into several with a soak between. Stations of like
need share a program. The average year is then replayed, and what it shows is told.
"""

import itertools
from collections.abc import Iterator
from dataclasses import dataclass, replace
from datetime import date

import numpy as np

from skavit.core.ground.arrays import DAY_S, HOUR_S
from skavit.core.ground.budget import Budget
from skavit.core.ground.errors import PlanError
from skavit.core.plan.days import Calendar
from skavit.core.plan.document import Plan
from skavit.core.plan.water import Water
from skavit.core.simulation.replay import Replay, replay
from skavit.core.site.almanac import almanac
from skavit.core.water.day_choice import DayChoice, allowed_digits, choices, chosen, latest_begins
from skavit.core.water.drafting import FULL, Draft, Wants, draft, run_step_min, wants_of
from skavit.core.water.layout import Layout
from skavit.core.water.losses import YEARS, WaterLoss, losses
from skavit.core.water.soil import average_season, needs_of
from skavit.core.water.stack import Stack, stack
from skavit.core.water.timetable import Skip, Timetable, skipped, timetable

# Before dawn the air is still and least water is lost. Common practice, no source.
PREFERRED_S = (4 * HOUR_S, 3 * HOUR_S, 0)
LIKE = 0.1  # shares of a month that differ by less are of like need
MOST_STATIONS = 200
MOST_TRIES = 5
MOST_GAPS = 12  # pauses between waterings that are tried, from the longest to one day
# What a fit may work: a step is a station in a draft of a program, or a start that is placed.
STEPS = 20_000
NO_DAY = "water is allowed on none of the days that a program can hold"
# What is given for each millimetre of need: more where the days of a rule are uneven and the soil is small.
MARGINS = (1.0, 1.15)


@dataclass(frozen=True, slots=True, kw_only=True)
class WaterFit:
    """A plan with programs, and what they cannot hold."""

    plan: Plan
    losses: tuple[WaterLoss, ...]


class _Drafts:
    """Drafts of programs, each worked out once, within a budget."""

    def __init__(self, water: Water, budget: Budget) -> None:
        self.water, self.budget = water, budget
        self._made: dict[tuple[tuple[int, ...], DayChoice], Draft] = {}

    def of(self, wants: tuple[Wants, ...], choice: DayChoice) -> Draft:
        """Return one program for some stations on the days of a rule."""
        key = (tuple(w.number for w in wants), choice)
        if key not in self._made:
            self.budget.take(len(wants))
            self._made[key] = draft(wants, choice, self.water)
        return self._made[key]


def fit_water(plan: Plan, year: int, budget: Budget | None = None) -> WaterFit:
    """Return programs for the stations of a plan whose ``water.climate`` is known, proven over ``year`` and the next.

    A search that spends its ``budget`` (left out: :data:`STEPS`) gives the best way so far and says so among the losses.
    Raises :class:`PlanError` for a station of which the need is not known, or more stations than can be fitted.
    """
    water = plan.water
    assert water is not None
    assert water.climate is not None
    if len(water.stations) > MOST_STATIONS:
        raise PlanError("water.stations", f"{len(water.stations)} stations", f"at most {MOST_STATIONS} for a fit")
    needs_of(water)
    first, last = date(year, 1, 1), date(year + YEARS - 1, 12, 31)
    longest, step = water.limits.run_max_min, run_step_min(water)
    if longest is not None and longest < step:
        reason = f"the unit's runs go by {step:g} min and last at most {longest:g} min"
        return nothing_fits(plan, water, reason, first, last)
    budget = budget or Budget(STEPS)
    best: WaterFit | None = None
    for margin in MARGINS:
        found = _fitted(plan, water, wants_of(water, water.climate, margin), first, last, budget)
        if best is None or len(found.losses) < len(best.losses):
            best = found
        if not found.losses or budget.ended:
            break
    assert best is not None
    if budget.ended and best.losses:
        ended = WaterLoss(
            station=None,
            reason="there are more ways to combine these stations than were tried",
            first=first, last=last, nearest="the best of those tried",
        )  # fmt: skip
        return replace(best, losses=(*best.losses, ended))
    return best


def nothing_fits(plan: Plan, water: Water, reason: str, first: date, last: date) -> WaterFit:
    """Return the plan without programs, and why."""
    whole = WaterLoss(station=None, reason=reason, first=first, last=last, nearest="no programs")
    return WaterFit(plan=replace(plan, water=water.with_programs(())), losses=(whole,))


def _fitted(plan: Plan, water: Water, wants: list[Wants], first: date, last: date, budget: Budget) -> WaterFit:
    """Return programs for what some stations want, and what the replay shows of them."""
    run = replay(replace(plan, channels=(), overrides=(), unit=replace(plan.unit, entries=(), keyings=())), first, last)
    skip = skipped(run.unit_clock.right, run.start, run.end)
    layout = _best(plan, water, wants, run, skip, budget)
    if layout is None:
        return nothing_fits(plan, water, NO_DAY, first, last)
    found, layout = _mended(plan, water, layout, skip, first, last)
    if not layout.drafts:
        return WaterFit(plan=found, losses=())
    assert water.climate is not None
    shown = run_of(found, first, last)
    dry = average_season(shown, water.climate).settled_dry
    return WaterFit(plan=found, losses=tuple(losses(layout, shown, water, dry, YEARS)))


def _best(plan: Plan, water: Water, wants: list[Wants], run: Replay, skip: Skip, budget: Budget) -> Layout | None:
    """Return the first way that fits, from the longest pause between waterings to the shortest; or that which fails by least."""
    if not wants:
        return Layout(drafts=[], times=Timetable(starts=(), over_s=0), from_s=0)
    layouts: list[Layout] = []
    for layout in ways(plan, water, wants, run, skip, budget):
        if layout.fits:
            return layout
        layouts.append(layout)
    return min(layouts, key=lambda each: each.failure, default=None)


def ways(plan: Plan, water: Water, wants: list[Wants], run: Replay, skip: Skip, budget: Budget) -> Iterator[Layout]:
    """Ways to give some stations what they want, from the longest pause between waterings to the shortest.

    Once the budget is spent the first of them only.
    """
    low, high = run.first, run.last
    book = almanac(plan.site, low - 2, high + 2)
    span = book.rows(low, high)
    rows = np.arange(span.start - 2, span.stop + 1)
    allowed = allowed_digits(water, book, rows, run.site_clock)
    calendar = Calendar(np.arange(low, high + 1))
    begins = list(PREFERRED_S[:1] if allowed is None else PREFERRED_S)
    begins += [at for at in latest_begins(water, book, rows, run.site_clock) if at not in begins]
    offered = {from_s: choices(run, water, calendar, allowed, from_s, DAY_S) for from_s in begins}
    drafts, made = _Drafts(water, budget), False
    longest = max(w.gap for w in wants)
    for most_gap in sorted({round(longest ** (1 - n / (MOST_GAPS - 1))) for n in range(MOST_GAPS)}, reverse=True):
        for from_s in begins:
            if budget.ended and made:
                return
            layout = _way(drafts, wants, offered[from_s], most_gap, from_s, skip)
            if layout is not None:
                made = True
                yield layout


def _way(
    drafts: _Drafts, wants: list[Wants], offered: list[DayChoice], most_gap: int, from_s: int, skip: Skip
) -> Layout | None:
    if not offered:
        return None
    water = drafts.water
    rarest = min(offered, key=lambda choice: (choice.longest_gap, choice.mean_gap))
    choice_of = {
        w.number: chosen(offered, min(w.gap, most_gap), w.station.per_week)
        or chosen(offered, min(w.gap, most_gap))
        or chosen(offered, w.bears)
        for w in wants
    }
    short = tuple(w.number for w in wants if chosen(offered, w.gap) is None)
    groups = _grouped(wants, {number: choice or rarest for number, choice in choice_of.items()}, water.limits.stations)
    held = _few_enough([drafts.of(group, choice) for group, choice in groups], drafts)
    drafts.budget.take(sum(d.cycles for d in held))
    times = timetable(held, water, from_s, skip)
    served = {w.number for each, starts in zip(held, times.starts, strict=True) if starts for w in each.wants}
    return Layout(
        drafts=held, times=times, from_s=from_s, short_days=short,
        left_out=tuple(w.number for w in wants if w.number not in served),
        by_station=water.limits.stations == 1,
    )  # fmt: skip


def _grouped(
    wants: list[Wants], of: dict[int, DayChoice], most: int | None
) -> list[tuple[tuple[Wants, ...], DayChoice]]:
    """Stations of the same days and of like shares of the months together, at most so many."""
    found: list[tuple[list[Wants], DayChoice]] = []
    for w in wants:
        for group, choice in found:
            if choice == of[w.number] and np.abs(group[0].shares - w.shares).max() <= LIKE and len(group) != most:
                group.append(w)
                break
        else:
            found.append(([w], of[w.number]))
    return [(tuple(group), choice) for group, choice in found]


def _few_enough(drafts: list[Draft], of: _Drafts) -> list[Draft]:
    """Return as many programs as the controller has: the two that cost the least more water together become one, again and again."""
    water = of.water
    most = water.limits.programs or len(drafts)
    drafts = sorted(drafts, key=lambda d: (d.choice.mean_gap, d.wants[0].number))
    while len(drafts) > most:
        more: list[tuple[float, int, Draft]] = []
        for place, (a, b) in enumerate(itertools.pairwise(drafts)):
            if len(a.wants) + len(b.wants) <= (water.limits.stations or MOST_STATIONS):
                joined = _joined(a, b, of)
                more.append((joined.litres() - a.litres() - b.litres(), place, joined))
        if not more:
            break
        _, place, joined = min(more, key=lambda each: each[:2])
        drafts[place : place + 2] = [joined]
    return drafts[:most]


def _joined(a: Draft, b: Draft, of: _Drafts) -> Draft:
    """One program for the stations of two, on the days of the one that waters more often."""
    often = min(a.choice, b.choice, key=lambda choice: (choice.mean_gap, choice.longest_gap))
    wants = tuple(sorted((*a.wants, *b.wants), key=lambda w: w.number))
    return of.of(wants, often)


def run_of(plan: Plan, first: date, last: date) -> Stack:
    """The water of a plan that waters, over some dates."""
    found = stack(replay(plan, first, last))
    assert found is not None
    return found


def _mended(plan: Plan, water: Water, layout: Layout, skip: Skip, first: date, last: date) -> tuple[Plan, Layout]:
    """Return the programs with more water in the months before a dry day, until there is none or nothing more can be given.

    Longer cycles get start times anew; what then no longer fits into the night is not given.
    """
    step = water.limits.monthly_step_pct or 1.0
    climate = water.climate
    assert climate is not None
    found = replace(plan, water=water.with_programs(layout.programs()))
    for attempt in range(MOST_TRIES if water.limits.monthly else 0):
        balance = average_season(run_of(found, first, last), climate)
        dry, months = balance.settled_dry, balance.months
        raised = []
        for each in layout.drafts:
            stations = [w.number - 1 for w in each.wants]
            rows = np.nonzero(dry[:, stations].any(axis=1))[0]
            shares = list(each.months)
            for month in {int(months[max(row - back, 0)]) for row in rows.tolist() for back in (0, 7)}:
                if shares[month] < FULL:
                    shares[month] = min(shares[month] + step * 2**attempt, FULL)
            raised.append(tuple(shares))
        if raised == [each.months for each in layout.drafts]:
            break
        more = layout.with_months(raised, water, skip)
        if layout.times.fits and not more.times.fits:
            break
        layout = more
        found = replace(plan, water=water.with_programs(layout.programs()))
    return found, layout
