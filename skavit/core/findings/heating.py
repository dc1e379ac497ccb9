"""Zones that do not get warm in time, and what was done to them by hand: `period-unreached`, `held-long` and others."""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Protocol

import numpy as np

from skavit.core.findings.acts import BackToProgram, FitSetPoints, FrostForOff, HolidayDay
from skavit.core.findings.case import Case, Described
from skavit.core.findings.facts import NUMBER, RUNS, SAID, WHOLE, Facts, Runs, runs_of, runs_text
from skavit.core.findings.finding import Finding, Severity
from skavit.core.findings.heating_limits import WithHeat
from skavit.core.findings.remedy import Remedy
from skavit.core.ground.arrays import DAY_S, HOUR_S, Ints
from skavit.core.ground.records import member
from skavit.core.ground.spans import Spans, intersection, union, unite
from skavit.core.heat.fitting import refitted
from skavit.core.heat.targets import Done, Warmed, holiday_ends, targets, under_right_clock
from skavit.core.heat.warming import late_min, outside_of, rises
from skavit.core.heat.week import Week
from skavit.core.plan.days import Calendar
from skavit.core.plan.heat import (
    Frost,
    Heat,
    HeatOff,
    HeatOverride,
    Hold,
    HolidayDays,
    HolidayUntil,
    Warmth,
    Zone,
)
from skavit.core.plan.overrides import MAX_HOLIDAY_DAYS
from skavit.core.text.wording import Words, count, duration_text, weekday_date

# Common practice, no source: what holds longer than a day was forgotten, and a night is when nobody comes home.
LONG_HOLD_S = DAY_S
NIGHT_FROM_S, NIGHT_TO_S = 22 * HOUR_S, 5 * HOUR_S
# A fit that leaves more of the error than this share is no remedy.
WORTH = 0.95


class Heated:
    """A case with zones: as they run, and as they would run with the unit's clock right."""

    def __init__(self, case: Case, warmed: Warmed) -> None:
        self.case, self.warmed = case, warmed
        self.heat: Heat = warmed.heat

    @cached_property
    def right(self) -> Warmed:
        """The zones with the unit's clock right."""
        return under_right_clock(self.warmed)

    @cached_property
    def refitted(self) -> tuple[Heat, float] | None:
        """The set points fitted anew, and the share of the error that stays; None where they cannot be bettered."""
        if not self.case.budgets.fits.take():
            return None
        heat = refitted(self.case.plan)
        then = targets(replace(self.right.run, plan=replace(self.case.plan, heat=heat)))
        assert then is not None
        before, after = (
            sum(zone.program_kh(sign) for zone in warmed.zones for sign in (1, -1)) for warmed in (self.right, then)
        )
        return (heat, after / before) if before and after <= WORTH * before else None

    def fit(self) -> Remedy | None:
        """The remedy of fitting all set points anew, where it betters anything."""
        found = self.refitted
        return None if found is None else Remedy(act=FitSetPoints(), change=WithHeat(found[0]))

    def done(self) -> Iterator[tuple[Zone, Done, Spans]]:
        """Each thing done by hand that is in the range, with its zone and when."""
        run = self.case.replay
        for each in self.warmed.done:
            spans = union(np.array([each.begin]), np.array([each.end])).cut(run.start, run.end)
            if len(spans):
                yield self.heat.zones[each.override.zone - 1], each, spans

    def without(self, override: HeatOverride) -> Heat:
        """The heating side without one thing done by hand."""
        return self.with_override(override, None)

    def with_override(self, old: HeatOverride, new: HeatOverride | None) -> Heat:
        """The heating side with another in its place, or none."""
        place = self.heat.overrides.index(old)
        between = () if new is None else (new,)
        overrides = (*self.heat.overrides[:place], *between, *self.heat.overrides[place + 1 :])
        return replace(self.heat, overrides=overrides)


def heated(case: Case) -> Heated | None:
    """The case with its zones; None where the plan has none."""
    warmed = targets(case.replay)
    return None if warmed is None else Heated(case, warmed)


class HeatRule(Described, Protocol):
    """A rule of heating."""

    def find(self, of: Heated) -> Iterator[Finding]:
        """The findings of this kind."""
        ...


