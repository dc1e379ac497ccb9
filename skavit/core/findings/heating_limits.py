"""What the unit's limits cannot hold of the set points that are keyed: said under `over-capacity`, `no-such-days` and `too-fine`."""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from skavit.core.findings.acts import FitSetPoints
from skavit.core.findings.case import Case
from skavit.core.findings.facts import NUMBER, SAID, WHOLE, Facts
from skavit.core.findings.finding import Finding, Severity
from skavit.core.findings.remedy import Change, Remedy
from skavit.core.ground.records import member
from skavit.core.heat.fitting import refitted
from skavit.core.heat.week import Week
from skavit.core.plan.days import DAYS_REF, Days
from skavit.core.plan.document import Plan
from skavit.core.plan.heat import Heat, Zone
from skavit.core.text.wording import FULL_DAYS, Words, count, days_text, duration_text


@dataclass(frozen=True, slots=True)
class WithHeat(Change):
    """Another heating side."""

    heat: Heat

    def applied(self, plan: Plan) -> Plan:
        """The plan after it."""
        return replace(plan, heat=self.heat)

    def leaves(self) -> Any:
        """The heating side."""
        return self.heat.to_json()


@dataclass(frozen=True, slots=True, kw_only=True)
class TooManyPeriods(Facts):
    """More set points on a day than the unit has periods."""

    zone: str = member(SAID)
    most: int = member(WHOLE)
    there: int = member(WHOLE)
    day: int = member(WHOLE)  # 0 for Monday

    def headline(self, words: Words) -> str:
        """The limit."""
        return f"{self.zone}: the unit has {count(self.most, 'period')} a day"

    def why(self, words: Words) -> str:
        """What is here."""
        return f"{count(self.there, 'set point')} stand on {FULL_DAYS[self.day]}."


@dataclass(frozen=True, slots=True, kw_only=True)
class NoZoneDays(Facts):
    """Days of a set point that no day group is."""

    zone: str = member(SAID)
    days: Days = member(DAYS_REF)

    def headline(self, words: Words) -> str:
        """Which days."""
        return f"{self.zone}: the unit's day groups do not hold {days_text(self.days)}"


@dataclass(frozen=True, slots=True, kw_only=True)
class FinerPoints(Facts):
    """Times or degrees between the unit's steps, or beyond what it shows."""

    zone: str = member(SAID)
    step_s: int | None = member(WHOLE, default=None)
    c: float | None = member(NUMBER, default=None)

    def headline(self, words: Words) -> str:
        """Which."""
        if self.step_s is not None:
            return f"{self.zone}: the unit's clock times go in steps of {duration_text(self.step_s)}"
        return f"{self.zone}: the unit cannot show {words.warmth(self.c or 0.0)}"


def _found(case: Case, slug: str, facts: Facts) -> Finding:
    """A warning for the whole unit; fitting anew mends it."""
    heat = refitted(case.plan) if case.budgets.fits.take() else None
    return case.make(
        slug,
        None,
        facts,
        dates=np.array([case.replay.first]),
        severity=Severity.WARNING,
        remedy=None if heat is None else Remedy(act=FitSetPoints(), change=WithHeat(heat)),
    )


def _zones(case: Case) -> tuple[Zone, ...]:
    return case.plan.heat.zones if case.plan.heat else ()


def too_many_periods(case: Case) -> Iterator[Finding]:
    """One for each zone with a day of too many set points."""
    heat = case.plan.heat
    most = heat.limits.periods if heat else None
    if heat is None or most is None:
        return
    for zone in heat.zones:
        sizes = [len(day) for day in Week.of(zone.keyed, heat.frost_c).days]
        if max(sizes) > most:
            facts = TooManyPeriods(zone=zone.name, most=most, there=max(sizes), day=sizes.index(max(sizes)))
            yield _found(case, "over-capacity", facts)


def no_zone_days(case: Case) -> Iterator[Finding]:
    """One for each zone with days that no group is."""
    limits = case.plan.unit.limits
    for zone in _zones(case):
        beyond = [point for point in zone.keyed if not limits.holds_days(point.days)]
        if beyond:
            yield _found(case, "no-such-days", NoZoneDays(zone=zone.name, days=beyond[0].days))


def finer_points(case: Case) -> Iterator[Finding]:
    """One for each zone with times between the steps, and with degrees that the unit does not have."""
    heat, step = case.plan.heat, case.plan.unit.limits.clock_step_s
    for zone in _zones(case):
        if step is not None and any(point.at.seconds % step for point in zone.keyed):
            yield _found(case, "too-fine", FinerPoints(zone=zone.name, step_s=step))
        beyond = [p for p in zone.keyed if heat is not None and heat.limits.nearest(p.c) != p.c]
        if beyond:
            yield _found(case, "too-fine", FinerPoints(zone=zone.name, c=beyond[0].c))
