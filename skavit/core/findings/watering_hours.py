"""When and on which days water flows, and how much at once: `outside-allowed`, `interval-drifts`, `over-flow`, and days that follow each other."""

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from skavit.core.findings.acts import ChangeStarts
from skavit.core.findings.facts import NUMBER, SAID, WHOLE, Facts
from skavit.core.findings.finding import Finding, Severity
from skavit.core.findings.remedy import Remedy
from skavit.core.findings.watering import Watered, WaterRule, WithPrograms
from skavit.core.ground.arrays import DAY_S, MINUTE_S, Ints
from skavit.core.ground.records import member
from skavit.core.ground.spans import EMPTY, Spans, difference, union
from skavit.core.plan.days import DAYS_REF, Days, EveryNth, Parity
from skavit.core.plan.times import ClockTime
from skavit.core.text.wording import Words, count, days_text, duration_text
from skavit.core.water.stack import Fate, Stack


@dataclass(frozen=True, slots=True, kw_only=True)
class OutOfHours(Facts):
    """A program's water that flows when it may not."""

    program: str = member(SAID)
    days: int = member(WHOLE)
    minutes: int = member(WHOLE)  # at worst on one date
    litres: float = member(NUMBER)

    def headline(self, words: Words) -> str:
        """How long, and on how many days."""
        return (
            f"Program {self.program} waters outside the allowed hours, up to {self.minutes} min, "
            f"on {count(self.days, 'day')}"
        )

    def why(self, words: Words) -> str:
        """How much water that is."""
        return f"{words.volume(self.litres)} flow then."


@dataclass(frozen=True, slots=True, kw_only=True)
class Drifts(Facts):
    """A rule for days that wanders onto days on which no water may flow."""

    program: str = member(SAID)
    days: Days = member(DAYS_REF)
    times: int = member(WHOLE)

    def headline(self, words: Words) -> str:
        """Onto how many."""
        return f"Program {self.program}, {days_text(self.days)}, comes onto {count(self.times, 'forbidden day')}"

    def why(self, words: Words) -> str:
        """Why it wanders."""
        return "Such a count of days goes on over weeks and months, whatever their weekdays and dates."


class OutsideAllowed(WaterRule):
    """Water flows when it may not."""

    slug = "outside-allowed"
    description = "water flows outside the hours or days on which it may"
    facts = (OutOfHours,)

    def find(self, of: Watered) -> Iterator[Finding]:
        """One for each program."""
        for place, _, outside in _outside(of):
            dates = of.case.dates_of(outside)
            firsts = of.case.replay.site_clock.digits(outside.on) // DAY_S
            worst = int(np.bincount(firsts - firsts[0], weights=outside.lengths).max())
            program = of.water.programs[place]
            facts = OutOfHours(
                program=program.name, days=dates.size, minutes=math.ceil(worst / MINUTE_S),
                litres=_litres(of, place, outside),
            )  # fmt: skip
            yield of.case.make(
                self.slug, None, facts, dates=dates, severity=Severity.WARNING, remedy=_within_hours(of, place)
            )


class IntervalDrifts(WaterRule):
    """A count of days comes onto a day on which no water may flow."""

    slug = "interval-drifts"
    description = "every n-th day, or odd and even, comes onto a day on which no water may flow"
    facts = (Drifts,)

    def find(self, of: Watered) -> Iterator[Finding]:
        """One for each program whose starts are allowed on some days and forbidden on others."""
        cycles = of.stack.cycles
        for place, cycle_places, _ in _outside(of):
            program = of.water.programs[place]
            own = np.nonzero((cycles.program == place) & (cycles.fate == Fate.RUNS))[0]
            days, bad = np.unique(cycles.day[own]), np.unique(cycles.day[cycle_places])
            if isinstance(program.days, EveryNth | Parity) and bad.size < days.size:
                facts = Drifts(program=program.name, days=program.days, times=bad.size)
                yield of.case.make(self.slug, None, facts, dates=bad, severity=Severity.WARNING)