@dataclass(frozen=True, slots=True, kw_only=True)
class Unreached(Facts):
    """A period that the room cannot get warm in."""

    zone: str = member(SAID)
    to_c: float = member(NUMBER)
    at_s: int = member(WHOLE)
    outside_c: float = member(NUMBER)
    late_min: float | None = member(NUMBER, default=None)  # None: it never gets there
    period_s: int = member(WHOLE)

    def headline(self, words: Words) -> str:
        """What it does not reach."""
        return (
            f"{self.zone} does not get to {words.warmth(self.to_c)} in the period from {words.clock(self.at_s)} "
            f"when it is {words.warmth(self.outside_c)} outside"
        )

    def why(self, words: Words) -> str:
        """How long it would take."""
        if self.late_min is None:
            return "The heater does not make up for what the room loses then."
        takes, lasts = duration_text(round(self.late_min) * 60), duration_text(self.period_s)
        return f"It takes {takes} from the set point on, and the period ends after {lasts}."


class PeriodUnreached(HeatRule):
    """The room cannot get there in the time."""

    slug = "period-unreached"
    description = "by the model of the room it does not get warm before the period ends, or never does"
    facts = (Unreached,)

    def find(self, of: Heated) -> Iterator[Finding]:
        """The worst period of each zone whose room is known: a warning where a usual winter's night is too cold already."""
        outside = outside_of(of.case.plan)
        for zone in of.heat.zones:
            if zone.room is None:
                continue
            for c, severity in ((outside.usual_c, Severity.WARNING), (outside.coldest_c, Severity.NOTE)):
                found = [(rise, late_min(zone.room, rise, c)) for rise in rises(Week.of(zone.keyed, of.heat.frost_c))]
                late = [(rise, at) for rise, at in found if at is None or at * 60 > rise.higher_s]
                if not late:
                    continue
                rise, at = max(late, key=lambda each: each[1] or float("inf"))
                facts = Unreached(
                    zone=zone.name, to_c=rise.to_c, at_s=rise.seconds, outside_c=c, late_min=at, period_s=rise.higher_s
                )
                yield of.case.make(
                    self.slug, None, facts, dates=_winter(of), severity=severity
                )  # fmt: skip
                break


