"""Programs fitted to real days: as little water as keeps each station dry on no more than so many days a year.

What a station is given each month follows its plants' use less a part of the rain, smooth over the year; then month by month
less is given for as long as the bound holds. What is left of a usual surplus is kept against years that the weather does not
show. The balance of the days is that of :mod:`skavit.core.water.soil`, here for many candidates at a time.
"""

import itertools
from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from skavit.core.ground.arrays import Bools, Floats, Ints
from skavit.core.ground.budget import Budget
from skavit.core.ground.errors import PlanError, RangeError
from skavit.core.plan.days import Calendar, Days
from skavit.core.plan.document import Plan
from skavit.core.plan.times import day_of
from skavit.core.plan.water import MONTHS, Climate, Water
from skavit.core.simulation.replay import Replay, replay
from skavit.core.water.comparison import by_weather
from skavit.core.water.drafting import Wants, draft
from skavit.core.water.et0 import et0
from skavit.core.water.fitting import MOST_STATIONS, NO_DAY, STEPS, WaterFit, nothing_fits, run_of, ways
from skavit.core.water.layout import Layout
from skavit.core.water.losses import losses
from skavit.core.water.need import litres_of_mm
from skavit.core.water.soil import (
    SETTLING_DAYS,
    SLACK_MM,
    Season,
    counted_rain,
    irrigation_mm,
    months_of,
    needs_of,
    potential_mm,
    season,
)
from skavit.core.water.stack import Stack
from skavit.core.water.timetable import Skip, skipped, timetable
from skavit.core.water.weather import Weather

LEAST_DAYS = 365
# What a fit looks at: 48 stations over 50 years take about half a minute.
MOST_STATION_DAYS = 900_000
DRY_DAYS = 2.0  # a year that are borne, unless said otherwise
# The first guess: so many times the use, less so much of the rain. Common practice, no source.
FIRST_USE, FIRST_RAIN = 1.3, 0.3
USES, RAINS = np.linspace(0.8, 2.6, 19), np.linspace(0.0, 1.2, 9)
LESS = 0.05  # of the greatest month, taken off one month at a time
MOST_ROUNDS = 60
# Neighbouring months differ by no more of the greatest: what few years show is not followed to the day.
MOST_APART = 0.4
# Of the water that a decision each day would use: up to so much is given against years that were not seen.
SPENT, MOST_MORE = 1.5, 1.15
MOST_WAYS, MOST_RAISES, RAISED = 4, 8, 1.04


@dataclass(frozen=True, slots=True, kw_only=True)
class StationYears:
    """What becomes of one station over the years of some weather."""

    name: str
    dry_days_a_year: float
    worst_year: int
    worst_year_dry_days: int
    irrigation_mm_a_year: float  # that reaches the driest quarter
    litres_a_year: float


@dataclass(frozen=True, slots=True, kw_only=True)
class WeatherFit:
    """A plan with programs, what they cannot hold, and how its stations fare over the years."""

    fit: WaterFit
    years: float
    stations: tuple[StationYears, ...]


@dataclass(frozen=True, kw_only=True)
class _Days:
    """The weather as the balance takes it."""

    weather: Weather
    et0_mm: Floats
    rain: Floats  # that counts
    potential: Floats  # (dates, stations)
    months: Ints

    @property
    def years(self) -> float:
        """How many there are."""
        return len(self.months) / 365.25

    def mean(self, values: Floats) -> Floats:
        """The mean of each month; shape (12, ...)."""
        return np.array([values[self.months == month].mean(axis=0) for month in range(MONTHS)])


def fit_to_weather(
    plan: Plan, weather: Weather, altitude_m: float = 0.0, dry_days: float = DRY_DAYS, budget: Budget | None = None
) -> WeatherFit:
    """Return programs that leave each station dry on at most ``dry_days`` a year on average over the weather.

    Where that cannot be, those with the fewest dry days, and why. Raises :class:`PlanError` for a plan without water or a
    station of which the need is not known, :class:`RangeError` for weather of less than a year.
    """
    water = plan.water
    if water is None:
        raise PlanError("water", "is missing", "a plan with water")
    if len(water.stations) > MOST_STATIONS:
        raise PlanError("water.stations", f"{len(water.stations)} stations", f"at most {MOST_STATIONS} for a fit")
    needs_of(water)
    if len(weather.days) < LEAST_DAYS:
        raise RangeError(f"{len(weather.days)} days of weather; accepted: a year of days at least")
    most = MOST_STATION_DAYS // max(len(water.stations), 1)
    if len(weather.days) > most:
        wrong = f"{len(weather.days)} days of weather for {len(water.stations)} stations"
        raise RangeError(f"{wrong}; accepted: at most {most} days, or fewer stations")
    days = _days(plan, water, weather, altitude_m)
    climate = Climate(
        et0_mm_day=tuple(np.maximum(days.mean(days.et0_mm), 0.0).round(3).tolist()),
        rain_mm_day=tuple(days.mean(weather.rain_mm).round(3).tolist()),
    )
    water = replace(water, climate=climate)
    return _Fitting(replace(plan, water=water), water, days, dry_days, budget or Budget(STEPS)).best()


