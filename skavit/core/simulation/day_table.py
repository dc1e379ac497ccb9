"""What an output does day by day, as one tells a customer: each period on the date on which it begins."""

from dataclasses import dataclass

from skavit.core.ground.arrays import DAY_S
from skavit.core.ground.spans import Spans, closed
from skavit.core.site.clock import WallClock

# Pulses closer than this are told as one period.
TRAIN_GAP_S = 900


@dataclass(frozen=True, slots=True, kw_only=True)
class Period:
    """From a clock time to another, seconds after midnight; it may end on a later date."""

    start_s: int
    end_s: int
    days_on: int = 0  # so many dates later it ends


@dataclass(frozen=True, slots=True, kw_only=True)
class DayTold:
    """One date: its periods; or that it is on throughout."""

    day: int
    periods: tuple[Period, ...]
    all_day: bool = False


def day_table(spans: Spans, clock: WallClock, first: int, last: int) -> tuple[DayTold, ...]:
    """The dates ``first`` to ``last`` (days since 1970) of an output that is on in ``spans``, by the site's clock."""
    whole = closed(spans, TRAIN_GAP_S)
    on, off = clock.digits(whole.on).tolist(), clock.digits(whole.off).tolist()
    found = []
    for day in range(first, last + 1):
        low, high = day * DAY_S, (day + 1) * DAY_S
        periods = [
            Period(start_s=a - low, end_s=b % DAY_S, days_on=b // DAY_S - day)
            for a, b in zip(on, off, strict=True)
            if low <= a < high
        ]
        throughout = any(a <= low and b >= high for a, b in zip(on, off, strict=True))
        found.append(DayTold(day=day, periods=() if throughout else tuple(periods), all_day=throughout))
    return tuple(found)
