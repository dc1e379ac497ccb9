"""What the rules of watering look at: the stack as it runs, the average year, and what becomes of both under other programs."""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any, Protocol

import numpy as np

from skavit.core.findings.case import Case, Described
from skavit.core.findings.finding import Finding
from skavit.core.findings.remedy import Change
from skavit.core.ground.arrays import DAY_S, Ints
from skavit.core.plan.document import Plan
from skavit.core.plan.water import Program, Water, WaterOverride
from skavit.core.plan.water_edits import with_water
from skavit.core.water.soil import Season
from skavit.core.water.stack import Fate, Stack, stack
from skavit.core.water.year import WaterYear, water_year

# What trying other programs costs beside an event of the switching side; a run of a station is some two of them.
STEPS_A_RUN, STEPS_A_TRIAL = 3, 5_000


@dataclass(frozen=True, slots=True)
class WithPrograms(Change):
    """Other programs of watering in the memory."""

    programs: tuple[Program, ...]

    def applied(self, plan: Plan) -> Plan:
        """The plan after it."""
        return with_water(plan, programs=self.programs)

    def leaves(self) -> Any:
        """The programs."""
        return [program.to_json() for program in self.programs]


@dataclass(frozen=True, slots=True)
class WithDone(Change):
    """Other things done to the watering by hand."""

    by_hand: tuple[WaterOverride, ...]

    def applied(self, plan: Plan) -> Plan:
        """The plan after it."""
        return with_water(plan, by_hand=self.by_hand)

    def leaves(self) -> Any:
        """What was done."""
        return [done.to_json() for done in self.by_hand]


class Watered:
    """A case with water: the stack as it runs, and what becomes of it under other programs."""

    def __init__(self, case: Case, year: WaterYear) -> None:
        self.case, self.year, self.stack = case, year, year.stack
        self.water: Water = year.stack.water

    @cached_property
    def alone(self) -> "Watered":
        """What the programs do by themselves, without anything that was run by hand."""
        kept = tuple(done for done in self.water.by_hand if done.suspends)
        if kept == self.water.by_hand:
            return self
        year = water_year(replace(self.case.replay, plan=with_water(self.case.plan, by_hand=kept)))
        assert year is not None
        return Watered(self.case, year)

    @property
    def season(self) -> Season | None:
        """The average year's balance; None where the climate, or the need of a station, is not known."""
        return self.year.season

    def under(self, programs: tuple[Program, ...]) -> Stack | None:
        """What runs under other programs; None where the audit may try no more."""
        if not self.case.budgets.remedies.take(len(self.stack.runs.on) * STEPS_A_RUN + STEPS_A_TRIAL):
            return None
        plan = replace(self.case.plan, water=self.water.with_programs(programs))
        found = stack(replace(self.case.replay, plan=plan))
        assert found is not None
        return found

    def with_program(self, place: int, program: Program) -> tuple[Program, ...]:
        """The programs with another at a place (from 0)."""
        return (*self.water.programs[:place], program, *self.water.programs[place + 1 :])

    def dates(self, instants: Ints) -> Ints:
        """The local dates of instants, each once."""
        return np.unique(self.case.replay.site_clock.digits(instants) // DAY_S)

    def no_worse(self, then: Stack) -> bool:
        """Whether under other programs no start waits longer, none more is lost, and no more water flows out of hours."""
        return all(a <= b for a, b in zip(troubles(then), troubles(self.stack), strict=True))


def troubles(found: Stack) -> tuple[int, int, int]:
    """Seconds that starts wait, starts that are lost to a busy unit, seconds of water outside the allowed hours."""
    waits = int((found.cycles.begin - found.cycles.due).sum())
    return waits, int((found.cycles.fate == Fate.BUSY).sum()), found.outside.total_s


def watered(case: Case) -> Watered | None:
    """The case with its water; None where the plan has none."""
    year = water_year(case.replay)
    return None if year is None else Watered(case, year)


class WaterRule(Described, Protocol):
    """A rule of watering."""

    def find(self, of: Watered) -> Iterator[Finding]:
        """The findings of this kind."""
        ...
