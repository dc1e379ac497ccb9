"""What a sheet is made for: a plan and its replay, a kind of unit, the moment of keying, and how times are written."""

from dataclasses import dataclass, replace
from datetime import date
from typing import Any

import numpy as np

from skavit.core.ground.arrays import DAY_S, Ints
from skavit.core.kinds.kind import Kind
from skavit.core.plan.document import Plan
from skavit.core.plan.times import day_of, sun_time_of
from skavit.core.simulation.handover import ChannelHandover, handover
from skavit.core.simulation.replay import Replay
from skavit.core.site import lawful
from skavit.core.site.clock import UnitClock
from skavit.core.site.clock import unit_clock as clock_of
from skavit.core.text.wording import Words


@dataclass(frozen=True, slots=True, kw_only=True)
class Occasion:
    """All of it; ``digits`` are what a unit of this rule must show now, its error set right.

    ``ahead`` is a replay in which today and tomorrow stand, where the sheet is to carry what it says through them.
    ``was`` is the plan that is in the unit, where only what has changed since is to be keyed.
    """

    plan: Plan
    kind: Kind | None
    year: Replay
    leaving: tuple[ChannelHandover, ...]
    unit_clock: UnitClock
    instant: int
    digits: int
    words: Words
    ahead: Replay | None = None
    was: Plan | None = None
    written_entries: tuple[dict[str, Any], ...] = ()  # as the plan file has them

    @classmethod
    def at(
        cls,
        plan: Plan,
        kind: Kind | None,
        year: Replay,
        leaving: tuple[ChannelHandover, ...],
        instant: int,
        words: Words,
        ahead: Replay | None = None,
        was: Plan | None = None,
    ) -> "Occasion":
        """The occasion of keying a plan at an instant. A kind's own 12 or 24 hours go before the crew's."""
        clock = _clock_at(plan, instant)
        return cls(
            plan=plan,
            kind=kind,
            year=year,
            leaving=leaving,
            unit_clock=clock,
            instant=instant,
            digits=int(clock.right.digits(np.array([instant]))[0]),
            words=replace(words, twelve_hour=kind.clock.hours == 12) if kind else words,
            ahead=ahead,
            was=was,
            written_entries=tuple(entry.to_json() for entry in plan.unit.entries),
        )

    def moved(self, instant: int) -> "Occasion":
        """The same unit at another moment of what lies ahead."""
        return replace(
            self,
            instant=instant,
            digits=int(self.unit_clock.right.digits(np.array([instant]))[0]),
            leaving=handover(self.plan, instant, self.ahead),
        )

    def left_over(self, used: int, before: int, most: int) -> range:
        """The numbers (from 1) that must be emptied after ``used`` of them: those of the plan before, where it is known.

        Else none where a reset has emptied all, and all that there are where the unit has none.
        """
        if self.was is not None:
            return range(used + 1, max(before, used) + 1)
        wiped = self.kind is not None and self.kind.reset is not None
        return range(0) if wiped else range(used + 1, most + 1)

    @property
    def midnights(self) -> Ints:
        """The instants at which the unit's date turns next, and the one after that: today's end and tomorrow's."""
        return self.unit_clock.right.first((self.digits // DAY_S + np.array([1, 2])) * DAY_S)

    @property
    def day(self) -> date:
        """The date that the unit must show."""
        return day_of(self.digits // DAY_S)

    @property
    def uses_sun(self) -> bool:
        """Whether any entry takes the sun."""
        return any(sun_time_of(entry.at) for entry in self.plan.unit.entries)


def is_foreign(plan: Plan, instant: int) -> bool:
    """Whether the plan's rule for daylight saving is that of another place: such a rule is never keyed."""
    return lawful.is_foreign(plan.unit.clock.dst, plan.site.timezone, day_of(instant // DAY_S).year)


def _clock_at(plan: Plan, instant: int) -> UnitClock:
    """The unit's clock as the sheet sets it: by the law here where the plan's rule is that of another place."""
    year = day_of(instant // DAY_S).year
    settings = lawful.as_keyed(plan.unit.clock, plan.site.timezone, year)
    return clock_of(settings, plan.site.timezone, year - 1, year + 1)


def digits_to_set(plan: Plan, instant: int) -> int:
    """What the clock of a unit must be set to at an instant: by its own rule, its error set right."""
    return int(_clock_at(plan, instant).right.digits(np.array([instant]))[0])


# To tomorrow's end, however late the clock is and whichever way it is moved.
_CARRIED_S = 3 * DAY_S


def clock_runs(plan: Plan, instant: int) -> list[tuple[int, int]]:
    """What a unit's clock must show through today and tomorrow: (instant, digits), and it runs on from each."""
    clock = _clock_at(plan, instant).right
    turns = clock.starts[(clock.starts > instant) & (clock.starts < instant + _CARRIED_S)]
    at = np.concatenate([[instant], turns])
    return [(int(i), int(d)) for i, d in zip(at, clock.digits(at), strict=True)]
