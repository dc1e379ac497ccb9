"""When and on which days water flows, and how much at once: `outside-allowed`, `interval-drifts`, `over-flow`, and days that follow each other."""

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from skavit.core.findings.acts import ChangeStarts
from skavit.core.findings.facts import NUMBER, PERIOD, SAID, WHOLE, Facts, Period
from skavit.core.findings.finding import Finding, Severity
from skavit.core.findings.remedy import Remedy
from skavit.core.findings.watering import Watered, WaterRule, WithPrograms
from skavit.core.findings.watering_layout import moved_apart
from skavit.core.ground.arrays import DAY_S, MINUTE_S, Bools, Ints
from skavit.core.ground.records import listed, member
from skavit.core.ground.spans import EMPTY, Spans, difference, intersection, union
from skavit.core.plan.days import DAYS_REF, Days, EveryNth, Parity
from skavit.core.plan.times import ClockTime
from skavit.core.text.wording import Words, count, days_text, in_a_row
from skavit.core.water.stack import Fate, Stack

LEAST_FLOW = 1e-6  # litres a minute that are no difference


@dataclass(frozen=True, slots=True, kw_only=True)
class OutOfHours(Facts):
    """Water of a program, or of runs by hand, that flows when it may not."""

    program: str = member(SAID, default="")  # empty: by hand
    days: int = member(WHOLE)
    minutes: int = member(WHOLE)  # at worst on one date
    litres: float = member(NUMBER)

    def headline(self, words: Words) -> str:
        """How long, and on how many days."""
        who = f"Program {self.program}" if self.program else "What was run by hand"
        return f"{who} waters outside the allowed hours, up to {self.minutes} min, on {count(self.days, 'day')}"

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
        """One for each program, and one for what was run by hand."""
        found = of.alone.stack
        for place, _, outside in _outside(of.alone):
            litres = _litres(found, found.cycles.program[found.runs.cycle] == place, outside)
            yield self._told(of, outside, litres, of.water.programs[place].name, _within_hours(of.alone, place))
        by_hand = difference(of.stack.outside, found.outside)
        if len(by_hand):
            litres = _litres(of.stack, np.ones(of.stack.runs.on.shape, dtype=np.bool_), by_hand)
            yield self._told(of, by_hand, litres, "", None)

    def _told(self, of: Watered, outside: Spans, litres: float, program: str, remedy: Remedy | None) -> Finding:
        dates = of.case.dates_of(outside)
        firsts = of.case.replay.site_clock.digits(outside.on) // DAY_S
        worst = int(np.bincount(firsts - firsts[0], weights=outside.lengths).max())
        minutes = math.ceil(worst / MINUTE_S)
        facts = OutOfHours(program=program, days=dates.size, minutes=minutes, litres=litres)
        severity = Severity.WARNING if program else Severity.NOTE
        return of.case.make(self.slug, None, facts, dates=dates, severity=severity, remedy=remedy)


class IntervalDrifts(WaterRule):
    """A count of days comes onto a day on which no water may flow."""

    slug = "interval-drifts"
    description = "every n-th day, or odd and even, comes onto a day on which no water may flow"
    facts = (Drifts,)

    def find(self, of: Watered) -> Iterator[Finding]:
        """One for each program whose starts are allowed on some days and forbidden on others."""
        cycles = of.alone.stack.cycles
        for place, cycle_places, _ in _outside(of.alone):
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


def _litres(found: Stack, chosen: Bools, within: Spans) -> float:
    """What some of the runs let flow within some stretches."""
    total = 0.0
    for number, station in enumerate(found.water.stations):
        mine = chosen & (found.runs.station == number)
        spans = intersection(union(found.runs.on[mine], found.runs.off[mine]), within)
        total += spans.total_s / 60 * station.flow_l_min
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
            return Remedy(act=ChangeStarts(programs=((program.name, starts),)), change=WithPrograms(changed))
    return None


def _of_program_outside(found: Stack, place: int) -> Spans:
    """When a program's water flows and may not."""
    if found.allowed is None:
        return EMPTY
    own = found.cycles.program[found.runs.cycle] == place
    water = union(found.runs.on[own], found.runs.off[own]).cut(found.run.start, found.run.end)
    return difference(water, found.allowed)


@dataclass(frozen=True, slots=True, kw_only=True)
class FlowFacts(Facts):
    """More water than the supply gives."""

    stations: tuple[str, ...] = member(listed(SAID))  # that are open at the worst moment
    flow_l_min: float = member(NUMBER)  # that they need then
    supply_l_min: float = member(NUMBER)
    period: Period = member(PERIOD)

    @property
    def name(self) -> str:
        """What tells it from the others."""
        return in_a_row(self.stations)


