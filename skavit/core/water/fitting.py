"""Programs made from what the plants need: within the controller's limits, the allowed hours and what the ground takes.

The soil says how many days it lasts in the month of greatest need, the rule for days how many of them it can be, and the
precipitation rate how long a run that makes. Run-off cuts a run into several with a soak between. Stations of like
need share a program. The average year is then replayed, and what it shows is told.
"""

import itertools
import math
from dataclasses import dataclass, replace
from datetime import date

import numpy as np

from skavit.core.ground.arrays import DAY_S, HOUR_S
from skavit.core.ground.errors import PlanError
from skavit.core.plan.days import Calendar
from skavit.core.plan.document import Plan
from skavit.core.plan.times import day_number, day_of
from skavit.core.plan.water import Program, Water
from skavit.core.simulation.replay import replay
from skavit.core.site.almanac import almanac
from skavit.core.text.wording import count
from skavit.core.water.day_choice import DayChoice, allowed_digits, choices, chosen, latest_begins
from skavit.core.water.drafting import FULL, Draft, Wants, draft, wants_of
from skavit.core.water.soil import average_season, needs_of
from skavit.core.water.stack import Stack, stack
from skavit.core.water.timetable import Skip, Timetable, skipped, timetable

# Before dawn the air is still and least water is lost. Common practice, no source.
PREFERRED_S = (4 * HOUR_S, 3 * HOUR_S, 0)
YEARS = 2  # that the average year is replayed for
LIKE = 0.1  # shares of a month that differ by less are of like need
MOST_STATIONS = 200
MOST_TRIES = 5
MOST_GAPS = 12  # pauses between waterings that are tried, from the longest to one day
# What is given for each millimetre of need: more where the days of a rule are uneven and the soil is small.
MARGINS = (1.0, 1.15)
LETTERS = "ABCDEFGHIJKLMNOPQRSTUVWXYZ"


@dataclass(frozen=True, slots=True, kw_only=True)
class WaterLoss:
    """What could not be held: of which station (None: of the unit), why, on which dates, and what was done instead."""

    station: int | None
    reason: str
    first: date
    last: date
    nearest: str


