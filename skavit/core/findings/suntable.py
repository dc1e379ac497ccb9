"""The unit's sun: `sun-differs`."""

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from skavit.core.findings.finding import Case, Finding, Rule
from skavit.core.ground.arrays import Ints
from skavit.core.ground.spans import unite
from skavit.core.plan.times import sun_time_of
from skavit.core.site.almanac import almanac, unit_almanac
from skavit.core.site.clock import standard_offsets_s
from skavit.core.sun.days import SunEvent
from skavit.core.text.wording import date_text

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


class SunDiffers(Rule):
    """The unit's sun times are out by more than the tolerance."""

    slug = "sun-differs"

    def find(self, case: Case) -> Iterator[Finding]:
        """One finding for the unit, on the dates on which any of its sun times is out."""
        if case.plan.unit.sun.is_true and not any(channel.adjust for channel in case.plan.channels):
            return
        errors = [e for e in sun_errors(case) if np.abs(e.minutes).max() > SUN_TOLERANCE_MIN]
        if not errors:
            return
        dates = np.unique(np.concatenate([e.days[np.abs(e.minutes) > SUN_TOLERANCE_MIN] for e in errors]))
        worst = max(errors, key=lambda e: abs(float(e.minutes[e.worst])))
        told = [f"{e.event.name.lower()} {_range(e)}" for e in errors]
        mended = case.mended_by_sun
        extra, missing = unite([e for e, _ in mended]), unite([m for _, m in mended])
        made = case.make(
            self.slug,
            None,
            f"The unit's sun is out by up to {abs(float(worst.minutes[worst.worst])):.0f} min, "
            f"on {date_text(int(worst.days[worst.worst]))}",
            f"Over these dates: {'; '.join(told)}.",
            extra=extra,
            missing=missing,
            dates=dates,
            explains={index: unite(pair) for index, pair in enumerate(mended)},
        )
        yield replace(made, hours=sum(e.total_s + m.total_s for e, m in mended) / 3600)


def _range(error: SunError) -> str:
    """From the least to the greatest error, in words."""
    low, high = float(error.minutes.min()), float(error.minutes.max())
    if round(low) == round(high):
        return _side(low)
    return f"from {_side(low)} to {_side(high)}"


def _side(minutes: float) -> str:
    return f"{abs(minutes):.0f} min {'late' if minutes >= 0 else 'early'}"