class TooMuchAtOnce(FlowFacts):
    """Stations that need more together than there is."""

    __slots__ = ()

    def headline(self, words: Words) -> str:
        """How much, and how much there is."""
        return (
            f"{in_a_row(self.stations)} together need {words.flow(self.flow_l_min)}, "
            f"the supply gives {words.flow(self.supply_l_min)}"
        )

    def why(self, words: Words) -> str:
        """When, and what ends it."""
        return (
            f"They are open at once {self.period.times(words)}: heads do not rise, or throw short. "
            "Started one after another they have water enough."
        )


class TooMuchAlone(FlowFacts):
    """A station that needs more by itself than there is."""

    __slots__ = ()

    def headline(self, words: Words) -> str:
        """How much, and how much there is."""
        (station,) = self.stations
        return f"{station} alone needs {words.flow(self.flow_l_min)}, the supply gives {words.flow(self.supply_l_min)}"

    def why(self, words: Words) -> str:
        """When, and what ends it."""
        return (
            f"It runs {self.period.times(words)}. No other start ends this: smaller nozzles, fewer heads "
            "on the valve, or a second valve do; or a supply that gives more."
        )


class OverFlow(WaterRule):
    """Stations that are open at once ask for more than the supply gives."""

    slug = "over-flow"
    description = "a station alone, or stations that are open at once, need more water than the supply gives"
    facts = (TooMuchAtOnce, TooMuchAlone)

    def find(self, of: Watered) -> Iterator[Finding]:
        """One for each station that needs too much alone; one for those that do together."""
        supply = of.water.supply_l_min
        if supply is None:
            return
        alone = [n for n, station in enumerate(of.water.stations) if station.flow_l_min > supply + LEAST_FLOW]
        for number in alone:
            spans = of.stack.stations[number]
            if len(spans):
                yield self._told(of, TooMuchAlone, [number], supply, spans, None)
        together, worst = _too_much_together(of.stack, supply, alone)
        if len(together):
            remedy = moved_apart(
                of.alone, _programs_within(of.alone.stack, together),
                lambda then: not len(_too_much_together(then, supply, alone)[0]),
            )  # fmt: skip
            yield self._told(of, TooMuchAtOnce, worst, supply, together, remedy)

    def _told(
        self,
        of: Watered,
        kind: type[FlowFacts],
        stations: list[int],
        supply: float,
        spans: Spans,
        remedy: Remedy | None,
    ) -> Finding:
        open_ = [of.water.stations[n] for n in stations]
        facts = kind(
            stations=tuple(station.name for station in open_), supply_l_min=supply, period=of.case.period("on", spans),
            flow_l_min=round(sum(station.flow_l_min for station in open_), 1),
        )  # fmt: skip
        dates = of.case.dates_of(spans)
        return of.case.make(self.slug, None, facts, dates=dates, severity=Severity.WARNING, remedy=remedy)


def _too_much_together(found: Stack, supply: float, alone: list[int]) -> tuple[Spans, list[int]]:
    """When stations that each have water enough need more together; and which are open at the worst moment."""
    shared = [n for n in range(len(found.water.stations)) if n not in alone]
    spans = [found.stations[n] for n in shared]
    flows = np.array([found.water.stations[n].flow_l_min for n in shared])
    at = np.unique(np.concatenate([np.zeros(0, np.int64), *(edge for s in spans for edge in (s.on, s.off))]))
    open_ = np.array([s.at(at) for s in spans], dtype=np.float64).reshape(len(shared), at.size)
    level = flows @ open_
    over = np.nonzero(level > supply + LEAST_FLOW)[0]
    if not over.size:
        return EMPTY, []
    worst = open_[:, over[int(level[over].argmax())]]
    return union(at[over], at[over + 1]), [n for n, is_open in zip(shared, worst, strict=True) if is_open]


def _programs_within(found: Stack, spans: Spans) -> list[int]:
    """The programs that water within some stretches."""
    runs = found.runs
    ends = np.minimum(np.searchsorted(spans.off, runs.on, side="right"), len(spans) - 1)
    return [int(p) for p in np.unique(found.cycles.program[runs.cycle[spans.on[ends] < runs.off]])]


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
        cycles = of.alone.stack.cycles
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
        cycles, runs = of.alone.stack.cycles, of.alone.stack.runs
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
