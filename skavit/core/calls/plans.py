"""Calls that take a plan: replay, audit, repair, fit, handover, causes and season."""

import argparse
from datetime import UTC, datetime
from typing import Any

from skavit.core.calls.given import (
    altitude_of,
    bytes_of,
    date_of,
    instant_of,
    load_plan,
    load_weather,
    minutes_of,
    number,
)
from skavit.core.calls.kinds import kind_of
from skavit.core.causes import find_causes, read_looks
from skavit.core.findings.tolerance import audit_within
from skavit.core.fitting import fit, season_programs
from skavit.core.formats import (
    audit_json,
    causes_json,
    fit_json,
    handover_json,
    heat_fit_json,
    repair_json,
    replay_text,
    season_json,
    seasons_json,
    water_fit_json,
    water_years_json,
)
from skavit.core.ground.strict_json import Node, parse_json
from skavit.core.heat.fitting import fit_heat
from skavit.core.heat.targets import targets
from skavit.core.kinds.place import plan_for_kind
from skavit.core.repair import repair
from skavit.core.simulation.handover import handover
from skavit.core.simulation.replay import replay
from skavit.core.water.fitting import WaterFit, fit_water
from skavit.core.water.soil import season_of
from skavit.core.water.stack import stack
from skavit.core.water.weather_fit import fit_to_weather

MOST_DRY_DAYS = 366


def replay_call(options: argparse.Namespace) -> Any:
    """Return what ``replay`` prints."""
    run = replay(load_plan(options.plan), date_of(options.first, "--from"), date_of(options.last, "--to"))
    return replay_text(run, stack(run), targets(run))


def audit_call(options: argparse.Namespace) -> Any:
    """Return what ``audit`` prints."""
    first, last = date_of(options.first, "--from"), date_of(options.last, "--to")
    clock_min, sun_min = (minutes_of(getattr(options, name), name) for name in ("clock_min", "sun_min"))
    return audit_json(audit_within(load_plan(options.plan), first, last, clock_min=clock_min, sun_min=sun_min))


def repair_call(options: argparse.Namespace) -> Any:
    """Return what ``repair`` prints."""
    first, last = date_of(options.first, "--from"), date_of(options.last, "--to")
    return repair_json(repair(load_plan(options.plan), first, last))


def fit_call(options: argparse.Namespace) -> Any:
    """Return what ``fit`` prints."""
    # The one place in the core where the day is read: the proof covers this year and the next.
    plan, year = load_plan(options.plan), datetime.now(tz=UTC).year
    if options.kind is not None:
        plan = plan_for_kind(plan, kind_of(options.kind))
    made = fit(plan, year)
    found = fit_json(made)
    seasons = season_programs(plan, year) if made.losses else None
    if seasons and seasons.hours_a_year < sum(loss.hours_a_year for loss in made.losses):
        found["seasons"] = seasons_json(seasons)
    if options.weather is not None:
        dry_days = number(options.dry_days, "--dry-days", "days a year", 0, MOST_DRY_DAYS)
        by_days = fit_to_weather(plan, load_weather(options.weather), altitude_of(options), dry_days)
        found["water"] = water_years_json(by_days)
        _with_water(found, by_days.fit)
    elif plan.water is not None and plan.water.climate is not None:
        _with_water(found, fit_water(plan, year))
    if plan.heat is not None:
        heated = fit_heat(plan, year)
        found["plan"]["heat"] = heated.plan.to_json()["heat"]
        found["fit"] += heat_fit_json(heated)
    return found


def _with_water(found: dict[str, Any], fit: WaterFit) -> None:
    """Put fitted programs, and what they cannot hold, into what ``fit`` prints."""
    found["plan"]["water"] = fit.plan.to_json()["water"]
    found["fit"] += water_fit_json(fit)


def handover_call(options: argparse.Namespace) -> Any:
    """Return what ``handover`` prints."""
    plan = load_plan(options.plan)
    return handover_json(handover(plan, instant_of(plan, options)), plan)


def season_call(options: argparse.Namespace) -> Any:
    """Return what ``season`` prints."""
    plan = load_plan(options.plan)
    found = season_of(plan, load_weather(options.weather), altitude_of(options))
    return season_json(found, plan.water.stations if plan.water else ())


def causes_call(options: argparse.Namespace) -> Any:
    """Return what ``causes`` prints."""
    plan = load_plan(options.plan)
    looks = read_looks(Node(parse_json(bytes_of(options.looks, "file of looks"))), plan)
    return causes_json(find_causes(plan, looks))
