"""What the rules of watering look at, and those of starts and hours: `starts-stack`, `start-lost`, `outside-allowed`, and more."""

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from skavit.core.findings.case import Case, Described
from skavit.core.findings.facts import NUMBER, SAID, WHOLE, Facts
from skavit.core.findings.finding import Finding, Severity
from skavit.core.findings.remedy import ChangeStarts, Remedy
from skavit.core.ground.arrays import DAY_S, Bools, Ints
from skavit.core.ground.records import member
from skavit.core.ground.spans import Spans, difference, union
from skavit.core.plan.days import DAYS_REF, Days, EveryNth, Parity
from skavit.core.plan.times import TIME, ClockTime, Time
from skavit.core.plan.water import Program, Water
from skavit.core.text.wording import Words, capital, count, days_text, duration_text
from skavit.core.water.soil import Season, average_season
from skavit.core.water.stack import Fate, Stack, stack

MINUTE_S = 60
# What trying other programs costs beside an event of the switching side; a run of a station is some two of them.
STEPS_A_RUN, STEPS_A_TRIAL = 3, 5_000


class Watered:
    """A case with water: the stack as it runs, and what becomes of it under other programs."""

    def __init__(self, case: Case, found: Stack) -> None:
        self.case, self.stack = case, found
        self.water: Water = found.water

    @cached_property
    def season(self) -> Season | None:
        """The average year's balance; None where the climate, or the need of a station, is not known."""
        known = all(s.crop is not None and s.soil is not None and s.rate is not None for s in self.water.stations)
        climate = self.water.climate
        return average_season(self.stack, climate) if climate and known and self.water.stations else None

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
        return all(a <= b for a, b in zip(_troubles(then), _troubles(self.stack), strict=True))


def _troubles(found: Stack) -> tuple[int, int, int]:
    """Seconds that starts wait, starts that are lost to a busy unit, seconds of water outside the allowed hours."""
    waits = int((found.cycles.begin - found.cycles.due).sum())
    return waits, int((found.cycles.fate == Fate.BUSY).sum()), found.outside.total_s


def watered(case: Case) -> Watered | None:
    """The case with its water; None where the plan has none."""
    found = stack(case.replay)
    return None if found is None else Watered(case, found)


class WaterRule(Described):
    """A rule of watering."""

    def find(self, of: Watered) -> Iterator[Finding]:
        """The findings of this kind."""
        raise NotImplementedError


@dataclass(frozen=True, slots=True, kw_only=True)
class StartFacts(Facts):
    """About one start of a program."""

    program: str = member(SAID)
    at: Time = member(TIME)
    times: int = member(WHOLE)  # how often
    minutes: int = member(WHOLE, default=0)  # at worst
    adjust_pct: float = member(NUMBER, default=100.0)

    def start(self, words: Words) -> str:
        """The start as a person names it."""
        return f"the {words.time(self.at)} start of program {self.program}"

    def why(self, words: Words) -> str:
        """What makes it come too early."""
        if self.adjust_pct > 100:
            return f"At {self.adjust_pct:g} % the runs before it have grown longer than the time between the starts."
        return "The runs before it are longer than the time between the starts."


class Waits(StartFacts):
    """A start that waits."""

    __slots__ = ()

    def headline(self, words: Words) -> str:
        """How long, and how often."""
        return f"{capital(self.start(words))} waits up to {self.minutes} min, {count(self.times, 'time')}"


class IsLost(StartFacts):
    """A start that does nothing."""

    __slots__ = ()

    def headline(self, words: Words) -> str:
        """How often."""
        return f"{capital(self.start(words))} is lost, {count(self.times, 'time')}"


def _late_starts(of: Watered, chosen: Bools) -> Iterator[tuple[int, int, Ints]]:
    """(program, start, places of cycles) of the starts among some cycles."""
    cycles = of.stack.cycles
    for p, program in enumerate(of.water.programs):
        for s in range(len(program.starts)):
            places = np.nonzero(chosen & (cycles.program == p) & (cycles.start == s))[0]
            if places.size:
                yield p, s, places


