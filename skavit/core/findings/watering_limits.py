"""What a controller cannot hold, or was left at: `run-too-long`, `rounded-away`, `left-high`."""

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from skavit.core.findings.acts import FullPercent
from skavit.core.findings.facts import NUMBER, SAID, WHOLE, Facts
from skavit.core.findings.finding import Finding, Severity
from skavit.core.findings.remedy import Remedy
from skavit.core.findings.watering import Watered, WaterRule, WithPrograms
from skavit.core.ground.arrays import Bools
from skavit.core.ground.records import listed, member
from skavit.core.plan.water import MONTHS
from skavit.core.text.wording import Words, months_text

NUMBERS = listed(WHOLE)


@dataclass(frozen=True, slots=True, kw_only=True)
class RunBeyond(Facts):
    """A run that the unit cannot hold."""

    program: str = member(SAID)
    station: str = member(SAID)
    minutes: float = member(NUMBER)
    most_min: float = member(NUMBER)

    def headline(self, words: Words) -> str:
        """Both figures."""
        return f"Program {self.program}, {self.station}: {self.minutes:g} min, the unit holds {self.most_min:g}"


@dataclass(frozen=True, slots=True, kw_only=True)
class Vanishes(Facts):
    """A run that rounds to nothing."""

    program: str = member(SAID)
    station: str = member(SAID)
    minutes: float = member(NUMBER)
    months: tuple[int, ...] = member(NUMBERS)

    def headline(self, words: Words) -> str:
        """Which, and when."""
        names = months_text(self.months)
        return f"Program {self.program}, {self.station}: its {self.minutes:g} min round to nothing in {names}"

    def why(self, words: Words) -> str:
        """Why."""
        return "The share of those months leaves less than half a step of the unit's run time."


@dataclass(frozen=True, slots=True, kw_only=True)
class Adjusted(Facts):
    """A percentage that somebody may have left."""

    program: str = member(SAID)
    adjust_pct: float = member(NUMBER)

    def headline(self, words: Words) -> str:
        """The percentage."""
        return f"Program {self.program} stands at {self.adjust_pct:g} %, without an end"

    def why(self, words: Words) -> str:
        """What is often forgotten."""
        return "A percentage set for a hot or a wet spell stays until somebody sets it back."


class RunTooLong(WaterRule):
    """A run that the unit cannot hold."""

    slug = "run-too-long"
    description = "a run is longer than the unit can hold"
    facts = (RunBeyond,)

    def find(self, of: Watered) -> Iterator[Finding]:
        """One for each run."""
        most = of.water.limits.run_max_min
        for program in of.water.programs if most is not None else ():
            for run in program.runs:
                if run.run_min > (most or 0):
                    facts = RunBeyond(
                        program=program.name, station=of.water.stations[run.station - 1].name,
                        minutes=run.run_min, most_min=most or 0,
                    )  # fmt: skip
                    yield of.case.make(
                        self.slug, None, facts, dates=np.array([of.case.replay.first]), severity=Severity.WARNING
                    )


class RoundedAway(WaterRule):
    """A run that rounds to nothing in some months."""

    slug = "rounded-away"
    description = "a month's share leaves less of a run than the unit can do, and it is left out"
    facts = (Vanishes,)

    def find(self, of: Watered) -> Iterator[Finding]:
        """One for each run that is keyed and wanted in a month, and does not come."""
        cycles = of.stack.cycles
        for place, program in enumerate(of.water.programs):
            seconds = np.array([program.run_seconds(m, of.water.run_step_s) for m in range(MONTHS)])
            shares = np.array(program.monthly_pct) * program.adjust_pct
            for r, run in enumerate(program.runs):
                gone: Bools = (seconds[:, r] == 0) & (shares > 0) & (run.run_min > 0)
                days = np.unique(cycles.day[(cycles.program == place) & gone[cycles.month]])
                days = days[(days >= of.case.replay.first) & (days <= of.case.replay.last)]
                if days.size:
                    facts = Vanishes(
                        program=program.name, station=of.water.stations[run.station - 1].name, minutes=run.run_min,
                        months=tuple(int(m) for m in np.nonzero(gone)[0]),
                    )  # fmt: skip
                    yield of.case.make(self.slug, None, facts, dates=days, severity=Severity.WARNING)


class LeftHigh(WaterRule):
    """A percentage away from 100."""

    slug = "left-high"
    description = "a program's percentage stands away from 100 without an end"
    facts = (Adjusted,)

    def find(self, of: Watered) -> Iterator[Finding]:
        """One for each program."""
        for place, program in enumerate(of.water.programs):
            if program.adjust_pct != 100:
                back = of.with_program(place, replace(program, adjust_pct=100.0))
                yield of.case.make(
                    self.slug, None, Adjusted(program=program.name, adjust_pct=program.adjust_pct),
                    dates=np.array([of.case.replay.first]), severity=Severity.NOTE,
                    remedy=Remedy(act=FullPercent(program=program.name), change=WithPrograms(back)),
                )  # fmt: skip
