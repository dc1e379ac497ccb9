"""Starts that come while the unit waters: `starts-stack`, `start-lost`."""

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from skavit.core.findings.acts import ChangeStarts, LetGoOn
from skavit.core.findings.facts import NUMBER, SAID, WHOLE, Facts
from skavit.core.findings.finding import Finding, Severity
from skavit.core.findings.remedy import Remedy
from skavit.core.findings.watering import Watered, WaterRule, WithDone, WithPrograms, troubles
from skavit.core.ground.arrays import DAY_S, MINUTE_S, Bools, Ints
from skavit.core.ground.records import member
from skavit.core.ground.spans import union
from skavit.core.plan.times import TIME, ClockTime, Time
from skavit.core.text.wording import Words, capital, count, date_text
from skavit.core.water.stack import Fate


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
    if then is None or not of.no_worse(then) or troubles(then)[:2] == troubles(of.stack)[:2]:
        return None
    act = ChangeStarts(program=program.name, starts=tuple(starts))
    return Remedy(act=act, change=WithPrograms(changed))


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