@dataclass(frozen=True, slots=True, kw_only=True)
class WaterFit:
    """A plan with programs, and what they cannot hold."""

    plan: Plan
    losses: tuple[WaterLoss, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class _Way:
    """Drafts of programs with their places in the night."""

    drafts: list[Draft]
    times: Timetable
    short_days: tuple[int, ...]  # stations that no rule waters as often as their soil asks: they may bear it just so
    left_out: tuple[int, ...] = ()  # stations for which no program is left
    by_station: bool = False  # each station has starts of its own

    def programs(self) -> tuple[Program, ...]:
        """As they are keyed in."""
        return tuple(
            d.program(name, s) for d, name, s in zip(self.drafts, self._named(), self.times.starts, strict=False)
        )  # fmt: skip

    def _named(self) -> list[str]:
        """Letters; where each station has starts of its own, its number."""
        return [str(d.wants[0].number) for d in self.drafts] if self.by_station else _names()


def _names() -> list[str]:
    return [*LETTERS, *(f"{a}{b}" for a in LETTERS for b in LETTERS)]


def fit_water(plan: Plan, year: int) -> WaterFit:
    """Programs for the stations of a plan whose ``water.climate`` is known, proven over ``year`` and the next.

    Raises :class:`PlanError` for a station of which the need is not known, or more stations than can be fitted.
    """
    water = plan.water
    assert water is not None
    assert water.climate is not None
    if len(water.stations) > MOST_STATIONS:
        raise PlanError("water.stations", f"{len(water.stations)} stations", f"at most {MOST_STATIONS} for a fit")
    needs_of(water)
    first, last = date(year, 1, 1), date(year + YEARS - 1, 12, 31)
    best: WaterFit | None = None
    for margin in MARGINS:
        found = _fitted(plan, water, wants_of(water, water.climate, margin), first, last)
        if best is None or len(found.losses) < len(best.losses):
            best = found
        if not found.losses:
            break
    assert best is not None
    return best


def _fitted(plan: Plan, water: Water, wants: list[Wants], first: date, last: date) -> WaterFit:
    """Programs for what some stations want, and what the replay shows of them."""
    way = _best(plan, water, wants, first, last)
    if way is None:
        whole = WaterLoss(
            station=None,
            reason="water is allowed on none of the days that a program can hold",
            first=first, last=last, nearest="no programs",
        )  # fmt: skip
        return WaterFit(plan=replace(plan, water=water.with_programs(())), losses=(whole,))
    found = _mended(plan, water, way, first, last)
    return WaterFit(plan=found, losses=tuple(_losses(found, way, first, last)))


def _best(plan: Plan, water: Water, wants: list[Wants], first: date, last: date) -> _Way | None:
    """The first way that fits, from the longest pause between waterings to the shortest; or that which fails by least."""
    if not wants:
        return _Way(drafts=[], times=Timetable(starts=(), over_s=0), short_days=())
    low, high = day_number(first), day_number(last)
    run = replay(replace(plan, channels=(), overrides=(), unit=replace(plan.unit, entries=(), keyings=())), first, last)
    book = almanac(plan.site, low - 2, high + 2)
    span = book.rows(low, high)
    rows = np.arange(span.start - 2, span.stop + 1)
    allowed = allowed_digits(water, book, rows, run.site_clock)
    calendar = Calendar(np.arange(low, high + 1))
    begins = list(PREFERRED_S[:1] if allowed is None else PREFERRED_S)
    begins += [at for at in latest_begins(water, book, rows, run.site_clock) if at not in begins]
    offered = {from_s: choices(run, water, calendar, allowed, from_s, DAY_S) for from_s in begins}
    skip = skipped(run.unit_clock.right, run.start, run.end)
    ways: list[tuple[tuple[int, int, int, float], _Way]] = []
    longest = max(w.gap for w in wants)
    for most_gap in sorted({round(longest ** (1 - n / (MOST_GAPS - 1))) for n in range(MOST_GAPS)}, reverse=True):
        for from_s in begins:
            way = _way(water, wants, offered[from_s], most_gap, from_s, skip)
            if way is None:
                continue
            cut = sum(len(d.runs_off) for d in way.drafts)
            if way.times.fits and not cut and not way.short_days and not way.left_out:
                return way
            ways.append(((len(way.left_out), len(way.short_days), cut, max(way.times.over_s, 0)), way))
    return min(ways, key=lambda each: each[0])[1] if ways else None


def _way(
    water: Water, wants: list[Wants], offered: list[DayChoice], most_gap: int, from_s: int, skip: Skip
) -> _Way | None:
    if not offered:
        return None
    rarest = min(offered, key=lambda choice: (choice.longest_gap, choice.mean_gap))
    choice_of = {
        w.number: chosen(offered, min(w.gap, most_gap), w.station.per_week)
        or chosen(offered, min(w.gap, most_gap))
        or chosen(offered, w.gap + 1)
        for w in wants
    }
    short = tuple(w.number for w in wants if chosen(offered, w.gap) is None)
    groups = _grouped(wants, {number: choice or rarest for number, choice in choice_of.items()}, water.limits.stations)
    drafts = _few_enough([draft(group, choice, water) for group, choice in groups], water)
    held = {w.number for each in drafts for w in each.wants}
    left_out = tuple(w.number for w in wants if w.number not in held)
    return _Way(
        drafts=drafts, times=timetable(drafts, water, from_s, skip), short_days=short, left_out=left_out,
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


def _few_enough(drafts: list[Draft], water: Water) -> list[Draft]:
    """As many programs as the controller has: the two that cost the least more water together become one, again and again."""
    most = water.limits.programs or len(drafts)
    drafts = sorted(drafts, key=lambda d: (d.choice.mean_gap, d.wants[0].number))
    while len(drafts) > most:
        more: list[tuple[float, int, Draft]] = []
        for place, (a, b) in enumerate(itertools.pairwise(drafts)):
            if len(a.wants) + len(b.wants) <= (water.limits.stations or MOST_STATIONS):
                joined = _joined(a, b, water)
                more.append((joined.litres() - a.litres() - b.litres(), place, joined))
        if not more:
            break
        _, place, joined = min(more, key=lambda each: each[:2])
        drafts[place : place + 2] = [joined]
    return drafts[:most]


def _joined(a: Draft, b: Draft, water: Water) -> Draft:
    """One program for the stations of two, on the days of the one that waters more often."""
    often = min(a.choice, b.choice, key=lambda choice: (choice.mean_gap, choice.longest_gap))
    wants = tuple(sorted((*a.wants, *b.wants), key=lambda w: w.number))
    return draft(wants, often, water)


def _run(plan: Plan, first: date, last: date) -> Stack:
    found = stack(replay(plan, first, last))
    assert found is not None
    return found


def _mended(plan: Plan, water: Water, way: _Way, first: date, last: date) -> Plan:
    """The programs with more water in the months before a dry day, until there is none or nothing more can be given."""
    programs = list(way.programs())
    step = water.limits.monthly_step_pct or 1.0
    climate = water.climate
    assert climate is not None
    found = replace(plan, water=water.with_programs(tuple(programs)))
    for attempt in range(MOST_TRIES if water.limits.monthly else 0):
        balance = average_season(_run(found, first, last), climate)
        dry, months = balance.settled_dry, balance.months
        changed = False
        for place, program in enumerate(programs):
            stations = [run.station - 1 for run in program.runs]
            rows = np.nonzero(dry[:, stations].any(axis=1))[0]
            shares = list(program.monthly_pct)
            for month in {int(months[max(row - back, 0)]) for row in rows.tolist() for back in (0, 7)}:
                if shares[month] < FULL:
                    shares[month] = min(shares[month] + step * 2**attempt, FULL)
                    changed = True
            programs[place] = replace(program, monthly_pct=tuple(shares))
        if not changed:
            break
        found = replace(plan, water=water.with_programs(tuple(programs)))
    return found


def _losses(plan: Plan, way: _Way, first: date, last: date) -> list[WaterLoss]:
    """What the replay of the average year shows, and what was given up on the way."""
    water = plan.water
    assert water is not None
    assert water.climate is not None
    if not way.drafts:
        return []
    found = _run(plan, first, last)
    dry = average_season(found, water.climate).settled_dry
    losses = []

    def lost(station: int | None, reason: str, nearest: str, begin: date = first, end: date = last) -> None:
        losses.append(WaterLoss(station=station, reason=reason, first=begin, last=end, nearest=nearest))

    for number in way.left_out:
        lost(number, "the unit has no program left for it", "not watered")
    for number in way.short_days:
        if number in way.left_out or not dry[:, number - 1].any():
            continue
        gap = next(d.choice.longest_gap for d in way.drafts if any(w.number == number for w in d.wants))
        lost(
            number,
            "the soil asks for water more often than the days of a program and the allowed hours give it",
            f"up to {gap} days between waterings",
        )
    for each in way.drafts:
        for number in each.runs_off:
            run = next(m for w, m in zip(each.wants, each.runs_min, strict=True) if w.number == number)
            lost(
                number,
                "more starts are needed than the unit has",
                f"{each.cycles} runs of {run:g} min, without run-off",
            )
    if not way.times.fits:
        late = math.ceil(way.times.over_s / 60)
        lost(None, f"the runs take {late} min longer than water may flow", "the last of them end too late")
    elif len(outside := found.outside):
        begin, end = (
            day_of(int(found.run.site_clock.digits(at[:1])[0]) // DAY_S) for at in (outside.on, outside.on[::-1])
        )
        lost(None, "water flows outside the allowed hours on some dates", "as keyed", begin, end)
    for number, station in enumerate(water.stations, start=1):
        rows = np.nonzero(dry[:, number - 1])[0]
        if rows.size:
            begin, end = (day_of(found.run.first + int(row)) for row in (rows[0], rows[-1]))
            lost(
                number,
                f"{station.name} is dry on {count(rows.size, 'day')} of {YEARS} years",
                "the longest runs that fit",
                begin,
                end,
            )
    return losses
