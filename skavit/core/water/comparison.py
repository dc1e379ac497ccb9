"""What other ways of watering would have used over the same weather: the same all year, by seasons, by months, by the weather."""

from dataclasses import dataclass, replace

import numpy as np

from skavit.core.ground.arrays import Floats
from skavit.core.ground.errors import PlanError
from skavit.core.plan.document import Plan
from skavit.core.plan.times import day_of
from skavit.core.plan.water import HUNDRED, MONTHS, Program, Water
from skavit.core.simulation.replay import replay
from skavit.core.water.et0 import et0
from skavit.core.water.need import litres_of_mm, month_shares
from skavit.core.water.soil import SLACK_MM, Season, counted_rain, irrigation_mm, needs_of, potential_mm, season
from skavit.core.water.stack import stack
from skavit.core.water.weather import Weather

SEASONS = ((11, 0, 1), (2, 3, 4), (5, 6, 7), (8, 9, 10))
STEP_PCT = 5.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Used:
    """What one way uses over the dates, and how the plants fare."""

    way: str  # as keyed, same all year, by seasons, by months, by the weather
    litres: Floats  # of each station
    dry_days: int  # of all stations
    cost: float | None  # at a tariff, for all stations; None where there is none

    @property
    def total_l(self) -> float:
        """Litres of all stations."""
        return float(self.litres.sum())


def compare(plan: Plan, weather: Weather, altitude_m: float = 0.0, per_m3: float | None = None) -> tuple[Used, ...]:
    """The plan's programs beside other ways of using the same starts and run times, over some weather.

    Raises :class:`PlanError` for a plan without water, or a station of which the need is not known.
    """
    water = plan.water
    if water is None:
        raise PlanError("water", "is missing", "a plan with water")
    needs_of(water)
    need = et0(weather, plan.site.latitude, altitude_m).mm
    ways = {
        "as keyed": water.programs,
        "same all year": tuple(_with(p, HUNDRED) for p in water.programs),
        "by seasons": tuple(_with(p, _by_seasons(_shares(p, water))) for p in water.programs),
        "by months": tuple(_with(p, _shares(p, water)) for p in water.programs),
    }
    found = [_used(way, water, _run(plan, programs, weather, need), per_m3) for way, programs in ways.items()]
    ideal = season(water, by_weather(water, weather, need), weather.days, need, weather.rain_mm)
    return (*found, _used("by the weather", water, ideal, per_m3))


def _with(program: Program, shares: tuple[float, ...]) -> Program:
    return replace(program, adjust_pct=100.0, monthly_pct=shares)


def _shares(program: Program, water: Water) -> tuple[float, ...]:
    """A share for each month: the need of the neediest station as a part of its greatest, in steps of five, rounded up.

    All 100 where the average year is not known.
    """
    climate = water.climate
    if climate is None:
        return HUNDRED
    return month_shares([water.stations[run.station - 1] for run in program.runs], climate, STEP_PCT)


def _by_seasons(shares: tuple[float, ...]) -> tuple[float, ...]:
    """Four settings a year: each season at its neediest month."""
    found = [0.0] * MONTHS
    for months in SEASONS:
        for month in months:
            found[month] = max(shares[m] for m in months)
    return tuple(found)


def _run(plan: Plan, programs: tuple[Program, ...], weather: Weather, need: Floats) -> Season:
    """A season under other programs."""
    assert plan.water is not None
    water = plan.water.with_programs(programs)
    bare = replace(plan, water=water, channels=(), overrides=(), unit=replace(plan.unit, entries=(), keyings=()))
    found = stack(replay(bare, day_of(int(weather.days[0])), day_of(int(weather.days[-1]))))
    assert found is not None
    return season(water, irrigation_mm(found), weather.days, need, weather.rain_mm)


def by_weather(water: Water, weather: Weather, et0_mm: Floats) -> Floats:
    """Millimetres a date and station if each were filled up on the date on which it would else run dry; shape (dates, stations)."""
    counted, use = counted_rain(weather.rain_mm, et0_mm), potential_mm(water, weather.days, et0_mm)
    ready = np.array([station.soil.ready_mm for station in water.stations if station.soil])
    found, now = np.zeros(use.shape), np.zeros(ready.shape)
    for row in range(len(use)):
        after = now - counted[row] + use[row]
        found[row] = np.where(after > ready + SLACK_MM, after, 0.0)
        now = np.maximum(after - found[row], 0.0)
    return found


def _used(way: str, water: Water, of: Season, per_m3: float | None) -> Used:
    given = of.irrigation.sum(axis=0).tolist()
    litres = np.array([litres_of_mm(station, mm) for station, mm in zip(water.stations, given, strict=True)])
    cost = None if per_m3 is None else float(litres.sum()) / 1000 * per_m3
    return Used(way=way, litres=litres, dry_days=int(of.dry.sum()), cost=cost)
