"""What the rules of watering say of the ground and the plants: `runs-off` and `too-dry`."""

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import partial

import numpy as np

from skavit.core.findings.acts import ChangeRun, SplitRuns
from skavit.core.findings.facts import NUMBER, SAID, WHOLE, Facts
from skavit.core.findings.finding import Finding, Severity
from skavit.core.findings.remedy import Remedy
from skavit.core.findings.watering import Watered, WaterRule, WithPrograms
from skavit.core.findings.watering_layout import moved_apart
from skavit.core.ground.arrays import DAY_S, MINUTE_S
from skavit.core.ground.records import listed, member
from skavit.core.plan.times import ClockTime
from skavit.core.plan.water import BY_HAND, MONTHS, Program
from skavit.core.text.wording import Words, count, months_text
from skavit.core.water.need import least_soak_min, longest_run_min
from skavit.core.water.soil import average_season
from skavit.core.water.stack import Stack

ALMOST_S = 1  # runs are whole seconds, the ground's minutes are not
MOST_PARTS = 6  # of a run, with a soak between
MOST_LONGER = 3.0  # times the run: the longest that is tried against dryness
NUMBERS = listed(WHOLE)


@dataclass(frozen=True, slots=True, kw_only=True)
class RunsOver(Facts):
    """A run that is longer than the ground takes."""

    station: str = member(SAID)
    minutes: float = member(NUMBER)  # that the longest run lasts
    longest_min: float = member(NUMBER)
    program: str = member(SAID, default="")  # whose run it is; empty: run by hand
    keyed_min: float = member(NUMBER, default=0.0)
    share_pct: float = member(NUMBER, default=100.0)  # of what is keyed, in the month of that run
    month: int = member(WHOLE, default=0)  # 0 for January

    def headline(self, words: Words) -> str:
        """How long, and after how long it runs off."""
        after = f"after {self.longest_min:.0f} min water runs off"
        if not self.program:
            return f"{self.station}: run by hand for {self.minutes:g} min, {after}"
        if self.share_pct == 100:
            return f"{self.station}: {self.keyed_min:g} min in program {self.program}, {after}"
        month = months_text((self.month,))
        return (
            f"{self.station}: {self.keyed_min:g} min in program {self.program}, "
            f"at {self.share_pct:g} % in {month} {self.minutes:g}, {after}"
        )

    def why(self, words: Words) -> str:
        """What the ground does."""
        return "More falls than sinks in, and what may stand on the surface is full by then."


@dataclass(frozen=True, slots=True, kw_only=True)
class SoakShort(Facts):
    """Two runs with too short a pause."""

    station: str = member(SAID)
    pause_min: float = member(NUMBER)
    soak_min: float = member(NUMBER)

    def headline(self, words: Words) -> str:
        """How long it is, and how long it must be."""
        return f"{self.station}: {self.pause_min:g} min between two runs, the ground needs {self.soak_min:.0f}"

    def why(self, words: Words) -> str:
        """What the ground does."""
        return "What the run before left on the surface has not sunk in when the next begins."


class RunsOff(WaterRule):
    """Water runs off: a run is too long, or the pause before it too short."""

    slug = "runs-off"
    description = "a run is longer than the ground takes, or the soak between two runs too short"
    facts = (RunsOver, SoakShort)

    def find(self, of: Watered) -> Iterator[Finding]:
        """One for each station, by the longest run of its programs, else by hand; else by its shortest pause."""
        for number, station in enumerate(of.water.stations):
            if found := self._over(of.alone, number) or self._over(of, number):
                yield found
                continue
            own = of.stack.runs.of_station(number)
            pauses = own.on[1:] - own.off[:-1]
            short = pauses < least_soak_min(station) * MINUTE_S - ALMOST_S
            if short.any():
                facts = SoakShort(
                    station=station.name,
                    pause_min=round(max(int(pauses.min()), 0) / MINUTE_S, 1),
                    soak_min=round(least_soak_min(station), 1),
                )
                remedy = moved_apart(
                    of.alone, [int(p) for p in np.unique(of.stack.cycles.program[own.cycle]) if p != BY_HAND],
                    partial(_ground_takes, number=number),
                )  # fmt: skip
                yield self._told(of, facts, own.on[1:][short], remedy)

    def _over(self, of: Watered, number: int) -> Finding | None:
        station, own, cycles = of.water.stations[number], of.stack.runs.of_station(number), of.stack.cycles
        lengths, longest_min = own.off - own.on, longest_run_min(station)
        over = lengths > longest_min * MINUTE_S + ALMOST_S
        if not over.any():
            return None
        at = int(lengths.argmax())
        cycle = int(own.cycle[at])
        facts = RunsOver(
            station=station.name, minutes=round(int(lengths[at]) / MINUTE_S, 1), longest_min=round(longest_min, 1)
        )
        if of.alone is not of:
            return self._told(of, facts, own.on[over], None)
        program, month = of.water.programs[int(cycles.program[cycle])], int(cycles.month[cycle])
        facts = replace(
            facts, program=program.name, keyed_min=program.runs[int(own.place[at])].run_min, month=month,
            share_pct=program.monthly_pct[month] * program.adjust_pct / 100,
        )  # fmt: skip
        programs = np.unique(cycles.program[own.cycle[over]])
        remedy = _split(of, int(programs[0])) if programs.size == 1 else None
        return self._told(of, facts, own.on[over], remedy)

    def _told(self, of: Watered, facts: Facts, at: np.ndarray, remedy: Remedy | None) -> Finding:
        return of.case.make(self.slug, None, facts, dates=of.dates(at), severity=Severity.WARNING, remedy=remedy)


