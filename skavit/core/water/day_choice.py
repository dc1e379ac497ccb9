"""On which days a program may water: every rule that a controller knows, held against the hours in which water may flow."""

import math
from dataclasses import dataclass

import numpy as np

from skavit.core.ground.arrays import DAY_S, MINUTE_S, Ints
from skavit.core.ground.spans import Spans, union
from skavit.core.plan.days import Calendar, Days, EveryNth, Parity, Weekdays
from skavit.core.plan.limits import ALL_MASKS
from skavit.core.plan.water import Water
from skavit.core.simulation.replay import Replay
from skavit.core.simulation.wanted import window_spans
from skavit.core.site.almanac import Almanac
from skavit.core.site.clock import WallClock
from skavit.core.water.stack import allowed_spans

MOST_BEGINS = 8
LONGEST_INTERVAL = 31  # that is looked at where a controller sets no bound


@dataclass(frozen=True, slots=True, kw_only=True)
class DayChoice:
    """A rule for days, and how long water may flow from one time of day on all its days."""

    days: Days
    longest_gap: int  # days from one watering to the next
    mean_gap: float
    uneven: float  # the variance of the gaps
    until_s: int  # seconds after midnight of its own day, past 86400 after the next midnight


def allowed_digits(water: Water, book: Almanac, rows: Ints, clock: WallClock) -> Spans | None:
    """When water may flow, in digits of the site's clock; None where it always may."""
    found = allowed_spans(water, book, rows, clock)
    return None if found is None else union(clock.digits(found.on), clock.digits(found.off))


def latest_begins(water: Water, book: Almanac, rows: Ints, clock: WallClock) -> list[int]:
    """Seconds after midnight at which each allowed window has opened on all its dates, each once, rising; at most :data:`MOST_BEGINS`."""
    found: set[int] = set()
    for window in (water.allowed or ())[:MOST_BEGINS]:
        held = rows[window.days.matches(book.calendar)[rows]]
        start, _ = window_spans(window, book, rows, clock)
        if held.size:
            latest = int((clock.digits(start) - book.calendar.midnight[held]).max())
            found.add(-(-latest // MINUTE_S) * MINUTE_S)
    return sorted(begin for begin in found if 0 <= begin < DAY_S)


def _rules(water: Water, first: int) -> list[Days]:
    """Every rule that the controller's programs know: fewest weekdays first, then intervals, then odd and even."""
    kinds = water.limits.days
    found: list[Days] = []
    if kinds is None or "any" in kinds:
        found += [Weekdays(mask) for mask in sorted(ALL_MASKS, key=lambda mask: (mask.bit_count(), mask))]
    if kinds is None or "interval" in kinds:
        most = min(water.limits.interval_max_days or LONGEST_INTERVAL, LONGEST_INTERVAL)
        found += [EveryNth(interval=n, start=first) for n in range(1, most + 1)]
    if kinds is None or "parity" in kinds:
        found += [Parity(odd=True), Parity(odd=False)]
    return found


def choices(
    run: Replay, water: Water, calendar: Calendar, allowed: Spans | None, from_s: int, always_until_s: int
) -> list[DayChoice]:
    """The rules on all of whose days water may flow at ``from_s`` after the unit's midnight, over the dates of a calendar."""
    days = calendar.days
    begins = days * DAY_S + from_s
    until = np.full(days.shape, always_until_s, dtype=np.int64)
    free = np.ones(days.shape, dtype=bool)
    if allowed is not None:
        # What the site's clock shows when the unit's shows it: a unit may keep another time.
        shown = run.site_clock.digits(run.unit_clock.acts(begins))
        free = allowed.at(shown)
        place = np.maximum(np.searchsorted(allowed.on, shown, side="right") - 1, 0)
        until = allowed.off[place] - shown + from_s if len(allowed) else until
    found = []
    for rule in _rules(water, int(days[0])):
        holds = rule.matches(calendar)
        if not holds.any() or not free[holds].all():
            continue
        gaps = np.diff(days[holds])
        if not gaps.size:
            continue
        end = min(int(until[holds].min()), from_s + always_until_s)
        found.append(
            DayChoice(
                days=rule,
                longest_gap=int(gaps.max()),
                mean_gap=float(gaps.mean()),
                uneven=float(gaps.var()),
                until_s=end,
            )
        )
    return found


def chosen(found: list[DayChoice], gap: int, per_week: int | None = None) -> DayChoice | None:
    """The rule that waters most rarely and never leaves more than ``gap`` days; of equals the most even one, then the first.

    None where there is none.

    ``per_week``: at least so often on the whole, where that was asked for.
    """
    mean = 7 / per_week + 1e-9 if per_week else math.inf
    fitting = [choice for choice in found if choice.longest_gap <= gap and choice.mean_gap <= mean]
    # The ends of the range make means of the same rule differ by some hundredths.
    return max(fitting, key=lambda choice: (round(choice.mean_gap, 1), -round(choice.uneven, 1)), default=None)
