"""Programs that stand in a controller on some dates of the year only."""

from dataclasses import replace

import numpy as np

from skavit.core.ground.arrays import YEAR_DAYS
from skavit.core.plan.days import DAILY, Calendar, Days, Narrowed
from skavit.core.plan.water import Program, Water


def standing(water: Water, day: int) -> tuple[Program, ...]:
    """The programs that stand in the unit on a date: one with a season only in it, and then without the season."""
    calendar = Calendar(np.array([day]))
    found = []
    for program in water.programs:
        season = season_of(program)
        if season is None:
            found.append(program)
        elif Narrowed(days=DAILY, between=season).matches(calendar)[0]:
            found.append(replace(program, days=bare_days(program)))
    return tuple(found)


def season_of(program: Program) -> tuple[int, int] | None:
    """The season (as month and day) in which a program is in the unit; None where it always does."""
    return program.days.between if isinstance(program.days, Narrowed) else None


def bare_days(program: Program) -> Days:
    """Its days without the season."""
    days = program.days
    if not isinstance(days, Narrowed) or not days.between:
        return days
    return days.days if not days.without else replace(days, between=None)


def next_season(water: Water, day: int) -> int | None:
    """The first date after one on which other programs stand in the unit, within a year; None where none do."""
    if not any(season_of(program) for program in water.programs):
        return None
    held = standing(water, day)
    return next((on for on in range(day + 1, day + YEAR_DAYS + 1) if standing(water, on) != held), None)