def _ground_takes(found: Stack, number: int) -> bool:
    """Whether no run of a station (from 0) is too long, and none comes too soon after the one before."""
    station, own = found.water.stations[number], found.runs.of_station(number)
    longest_s, soak_s = longest_run_min(station) * MINUTE_S, least_soak_min(station) * MINUTE_S
    too_long = (own.off - own.on).max(initial=0) > longest_s + ALMOST_S
    return not too_long and not (own.on[1:] - own.off[:-1]).min(initial=DAY_S) < soak_s - ALMOST_S


def _ground_holds(found: Stack, program: Program) -> bool:
    """Whether the ground takes all runs of a program's stations."""
    return all(_ground_takes(found, number) for number in {run.station - 1 for run in program.runs})


def _split(of: Watered, place: int) -> Remedy | None:
    """Each run in parts with a soak between, by further starts; only where the unit has them and nothing else suffers."""
    program = of.water.programs[place]
    starts = [at.seconds for at in program.starts if isinstance(at, ClockTime)]
    if len(starts) != len(program.starts):
        return None
    step = of.water.limits.run_step_min or of.water.run_step_s / MINUTE_S
    most = of.water.limits.starts or MOST_PARTS * len(starts)
    for times in range(2, min(most // len(starts), MOST_PARTS) + 1):
        runs = tuple(
            replace(run, run_min=round(math.ceil(run.run_min / times / step - 1e-9) * step, 6)) for run in program.runs
        )
        shorter = replace(program, runs=runs)
        whole = sum(shorter.run_seconds(_fullest(program), of.water.run_step_s))
        whole += of.water.station_delay_s * len(runs)
        soak_min = max(least_soak_min(of.water.stations[run.station - 1]) for run in runs)
        soaks = (run.run_min * MINUTE_S + least_soak_min(of.water.stations[run.station - 1]) * MINUTE_S for run in runs)
        apart = math.ceil(max(whole, *soaks) / MINUTE_S) * MINUTE_S
        parts = sorted(start + n * apart for start in starts for n in range(times))
        if parts[-1] >= DAY_S:
            return None
        changed = of.with_program(place, replace(shorter, starts=tuple(ClockTime(at) for at in parts)))
        then = of.under(changed)
        if then is None:
            return None
        if of.no_worse(then) and _ground_holds(then, program):
            act = SplitRuns(program=program.name, times=times, apart_min=apart // MINUTE_S, soak_min=soak_min)
            return Remedy(act=act, change=WithPrograms(changed))
    return None


def _fullest(program: Program) -> int:
    """The month of the highest percentage, 0 for January."""
    return max(range(MONTHS), key=lambda month: program.monthly_pct[month])


@dataclass(frozen=True, slots=True, kw_only=True)
class Dry(Facts):
    """Dates on which plants suffer in the average year."""

    station: str = member(SAID)
    days: int = member(WHOLE)
    months: tuple[int, ...] = member(NUMBERS)  # 0 for January

    def headline(self, words: Words) -> str:
        """How many."""
        return f"{self.station} is dry on {count(self.days, 'day')} of the average year"

    def why(self, words: Words) -> str:
        """When, and by what."""
        names = months_text(self.months)
        return f"In {names} its plants use up more than the soil may give before the next run."


class TooDry(WaterRule):
    """Plants suffer in the average year."""

    slug = "too-dry"
    description = "in the average year a station's soil is used up further than its plants bear"
    facts = (Dry,)

    def find(self, of: Watered) -> Iterator[Finding]:
        """One for each station; a longer run where that mends it."""
        if of.season is None:
            return
        dry = of.season.settled_dry
        for number, station in enumerate(of.water.stations):
            rows = np.nonzero(dry[:, number])[0]
            if not rows.size:
                continue
            months = tuple(int(m) for m in np.unique(of.season.months[rows]))
            facts = Dry(station=station.name, days=max(1, round(rows.size / of.case.years)), months=months)
            yield of.case.make(
                self.slug, None, facts, dates=of.season.days[rows], severity=Severity.WARNING,
                remedy=_longer_run(of, number),
            )  # fmt: skip


def _longer_run(of: Watered, number: int) -> Remedy | None:
    """The least longer run of a station after which it is never dry; None where that breaks something else."""
    places = [p for p, program in enumerate(of.water.programs) if any(r.station == number + 1 for r in program.runs)]
    climate = of.water.climate
    if len(places) != 1 or climate is None:
        return None
    program = of.water.programs[places[0]]
    step = of.water.limits.run_step_min or of.water.run_step_s / MINUTE_S
    (now, *more) = [run.run_min for run in program.runs if run.station == number + 1]
    if more or not now:
        return None
    most = min(now * MOST_LONGER, of.water.limits.run_max_min or math.inf)

    def longer(steps: int) -> tuple[Program, ...]:
        runs = tuple(
            replace(run, run_min=round(now + steps * step, 6)) if run.station == number + 1 else run
            for run in program.runs
        )
        return of.with_program(places[0], replace(program, runs=runs))

    def then(steps: int) -> tuple[Stack, bool] | None:
        """What runs then, and whether the station is dry still; None where the audit may try no more."""
        found = of.under(longer(steps))
        if found is None:
            return None
        return found, bool(average_season(found, climate, only=number).settled_dry.any())

    low, high = 0, int((most - now) / step + 1e-9)
    best = then(high) if high else None
    while best is not None and not best[1] and high - low > 1:
        middle = (low + high) // 2
        tried = then(middle)
        if tried is None:
            return None
        if tried[1]:
            low = middle
        else:
            high, best = middle, tried
    if best is None or best[1] or not of.no_worse(best[0]) or not _ground_holds(best[0], program):
        return None
    act = ChangeRun(program=program.name, station=of.water.stations[number].name, minutes=now + high * step)
    return Remedy(act=act, change=WithPrograms(longer(high)))
