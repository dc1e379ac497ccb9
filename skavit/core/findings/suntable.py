"""The unit's sun: `sun-differs` and `sun-near`."""

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from skavit.core.findings.case import Case, Rule
from skavit.core.findings.facts import NUMBER, SAID, Facts
from skavit.core.findings.finding import Finding, Severity
from skavit.core.ground.arrays import Ints
from skavit.core.ground.records import Record, listed, member, record
from skavit.core.ground.spans import unite
from skavit.core.plan.times import DAY, sun_time_of
from skavit.core.site.almanac import almanac, unit_almanac
from skavit.core.site.clock import standard_offsets_s
from skavit.core.sun import SunEvent
from skavit.core.text.wording import Words, date_text

# The crew's tolerance, unless it sets another (docs: "sun-differs").
SUN_TOLERANCE_MIN = 5


@dataclass(frozen=True, slots=True, kw_only=True)
class SunError:
    """How far a unit's sun event is from the site's on the dates on which both have one, in minutes; late is positive."""

    event: SunEvent
    days: Ints
    minutes: "np.ndarray[tuple[int, ...], np.dtype[np.float64]]"

    @property
    def worst(self) -> int:
        """The row of the greatest error."""
        return int(np.argmax(np.abs(self.minutes)))


def sun_errors(case: Case) -> list[SunError]:
    """The errors of every sun event that an entry uses, for each correction among its channels."""
    plan, sun = case.plan, case.plan.unit.sun
    first, last = case.replay.first, case.replay.last
    true, own = almanac(plan.site, first, last), unit_almanac(plan.site, sun, first, last)
    span = true.rows(first, last)
    days = true.calendar.days[span]
    late_s = (sun.delay_min or 0) * 60 + np.zeros(days.shape)
    if sun.utc_offset_min is not None:
        late_s += sun.utc_offset_min * 60 - standard_offsets_s(plan.site.timezone, days)
    used = {
        (found.event, plan.adjust_of(channel).of(found.event))
        for entry in plan.unit.entries
        if (found := sun_time_of(entry.at))
        for channel in entry.channels
    }
    errors = []
    for event, adjust_min in sorted(used):
        both = true.sun.crosses[event, span] & own.sun.crosses[event, span]
        minutes = (own.sun.times[event, span] - true.sun.times[event, span] + late_s) / 60 + adjust_min
        if both.any():
            errors.append(SunError(event=event, days=days[both], minutes=minutes[both]))
    return errors


@dataclass(frozen=True, slots=True, kw_only=True)
class Range(Record):
    """From the least to the greatest error of a sun event, in minutes; late is positive."""

    event: str = member(SAID)
    low_min: float = member(NUMBER)
    high_min: float = member(NUMBER)

    def text(self) -> str:
        """In words."""
        low, high = self.low_min, self.high_min
        told = _side(low) if round(low) == round(high) else f"from {_side(low)} to {_side(high)}"
        return f"{self.event} {told}"


@dataclass(frozen=True, slots=True, kw_only=True)
class SunOut(Facts):
    """The worst date, and the range over the dates."""

    worst_min: float = member(NUMBER)
    day: int = member(DAY)
    ranges: tuple[Range, ...] = member(listed(record(Range)))

    def headline(self, words: Words) -> str:
        """The worst date."""
        return f"The unit's sun is out by up to {self.worst_min:.0f} min, on {date_text(self.day)}"

    def why(self, words: Words) -> str:
        """The range."""
        return f"Over these dates: {'; '.join(one.text() for one in self.ranges)}."


class SunDiffers(Rule):
    """The unit's sun times are out by more than the tolerance."""

    slug = "sun-differs"
    description = (
        "the unit's sun times are out by more than five minutes: the worst date, and from when to when over the year"
    )
    facts = (SunOut,)

    def find(self, case: Case) -> Iterator[Finding]:
        """One finding for the unit, on the dates on which any of its sun times is out."""
        if case.plan.unit.sun.is_true and not any(channel.adjust for channel in case.plan.channels):
            return
        errors = [e for e in sun_errors(case) if np.abs(e.minutes).max() > SUN_TOLERANCE_MIN]
        if not errors:
            return
        dates = np.unique(np.concatenate([e.days[np.abs(e.minutes) > SUN_TOLERANCE_MIN] for e in errors]))
        worst = max(errors, key=lambda e: abs(float(e.minutes[e.worst])))
        facts = SunOut(
            worst_min=abs(float(worst.minutes[worst.worst])),
            day=int(worst.days[worst.worst]),
            ranges=tuple(
                Range(event=e.event.name.lower(), low_min=float(e.minutes.min()), high_min=float(e.minutes.max()))
                for e in errors
            ),
        )
        yield _told(case, self.slug, facts, dates)


@dataclass(frozen=True, slots=True, kw_only=True)
class SunNear(Facts):
    """The worst error of a sun that is right within the tolerance."""

    worst_min: float = member(NUMBER)

    def headline(self, words: Words) -> str:
        """How far it is out at worst."""
        return f"The unit's sun is out by up to {max(self.worst_min, 1):.0f} min: within the {SUN_TOLERANCE_MIN} min that are usual"

    def why(self, words: Words) -> str:
        """Why nothing need be done."""
        return "Regions, zone tables and whole minutes come no nearer."


class SunIsNear(Rule):
    """The unit's sun times are out by no more than the tolerance, and something switches by them."""

    slug = "sun-near"
    description = (
        "minutes of difference by the unit's own sun times, within the five that are usual: no fault of a slot"
    )
    facts = (SunNear,)

    def find(self, case: Case) -> Iterator[Finding]:
        """One note for the unit, where the sun of its own place, right within the tolerance, makes some difference."""
        errors = () if case.plan.unit.sun.source == "site" else sun_errors(case)
        worst = max((float(np.abs(e.minutes).max()) for e in errors), default=0.0)
        if (
            not errors
            or worst > SUN_TOLERANCE_MIN
            or not any(len(span) for pair in case.mended_by_sun for span in pair)
        ):
            return
        dates = np.unique(np.concatenate([e.days for e in errors]))
        yield replace(_told(case, self.slug, SunNear(worst_min=worst), dates), severity=Severity.NOTE)


def _told(case: Case, slug: str, facts: Facts, dates: Ints) -> Finding:
    """A finding on the unit that explains what its own sun does."""
    mended = case.mended_by_sun
    extra, missing = unite([e for e, _ in mended]), unite([m for _, m in mended])
    explains = {index: unite(pair) for index, pair in enumerate(mended)}
    made = case.make(slug, None, facts, extra=extra, missing=missing, dates=dates, explains=explains)
    return replace(made, hours=sum(e.total_s + m.total_s for e, m in mended) / 3600)


def _side(minutes: float) -> str:
    return f"{abs(minutes):.0f} min {'late' if minutes >= 0 else 'early'}"
