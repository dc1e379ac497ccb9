"""Starts that come while the unit waters: `starts-stack`, `start-lost`."""

import math
from abc import abstractmethod
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from skavit.core.findings.acts import LetGoOn
from skavit.core.findings.facts import NUMBER, SAID, WHOLE, Facts
from skavit.core.findings.finding import Finding, Severity
from skavit.core.findings.remedy import Remedy
from skavit.core.findings.watering import Watered, WaterRule, WithDone
from skavit.core.findings.watering_layout import moved_apart
from skavit.core.ground.arrays import DAY_S, MINUTE_S, Ints
from skavit.core.ground.records import member
from skavit.core.plan.times import TIME, Time
from skavit.core.text.wording import Words, capital, count, date_text
from skavit.core.water.stack import Fate, Stack


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


@dataclass(frozen=True, slots=True, kw_only=True)
class BehindHand(Facts):
    """Starts that come while something runs that was set going by hand."""

    starts: int = member(WHOLE)
    minutes: int = member(WHOLE, default=0)  # that they wait at worst; 0: they are lost

    def headline(self, words: Words) -> str:
        """What becomes of them."""
        starts = count(self.starts, "start")
        if self.minutes:
            return f"What was run by hand holds up {starts}, up to {self.minutes} min"
        return f"What was run by hand costs {starts}"

    def why(self, words: Words) -> str:
        """That the programs are right."""
        return "The programs leave each other room; what somebody set going still ran when the start came."


class _TooEarly(WaterRule):
    """Shared by the two rules on starts that come while the unit waters."""

    told: type[StartFacts]

    @abstractmethod
    def late(self, found: Stack) -> Ints:
        """The cycles that this is told of, by their places."""

    def minutes(self, found: Stack, places: Ints) -> int:
        """How long the worst of them waits."""
        return 0

    def find(self, of: Watered) -> Iterator[Finding]:
        """One for each start that the programs make come too early; one for all that a run by hand is in the way of."""
        case, own, cycles = of.case, of.alone, of.alone.stack.cycles
        late = self.late(own.stack)
        starts = np.unique(np.stack([cycles.program[late], cycles.start[late]]), axis=1).T.tolist()
        remedy = moved_apart(own, _queueing(own.stack), lambda then: not self.late(then).size) if starts else None
        for p, s in starts:
            places, program = late[(cycles.program[late] == p) & (cycles.start[late] == s)], of.water.programs[p]
            facts = self.told(
                program=program.name, at=program.starts[s], times=places.size, minutes=self.minutes(own.stack, places),
                adjust_pct=program.adjust_pct,
            )  # fmt: skip
            dates = of.dates(cycles.due[places])
            yield case.make(self.slug, None, facts, dates=dates, severity=Severity.WARNING, remedy=remedy)
        if own is not of:
            yield from self._behind_hand(of)

    def _behind_hand(self, of: Watered) -> Iterator[Finding]:
        found, late, alone = of.stack, self.late(of.stack), of.alone.stack
        due = found.cycles.due[late]
        by_programs = np.isin(due, alone.cycles.due)  # the others are runs by hand that wait themselves
        late = late[by_programs & ~np.isin(due, alone.cycles.due[self.late(alone)])]
        if late.size:
            facts = BehindHand(starts=late.size, minutes=self.minutes(found, late))
            dates = of.dates(found.cycles.due[late])
            yield of.case.make(self.slug, None, facts, dates=dates, severity=Severity.NOTE)


def _queueing(found: Stack) -> list[int]:
    """The programs that wait for one another, or lose starts to one another: those with starts on dates of trouble."""
    cycles = found.cycles
    troubled = np.unique(cycles.day[(cycles.begin > cycles.due) | (cycles.fate == Fate.BUSY)])
    return [int(p) for p in np.unique(cycles.program[np.isin(cycles.day, troubled)])]


class StartsStack(_TooEarly):
    """A start waits because the one before still runs."""

    slug = "starts-stack"
    description = "a start waits because the cycle before it still runs"
    facts = (Waits, BehindHand)
    told = Waits

    def late(self, found: Stack) -> Ints:
        """Those that begin after they were due."""
        return np.nonzero(found.cycles.begin > found.cycles.due)[0]

    def minutes(self, found: Stack, places: Ints) -> int:
        """Whole minutes, rounded up."""
        return math.ceil(int((found.cycles.begin - found.cycles.due)[places].max()) / MINUTE_S)


class StartLost(_TooEarly):
    """A start comes while the unit is busy, and is lost."""

    slug = "start-lost"
    description = "a start comes while another cycle runs, and the unit ignores it"
    facts = (IsLost, BehindHand)
    told = IsLost

    def late(self, found: Stack) -> Ints:
        """Those that are lost."""
        return np.nonzero(found.cycles.fate == Fate.BUSY)[0]


@dataclass(frozen=True, slots=True, kw_only=True)
class Suspended(Facts):
    """That somebody has suspended watering, and nobody has ended it."""

    first: int = member(WHOLE)  # the local date
    times: int = member(WHOLE)  # starts that did nothing

    def headline(self, words: Words) -> str:
        """Since when, and what it costs."""
        return f"Watering stands suspended since {date_text(self.first)}, and {count(self.times, 'start')} do nothing"

    def why(self, words: Words) -> str:
        """What it needs."""
        return "It was put off by hand without an end: nothing waters until somebody lets it go on."


class LeftOff(WaterRule):
    """Watering suspended without an end."""

    slug = "left-off"
    description = "watering is suspended by hand, and nobody ends it"
    facts = (Suspended,)

    def find(self, of: Watered) -> Iterator[Finding]:
        """One, where the last that was done is a suspension without an end."""
        settings = sorted((done for done in of.water.by_hand if done.suspends), key=lambda done: done.at)
        if not settings or not settings[-1].off:
            return
        first = settings[-1].at // DAY_S
        cycles = of.stack.cycles
        lost = (cycles.fate == Fate.SUSPENDED) & (cycles.day >= first)
        dates = np.unique(cycles.day[lost])
        if not dates.size:
            return
        kept = tuple(done for done in of.water.by_hand if done is not settings[-1])
        yield of.case.make(
            self.slug, None, Suspended(first=first, times=int(lost.sum())), dates=dates, severity=Severity.WARNING,
            remedy=Remedy(act=LetGoOn(), change=WithDone(kept)),
        )  # fmt: skip