def _days(plan: Plan, water: Water, weather: Weather, altitude_m: float) -> _Days:
    need = et0(weather, plan.site.latitude, altitude_m).mm
    return _Days(
        weather=weather, et0_mm=need, rain=counted_rain(weather.rain_mm, need),
        potential=potential_mm(water, weather.days, need), months=months_of(weather.days),
    )  # fmt: skip


@dataclass(frozen=True, kw_only=True)
class _Tried:
    """Programs that were replayed over the weather."""

    layout: Layout
    plan: Plan
    stack: Stack
    season: Season


class _Fitting:
    """One fit: a plan, its weather, and how many dry days are borne."""

    def __init__(self, plan: Plan, water: Water, days: _Days, dry_days: float, budget: Budget) -> None:
        self.plan, self.water, self.days, self.dry_days, self.budget = plan, water, days, dry_days, budget
        soils = [station.soil for station in water.stations if station.soil]
        self.total = np.array([soil.total_mm for soil in soils])
        self.ready = np.array([soil.ready_mm for soil in soils])
        self.use, self.rain = days.mean(days.potential), _smooth(days.mean(days.rain))
        ideal = by_weather(water, days.weather, days.et0_mm)
        self.ideal = ideal.sum(axis=0) / days.years  # millimetres a year of a decision each day

    def best(self) -> WeatherFit:
        """Try ways from the longest pause between waterings to the shortest, until one holds the bound."""
        bare = replace(self.plan, channels=(), overrides=(), unit=replace(self.plan.unit, entries=(), keyings=()))
        first, last = (day_of(int(day)) for day in self.days.weather.days[[0, -1]])
        run = replay(bare, first, last)
        skip = skipped(run.unit_clock.right, run.start, run.end)
        wants = self._wants(np.maximum(FIRST_USE * self.use - FIRST_RAIN * self.rain[:, None], 0.0))
        tried: list[_Tried] = []
        for layout in itertools.islice(self._ways(wants, run, skip), MOST_WAYS):
            made = self._tuned(layout, run, skip)
            tried.append(made)
            if made.layout.fits and not self._over(made.season).any():
                break
        if not tried:
            none = (
                nothing_fits(self.plan, self.water, NO_DAY, first, last)
                if wants
                else WaterFit(plan=self.plan, losses=())
            )
            return self._told(none, self._season(run_of(none.plan, first, last)))
        made = min(tried, key=lambda each: (each.layout.failure, *self._measure(each.season)))
        dry = made.season.settled_dry & self._over(made.season)
        told = losses(made.layout, made.stack, self.water, dry, self.days.years)
        return self._told(WaterFit(plan=made.plan, losses=tuple(told)), made.season)

    def _ways(self, wants: list[Wants], run: Replay, skip: Skip) -> Iterator[Layout]:
        """The ways that give nothing up, each rule for days once; else that which gives up least."""
        seen: set[tuple[Days, ...]] = set()
        rest: list[Layout] = []
        for layout in ways(self.plan, self.water, wants, run, skip, self.budget) if wants else ():
            rules = tuple(each.choice.days for each in layout.drafts)
            if layout.fits and rules not in seen:
                seen.add(rules)
                yield layout
            elif not layout.fits:
                rest.append(layout)
        if not seen and rest:
            yield min(rest, key=lambda each: each.failure)

    def _wants(self, needs: Floats) -> list[Wants]:
        """The stations that need water at all; ``needs`` of shape (12, stations), millimetres a day."""
        every = (
            Wants(number=n, station=station, need=needs[:, n - 1])
            for n, station in enumerate(self.water.stations, start=1)
        )
        return [wants for wants in every if wants.peak > 0]

    def _tuned(self, layout: Layout, run: Replay, skip: Skip) -> "_Tried":
        """The same programs with the least that holds the bound, as their run times and months can be keyed."""
        needs = self._least(layout)
        for _ in range(MOST_RAISES):
            drafted = self._drafted(layout, needs, skip)
            plan = replace(self.plan, water=self.water.with_programs(drafted.programs()))
            found = run_of(plan, day_of(run.first), day_of(run.last))
            made = _Tried(layout=drafted, plan=plan, stack=found, season=self._season(found))
            over = self._over(made.season)
            if not over.any():
                break
            needs = np.where(over, needs * RAISED, needs)
        return made

    def _drafted(self, layout: Layout, needs: Floats, skip: Skip) -> Layout:
        of = {wants.number: wants for wants in self._wants(needs)}
        drafts = [
            draft(tuple(of.get(w.number, w) for w in each.wants), each.choice, self.water) for each in layout.drafts
        ]
        return replace(layout, drafts=drafts, times=timetable(drafts, self.water, layout.from_s, skip))

    def _season(self, found: Stack) -> Season:
        days = self.days
        return season(self.water, irrigation_mm(found), days.weather.days, days.et0_mm, days.weather.rain_mm)

    def _over(self, found: Season) -> Bools:
        """(stations,) which are dry on more days than are borne."""
        over: Bools = found.settled_dry.sum(axis=0) / self.days.years > self.dry_days
        return over

    def _measure(self, found: Season) -> tuple[float, float]:
        """Dry days beyond what is borne, and millimetres."""
        beyond = np.maximum(found.settled_dry.sum(axis=0) / self.days.years - self.dry_days, 0.0)
        return float(beyond.sum()), float(found.irrigation.sum())

    def _told(self, fit: WaterFit, found: Season) -> WeatherFit:
        years = np.array([day_of(int(day)).year for day in self.days.weather.days])
        stations = []
        for number, station in enumerate(self.water.stations):
            dry, given = found.settled_dry[:, number], float(found.irrigation[:, number].sum()) / self.days.years
            of_year = {int(year): int(dry[years == year].sum()) for year in np.unique(years)}
            worst = max(of_year, key=lambda year: of_year[year])
            stations.append(
                StationYears(
                    name=station.name, dry_days_a_year=float(dry.sum()) / self.days.years, worst_year=worst,
                    worst_year_dry_days=of_year[worst], irrigation_mm_a_year=given,
                    litres_a_year=litres_of_mm(station, given),
                )
            )  # fmt: skip
        return WeatherFit(fit=fit, years=self.days.years, stations=tuple(stations))

    # ---------------------------------------------------------------- the least of each month, many candidates at a time

    def _least(self, layout: Layout) -> Floats:
        """Millimetres a day of each month that just hold the bound on the days of a layout; shape (12, stations)."""
        held, gap = self._watering(layout)
        family = np.maximum(
            USES[:, None, None, None] * self.use - RAINS[None, :, None, None] * self.rain[:, None], 0.0
        ).reshape(-1, MONTHS, len(self.ready))
        dry, given = self._fares(family, held, gap)
        borne = dry <= self.dry_days
        place = np.where(borne.any(axis=0), np.where(borne, given, np.inf).argmin(axis=0), dry.argmin(axis=0))
        needs: Floats = np.stack([family[place[n], :, n] for n in range(len(place))], axis=1)
        needs = self._lessened(needs, held, gap)
        _, used = self._fares(needs[None], held, gap)
        more = np.clip(SPENT * self.ideal / np.maximum(used[0], 1e-9), 1.0, MOST_MORE)
        return needs * more

    def _lessened(self, needs: Floats, held: Bools, gap: Floats) -> Floats:
        """Less of one month after another, that which leaves fewest dry days first, as long as the bound holds."""
        step = LESS * needs.max(axis=0)
        count = len(self.ready)
        for _ in range(MOST_ROUNDS):
            tries = np.repeat(needs[None], MONTHS, axis=0)
            each = np.arange(MONTHS)
            lower = np.maximum(needs - step, 0.0)
            tries[each, each] = lower
            beside = np.maximum(np.roll(needs, 1, axis=0), np.roll(needs, -1, axis=0))
            dry, _ = self._fares(tries, held, gap)
            smooth = lower >= beside - MOST_APART * needs.max(axis=0)
            may = (dry <= self.dry_days) & (lower < needs - 1e-9) & smooth
            best = np.where(may, dry, np.inf).argmin(axis=0)
            moved = may[best, np.arange(count)]
            if not moved.any():
                break
            needs = np.where(moved, tries[best, :, np.arange(count)].T, needs)
        return needs

    def _watering(self, layout: Layout) -> tuple[Bools, Floats]:
        """(dates, stations): the dates on which each station is watered; (stations,): the days from one to the next."""
        calendar = Calendar(self.days.weather.days)
        held, gap = np.zeros(self.days.potential.shape, dtype=np.bool_), np.ones(len(self.ready))
        for each in layout.drafts:
            on = each.choice.days.matches(calendar)
            for w in each.wants:
                held[:, w.number - 1], gap[w.number - 1] = on, each.choice.mean_gap
        return held, gap

    def _fares(self, needs: Floats, held: Bools, gap: Floats) -> tuple[Floats, Floats]:
        """(dry days a year, millimetres a year) of candidates (n, 12, stations); each of shape (n, stations)."""
        days = self.days
        given = needs * gap
        now, dry, used = (np.zeros(needs.shape[::2]) for _ in range(3))
        stressed = np.where(self.total > self.ready, self.total - self.ready, 1.0)
        limit = self.ready + SLACK_MM
        for row, month in enumerate(days.months.tolist()):
            # Equations 84 and 85 of FAO-56, as in soil.season.
            now = now - days.rain[row] + days.potential[row] * np.minimum((self.total - now) / stressed, 1.0)
            if held[row].any():
                gain = given[:, month] * held[row]
                now -= gain
                used += gain
            np.clip(now, 0.0, self.total, out=now)
            if row >= SETTLING_DAYS:
                dry += now > limit
        return dry / days.years, used / days.years


def _smooth(months: Floats) -> Floats:
    """Each month with half of its neighbours."""
    smooth: Floats = (np.roll(months, 1) + 2 * months + np.roll(months, -1)) / 4
    return smooth
