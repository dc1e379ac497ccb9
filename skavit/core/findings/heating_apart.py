"""Zones that are not held at what is wanted by their set points: `too-cold` and `too-warm`, one finding a cause."""

import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from skavit.core.findings.facts import NUMBER, RUNS, SAID, Facts, Runs, runs_of, runs_text
from skavit.core.findings.finding import Finding, Severity
from skavit.core.findings.heating import Heated, HeatRule
from skavit.core.ground.arrays import HOUR_S, Bools, Floats, Ints
from skavit.core.ground.records import member
from skavit.core.heat.targets import Targets, ZoneReplay
from skavit.core.text.wording import Words


@dataclass(frozen=True, slots=True, kw_only=True)
class NotAsWanted(Facts):
    """How far a zone is from what is wanted, and when."""

    zone: str = member(SAID)
    warm: bool = False
    worst_k: float = member(NUMBER)
    kelvin_hours: float = member(NUMBER)
    dates: Runs = member(RUNS)
    by_steps: bool = False  # as near as the unit's steps of degrees and minutes come

    @property
    def name(self) -> str:
        """What tells it from the others of its zone."""
        return "steps" if self.by_steps else f"{self.worst_k:.1f}"

    def headline(self, words: Words) -> str:
        """By how much at worst, and when."""
        word = "warmer" if self.warm else "colder"
        return f"{self.zone} is held up to {words.degrees(self.worst_k)} {word} than wanted, {runs_text(self.dates)}"

    def why(self, words: Words) -> str:
        """How much it comes to."""
        much = words.kelvin_hours(self.kelvin_hours)
        if self.by_steps:
            return f"{much} in all: the unit's steps come no nearer."
        return f"{much} in all, by the set points that are keyed."


class _Apart(HeatRule):
    """Shared by the two rules on what is keyed and what is wanted."""

    sign = 1

    def find(self, of: Heated) -> Iterator[Finding]:
        """One for each cause in a zone, by its set points alone: the clock and the hands have findings of their own."""
        for zone in of.right.zones:
            for cause in self._causes(of, zone):
                yield from self._told(of, zone, cause)

    def _causes(self, of: Heated, zone: ZoneReplay) -> Iterator["_Cause"]:
        """What the unit's steps leave; and what else is apart, told together where it is on the same dates."""
        pieces, wanted = zone.both_by_program
        over = np.nan_to_num((pieces.c - wanted) * self.sign, nan=0.0)
        by_steps = _by_steps(of, pieces, wanted)
        if (over[by_steps] > 0).any():
            yield _Cause(np.where(by_steps, over, 0.0), by_steps=True)
        groups: list[tuple[Bools, Ints]] = []
        pairs = np.stack([wanted, pieces.c], axis=1)
        for pair in np.unique(pairs[(over > 0) & ~by_steps], axis=0):
            chosen: Bools = (pairs == pair).all(axis=1) & (over > 0) & ~by_steps
            dates = of.case.dates_of(pieces.where(chosen))
            place = next((n for n, (_, known) in enumerate(groups) if _alike(dates, known)), None)
            if place is None:
                groups.append((chosen, dates))
            else:
                groups[place] = (groups[place][0] | chosen, np.union1d(groups[place][1], dates))
        yield from (_Cause(np.where(chosen, over, 0.0)) for chosen, _ in groups)

    def _told(self, of: Heated, zone: ZoneReplay, cause: "_Cause") -> Iterator[Finding]:
        case, pieces = of.case, zone.both_by_program[0]
        spans = pieces.where(cause.over > 0).longer_than(case.tolerance_s)
        if not len(spans):
            return
        facts = NotAsWanted(
            zone=zone.zone.name, warm=self.sign > 0, worst_k=float(cause.over.max()), by_steps=cause.by_steps,
            kelvin_hours=float((cause.over * pieces.lengths).sum()) / HOUR_S, dates=runs_of(case.dates_of(spans)),
        )  # fmt: skip
        severe = spans.total_s > HOUR_S * case.years and not cause.by_steps
        sides = {"extra": spans} if self.sign > 0 else {"missing": spans}
        remedy = None if cause.by_steps else of.fit()
        severity = Severity.WARNING if severe else Severity.NOTE
        yield case.make(self.slug, None, facts, **sides, severity=severity, remedy=remedy)  # type: ignore[arg-type]


@dataclass(frozen=True, slots=True)
class _Cause:
    """Part of what a zone is apart from what is wanted."""

    over: Floats  # (pieces,) kelvin; 0 where it is no part of this
    by_steps: bool = False


def _by_steps(of: Heated, pieces: Targets, wanted: Floats) -> Bools:
    """(pieces,) where the unit is as near as its steps come: in degrees, or for less than a step of its clock."""
    limits, step_s = of.heat.limits, of.case.plan.unit.limits.clock_step_s or 0
    nearest = np.array([c if math.isnan(c) else limits.nearest(c) for c in wanted.tolist()])
    found: Bools = ((nearest == pieces.c) & (wanted != pieces.c)) | (pieces.lengths < step_s)
    return found


def _alike(dates: Ints, others: Ints) -> bool:
    """Whether two sets of dates are mostly the same."""
    shared = np.intersect1d(dates, others).size
    return 2 * shared >= max(dates.size, others.size)


class TooCold(_Apart):
    """Set points that are keyed leave a zone colder than wanted."""

    slug = "too-cold"
    description = (
        "the set points that are keyed leave a zone colder than wanted: how far, when, and degrees times hours"
    )
    facts = (NotAsWanted,)
    sign = -1


class TooWarm(_Apart):
    """Set points that are keyed hold a zone warmer than wanted."""

    slug = "too-warm"
    description = "the set points that are keyed hold a zone warmer than wanted: how far, when, and degrees times hours"
    facts = (NotAsWanted,)
    sign = 1