def _winter(of: Heated) -> Ints:
    """The dates of the months that may freeze; all where none does."""
    days = np.arange(of.case.replay.first, of.case.replay.last + 1)
    cold = np.isin(Calendar(days).month_day // 100, outside_of(of.case.plan).frost_months)
    return days[cold] if cold.any() else days


@dataclass(frozen=True, slots=True, kw_only=True)
class OffInFrost(Facts):
    """A zone without any target in months that may freeze."""

    zone: str = member(SAID)
    dates: Runs = member(RUNS)

    def headline(self, words: Words) -> str:
        """When."""
        return f"{self.zone} is off in months that may freeze, {runs_text(self.dates)}"

    def why(self, words: Words) -> str:
        """What that does."""
        return "Off is off: nothing protects pipes from frost either."


class FrostOff(HeatRule):
    """Off in a frost month."""

    slug = "frost-off"
    description = "a zone is off, without frost protection, in a month that may freeze"
    facts = (OffInFrost,)

    def find(self, of: Heated) -> Iterator[Finding]:
        """One for each time that somebody put it off."""
        for zone, done, spans in of.done():
            if not isinstance(done.override.setting, HeatOff):
                continue
            dates = np.intersect1d(of.case.dates_of(spans), _winter(of))
            if dates.size and outside_of(of.case.plan).frost_months:
                frost = replace(done.override, setting=Frost(frost=True))
                remedy = Remedy(act=FrostForOff(zone.name), change=WithHeat(of.with_override(done.override, frost)))
                facts = OffInFrost(zone=zone.name, dates=runs_of(dates))
                yield of.case.make(self.slug, None, facts, dates=dates, severity=Severity.DANGER, remedy=remedy)


@dataclass(frozen=True, slots=True, kw_only=True)
class EndsWrong(Facts):
    """When a holiday ends, and what is wrong with it."""

    zone: str = member(SAID)
    ends: int = member(WHOLE)  # digits of the site's clock
    days: int = member(WHOLE, default=0)  # that were keyed, today counted; 0: until a moment

    def headline(self, words: Words) -> str:
        """When."""
        day, seconds = divmod(self.ends, DAY_S)
        return f"{self.zone}: the holiday ends at {words.clock(seconds)} as {weekday_date(day)} begins" if not seconds else (
            f"{self.zone}: the holiday ends at {words.clock(seconds)}, {weekday_date(day)}"
        )  # fmt: skip

    def why(self, words: Words) -> str:
        """What is wrong with it."""
        if self.days:
            nights = count(self.days - 1, "night")
            return f"Today counts as the first of {count(self.days, 'day')}: that is {nights} away, a day less than one would think."
        return "That is in the night: the heat comes on for nobody."


class HolidayEndsWrong(HeatRule):
    """A holiday that ends in the night, or a day early because today is counted."""

    slug = "holiday-ends-wrong"
    description = "a holiday that ends in the night, or a day early because today is counted"
    facts = (EndsWrong,)

    def find(self, of: Heated) -> Iterator[Finding]:
        """One for each holiday."""
        for zone, done, spans in of.done():
            setting, ends = done.override.setting, 0
            dates = of.case.dates_of(spans)
            match setting:
                case HolidayDays(days=days, counted_from="today"):
                    remedy = None
                    if days < MAX_HOLIDAY_DAYS:
                        longer = replace(done.override, setting=replace(setting, days=days + 1))
                        remedy = Remedy(
                            act=HolidayDay(zone.name, days + 1),
                            change=WithHeat(of.with_override(done.override, longer)),
                        )
                    facts = EndsWrong(zone=zone.name, ends=holiday_ends(done.override), days=days)
                    yield of.case.make(self.slug, None, facts, dates=dates, severity=Severity.NOTE, remedy=remedy)
                case HolidayUntil(until=ends) if not NIGHT_TO_S <= ends % DAY_S < NIGHT_FROM_S:
                    facts = EndsWrong(zone=zone.name, ends=ends)
                    yield of.case.make(self.slug, None, facts, dates=dates, severity=Severity.NOTE)


@dataclass(frozen=True, slots=True, kw_only=True)
class HeldFacts(Facts):
    """What was set by hand, and for how long."""

    zone: str = member(SAID)
    c: float | None = member(NUMBER, default=None)  # None: off
    for_s: int = member(WHOLE)
    begin: int = member(WHOLE)  # digits of the site's clock

    def headline(self, words: Words) -> str:
        """What holds, and for how long."""
        day, seconds = divmod(self.begin, DAY_S)
        held = "off" if self.c is None else f"held at {words.warmth(self.c)}"
        since = f"{words.minute(seconds)}, {weekday_date(day)}"
        return f"{self.zone} is {held} for {duration_text(self.for_s)}, from {since}"


@dataclass(frozen=True, slots=True, kw_only=True)
class LeftRunning(HeldFacts):
    """A hold, or another temperature, that nothing ends."""

    def why(self, words: Words) -> str:
        """Why."""
        return "A hold that somebody forgot: the program does nothing meanwhile."


@dataclass(frozen=True, slots=True, kw_only=True)
class ZoneLeft(HeldFacts):
    """A zone that was left in another mode than automatic."""

    def why(self, words: Words) -> str:
        """Why."""
        return "Nothing ends it: the program does nothing until somebody puts it back to automatic."


class HeldLong(HeatRule):
    """An override or a hold left running."""

    slug = "held-long"
    description = "another temperature or a hold stands for more than a day"
    facts = (LeftRunning,)

    def find(self, of: Heated) -> Iterator[Finding]:
        """One for each."""
        for zone, done, spans in of.done():
            setting = done.override.setting
            if isinstance(setting, Warmth | Hold) and done.end - done.begin > LONG_HOLD_S:
                yield _held(of, self.slug, LeftRunning, (zone, done, spans), setting.c)


def _held(of: Heated, slug: str, kind: type[HeldFacts], found: tuple[Zone, Done, Spans], c: float | None) -> Finding:
    """A finding on something done by hand that lasts too long; ``c`` is what it holds, None where it is off."""
    zone, done, spans = found
    here = of.warmed.zones[done.override.zone - 1]
    warm = intersection(here.apart(1), spans)
    cold = intersection(unite([here.apart(-1), here.off]), spans)
    return of.case.make(
        slug, None, kind(zone=zone.name, c=c, for_s=spans.total_s, begin=done.override.at),
        extra=warm, missing=cold, dates=of.case.dates_of(spans),
        severity=Severity.WARNING if len(warm) or len(cold) else Severity.NOTE,
        remedy=Remedy(act=BackToProgram(zone.name), change=WithHeat(of.without(done.override))),
    )  # fmt: skip


def zones_left(of: Heated) -> Iterator[Finding]:
    """The findings of `not-in-auto` for zones: frost protection or off that nothing ends in the range."""
    for zone, done, spans in of.done():
        setting = done.override.setting
        if isinstance(setting, Frost | HeatOff) and done.end >= of.case.replay.end:
            c = of.heat.frost_c if isinstance(setting, Frost) else None
            yield _held(of, "not-in-auto", ZoneLeft, (zone, done, spans), c)