def _outside(of: Watered) -> Iterator[tuple[int, Ints, Spans]]:
    """(program, its cycles that water when they may not, when) of each program that does."""
    cycles, runs = of.stack.cycles, of.stack.runs
    for place in range(len(of.water.programs)):
        outside = _of_program_outside(of.stack, place)
        if len(outside):
            own = cycles.program[runs.cycle] == place
            ends = np.minimum(np.searchsorted(outside.off, runs.on[own], side="right"), len(outside) - 1)
            yield place, np.unique(runs.cycle[own][outside.on[ends] < runs.off[own]]), outside


def _litres(of: Watered, place: int, outside: Spans) -> float:
    """What a program's runs let flow in some stretches."""
    cycles, runs = of.stack.cycles, of.stack.runs
    own = cycles.program[runs.cycle] == place
    total = 0.0
    for number, station in enumerate(of.water.stations):
        mine = own & (runs.station == number)
        spans = union(runs.on[mine], runs.off[mine])
        total += (spans.total_s - difference(spans, outside).total_s) / 60 * station.flow_l_min
    return total


def _within_hours(of: Watered, place: int) -> Remedy | None:
    """All starts of a program earlier or later by one step, where that keeps its water within the hours."""
    program, clock = of.water.programs[place], of.case.replay.site_clock
    allowed = of.stack.allowed
    if allowed is None or not len(allowed) or not all(isinstance(at, ClockTime) for at in program.starts):
        return None
    times = [at.seconds for at in program.starts if isinstance(at, ClockTime)]
    opens = np.unique(clock.digits(allowed.on) % DAY_S)
    closes = np.unique(clock.digits(allowed.off) % DAY_S)
    own = of.stack.cycles.program == place
    lasts = int((of.stack.cycles.end - of.stack.cycles.due)[own].max(initial=0))
    shifts = {int(o) - min(times) for o in opens} | {int(c) - lasts - max(times) for c in closes}
    for shift in sorted(shifts, key=lambda s: (abs(s), s)):
        moved = [at + shift // MINUTE_S * MINUTE_S for at in times]
        if not shift or min(moved) < 0 or max(moved) >= DAY_S:
            continue
        starts = tuple(ClockTime(at) for at in moved)
        changed = of.with_program(place, replace(program, starts=starts))
        then = of.under(changed)
        if then is None:
            return None
        if not len(_of_program_outside(then, place)) and of.no_worse(then):
            return Remedy(act=ChangeStarts(program=program.name, starts=starts), change=WithPrograms(changed))
    return None


def _of_program_outside(found: Stack, place: int) -> Spans:
    """When a program's water flows and may not."""
    if found.allowed is None:
        return EMPTY
    own = found.cycles.program[found.runs.cycle] == place
    water = union(found.runs.on[own], found.runs.off[own]).cut(found.run.start, found.run.end)
    return difference(water, found.allowed)


@dataclass(frozen=True, slots=True, kw_only=True)
class TooMuchAtOnce(Facts):
    """More water than the supply gives."""

    flow_l_min: float = member(NUMBER)
    supply_l_min: float = member(NUMBER)
    seconds: int = member(WHOLE)

    def headline(self, words: Words) -> str:
        """How much, and how much there is."""
        return f"Up to {words.flow(self.flow_l_min)} are asked of a supply of {words.flow(self.supply_l_min)}"

    def why(self, words: Words) -> str:
        """For how long."""
        return f"Several stations are open at once, for {duration_text(self.seconds)} in all: the heads do not rise, or throw short."


class OverFlow(WaterRule):
    """Stations that are open at once ask for more than the supply gives."""

    slug = "over-flow"
    description = "stations that are open at once ask for more water than the supply gives"
    facts = (TooMuchAtOnce,)

    def find(self, of: Watered) -> Iterator[Finding]:
        """One for the unit."""
        supply = of.water.supply_l_min
        if supply is None:
            return
        spans = of.stack.stations
        turns = np.concatenate([edge for s in spans for edge in (s.on, s.off)] or [np.zeros(0, np.int64)])
        flows = np.concatenate(
            [np.full(len(s), side * station.flow_l_min) for s, station in zip(spans, of.water.stations, strict=True)
             for side in (1, -1)] or [np.zeros(0)]
        )  # fmt: skip
        order = np.argsort(turns, kind="stable")
        at, where = np.unique(turns[order], return_index=True)
        level = np.add.reduceat(flows[order], where).cumsum() if at.size else flows
        over = np.nonzero(level > supply + 1e-6)[0]
        if not over.size:
            return
        stretches = union(at[over], at[over + 1])
        facts = TooMuchAtOnce(
            flow_l_min=round(float(level[over].max()), 1), supply_l_min=supply, seconds=stretches.total_s
        )
        yield of.case.make(self.slug, None, facts, dates=of.case.dates_of(stretches), severity=Severity.WARNING)


@dataclass(frozen=True, slots=True, kw_only=True)
class Twice(Facts):
    """Odd days at a month's end."""

    program: str = member(SAID)
    times: int = member(WHOLE)

    def headline(self, words: Words) -> str:
        """How often."""
        return f"Program {self.program} waters on the 31st and on the 1st, {count(self.times, 'time')}"

    def why(self, words: Words) -> str:
        """Why."""
        return "Both are odd days. Where two days running are not allowed, some units can leave out the 31st."


class OddTwice(WaterRule):
    """Odd days come twice running."""

    slug = "odd-twice"
    description = "odd days water on the 31st and on the 1st, two days running"
    facts = (Twice,)

    def find(self, of: Watered) -> Iterator[Finding]:
        """One for each program of odd days."""
        cycles = of.stack.cycles
        for place, program in enumerate(of.water.programs):
            if program.days != Parity(odd=True):
                continue
            days = np.unique(cycles.day[(cycles.program == place) & (cycles.fate == Fate.RUNS)])
            twice = days[1:][np.diff(days) == 1]
            if twice.size:
                facts = Twice(program=program.name, times=twice.size)
                yield of.case.make(self.slug, None, facts, dates=twice, severity=Severity.NOTE)


@dataclass(frozen=True, slots=True, kw_only=True)
class DayAfterDay(Facts):
    """A station of two programs that water it on days that follow each other."""

    station: str = member(SAID)
    programs: str = member(SAID)
    times: int = member(WHOLE)

    def headline(self, words: Words) -> str:
        """How often."""
        return f"{self.station} is watered two days running, {count(self.times, 'time')}"

    def why(self, words: Words) -> str:
        """By what."""
        return f"Programs {self.programs} both water it, on days that follow each other."


class TwoDaysRunning(WaterRule):
    """Two programs water a station on days that follow each other."""

    slug = "two-days-running"
    description = "two programs water one station on days that follow each other"
    facts = (DayAfterDay,)

    def find(self, of: Watered) -> Iterator[Finding]:
        """One for each station in several programs."""
        cycles, runs = of.stack.cycles, of.stack.runs
        for number, station in enumerate(of.water.stations):
            mine = runs.station == number
            programs = np.unique(cycles.program[runs.cycle[mine]])
            if programs.size < 2:
                continue
            days = [np.unique(cycles.day[runs.cycle[mine & (cycles.program[runs.cycle] == p)]]) for p in programs]
            after = [np.intersect1d(a + 1, b) for i, a in enumerate(days) for j, b in enumerate(days) if i != j]
            dates = np.unique(np.concatenate(after))
            if dates.size:
                names = " and ".join(of.water.programs[int(p)].name for p in programs)
                facts = DayAfterDay(station=station.name, programs=names, times=dates.size)
                yield of.case.make(self.slug, None, facts, dates=dates, severity=Severity.NOTE)
