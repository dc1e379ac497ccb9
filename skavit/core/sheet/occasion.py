"""What a sheet is made for: a plan and its replay, a kind of unit, the moment of keying, and how times are written."""

from dataclasses import dataclass
from datetime import date

import numpy as np

from skavit.core.ground.arrays import DAY_S
from skavit.core.kinds.kind import Kind
from skavit.core.plan.document import Plan
from skavit.core.plan.times import day_of, sun_time_of
from skavit.core.simulation.handover import ChannelHandover
from skavit.core.simulation.replay import Replay
from skavit.core.site.clock import UnitClock
from skavit.core.site.clock import unit_clock as clock_of
from skavit.core.text.wording import Words


@dataclass(frozen=True, slots=True, kw_only=True)
class Occasion:
    """All of it; ``digits`` are what a unit of this rule must show now, its error set right."""

    plan: Plan
    kind: Kind | None
    year: Replay
    leaving: tuple[ChannelHandover, ...]
    unit_clock: UnitClock
    digits: int
    words: Words

    @classmethod
    def at(
        cls,
        plan: Plan,
        kind: Kind | None,
        year: Replay,
        leaving: tuple[ChannelHandover, ...],
        instant: int,
        words: Words,
    ) -> "Occasion":
        """The occasion of keying a plan at an instant. A kind's own 12 or 24 hours go before the crew's."""
        clock = _clock_at(plan, instant)
        return cls(
            plan=plan,
            kind=kind,
            year=year,
            leaving=leaving,
            unit_clock=clock,
            digits=digits_to_set(plan, instant),
            words=Words(twelve_hour=kind.clock.hours == 12) if kind else words,
        )

    @property
    def day(self) -> date:
        """The date that the unit must show."""
        return day_of(self.digits // DAY_S)

    @property
    def uses_sun(self) -> bool:
        """Whether any entry takes the sun."""
        return any(sun_time_of(entry.at) for entry in self.plan.unit.entries)


def _clock_at(plan: Plan, instant: int) -> UnitClock:
    year = day_of(instant // DAY_S).year
    return clock_of(plan.unit.clock, plan.site.timezone, year - 1, year + 1)


def digits_to_set(plan: Plan, instant: int) -> int:
    """What the clock of a unit must be set to at an instant: by its own rule, its error set right."""
    return int(_clock_at(plan, instant).right.digits(np.array([instant]))[0])