def _later(of: Watered, place: int, start: int, minutes: int) -> Remedy | None:
    """That start, and those after it, so much later: only where that leaves no wait, no loss and no water outside its hours."""
    program = of.water.programs[place]
    starts = list(program.starts)
    for number in range(start, len(starts)):
        at = starts[number]
        if not isinstance(at, ClockTime) or at.seconds + minutes * MINUTE_S >= DAY_S:
            return None
        starts[number] = ClockTime(at.seconds + minutes * MINUTE_S)
    changed = of.with_program(place, replace(program, starts=tuple(starts)))
    then = of.under(changed)
    if then is None or not of.no_worse(then) or _troubles(then)[:2] == _troubles(of.stack)[:2]:
        return None
    act = ChangeStarts(program=program.name, starts=tuple(starts))
    return Remedy(act=act, programs=changed)


class StartsStack(WaterRule):
    """A start waits because the one before still runs."""

    slug = "starts-stack"
    description = "a start waits because the cycle before it still runs"
    facts = (Waits,)

    def find(self, of: Watered) -> Iterator[Finding]:
        """One for each start that ever waits."""
        cycles = of.stack.cycles
        for p, s, places in _late_starts(of, cycles.begin > cycles.due):
            program = of.water.programs[p]
            waits = cycles.begin[places] - cycles.due[places]
            minutes = math.ceil(int(waits.max()) / MINUTE_S)
            facts = Waits(
                program=program.name, at=program.starts[s], times=places.size, minutes=minutes,
                adjust_pct=program.adjust_pct,
            )  # fmt: skip
            yield of.case.make(
                self.slug, None, facts, dates=of.dates(cycles.due[places]), severity=Severity.WARNING,
                remedy=_later(of, p, s, minutes),
            )  # fmt: skip


class StartLost(WaterRule):
    """A start comes while the unit is busy, and is lost."""

    slug = "start-lost"
    description = "a start comes while another cycle runs, and the unit ignores it"
    facts = (IsLost,)

    def find(self, of: Watered) -> Iterator[Finding]:
        """One for each start that is ever lost."""
        cycles = of.stack.cycles
        running = union(cycles.begin[cycles.fate == Fate.RUNS], cycles.end[cycles.fate == Fate.RUNS])
        for p, s, places in _late_starts(of, cycles.fate == Fate.BUSY):
            program, due = of.water.programs[p], cycles.due[places]
            ends = running.off[np.minimum(np.searchsorted(running.off, due, side="right"), len(running) - 1)]
            minutes = math.ceil(int((ends - due).max()) / MINUTE_S)
            facts = IsLost(program=program.name, at=program.starts[s], times=places.size, adjust_pct=program.adjust_pct)
            yield of.case.make(
                self.slug, None, facts, dates=of.dates(due), severity=Severity.WARNING, remedy=_later(of, p, s, minutes)
            )


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
        return f"{self.litres:,.0f} l flow then."


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
    allowed = of.stack.allowed
    if allowed is None:
        return
    cycles, runs = of.stack.cycles, of.stack.runs
    for place in range(len(of.water.programs)):
        own = cycles.program[runs.cycle] == place
        water = union(runs.on[own], runs.off[own]).cut(of.case.replay.start, of.case.replay.end)
        outside = difference(water, allowed)
        if len(outside):
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
            return Remedy(act=ChangeStarts(program=program.name, starts=starts), programs=changed)
    return None


def _of_program_outside(found: Stack, place: int) -> Spans:
    own = found.cycles.program[found.runs.cycle] == place
    water = union(found.runs.on[own], found.runs.off[own]).cut(found.run.start, found.run.end)
    return difference(water, found.allowed) if found.allowed is not None else water.cut(0, 0)


@dataclass(frozen=True, slots=True, kw_only=True)
class TooMuchAtOnce(Facts):
    """More water than the supply gives."""

    flow_l_min: float = member(NUMBER)
    supply_l_min: float = member(NUMBER)
    seconds: int = member(WHOLE)

    def headline(self, words: Words) -> str:
        """How much, and how much there is."""
        return f"Up to {self.flow_l_min:g} l/min are asked of a supply of {self.supply_l_min:g}"

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
        """One for each station that stands in several programs."""
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
