"""On which day a window ends, by what the sun of a site does through a year."""

from dataclasses import dataclass, replace
from datetime import date
from functools import lru_cache

import numpy as np

from skavit.core.ground.arrays import DAY_S, Ints
from skavit.core.plan.document import Site
from skavit.core.plan.times import day_number
from skavit.core.plan.window import MIDNIGHT, Window
from skavit.core.simulation.wanted import window_spans
from skavit.core.site.almanac import almanac
from skavit.core.site.clock import zone_clock

# A window that is longer is more often a slip than meant: common practice, no source.
LONGEST_S = 20 * 3600


@dataclass(frozen=True, slots=True, kw_only=True)
class WindowEnds:
    """How the two times of a window lie in a year, date by date; lengths in seconds."""

    dates: int  # on which the window holds
    before: int  # of them, on which the end comes no later than the start, by the clock of one day
    longest_same_s: int
    longest_next_s: int

    @property
    def next_day(self) -> bool | None:
        """Whether it ends on the day after; None where the year changes that."""
        if 0 < self.before < self.dates:
            return None
        return self.before > 0

    @property
    def decided(self) -> bool | None:
        """The same; None too where it would be on for longer than 20 hours on some date."""
        longest = self.longest_next_s if self.next_day else self.longest_same_s
        return None if longest > LONGEST_S else self.next_day


@lru_cache(maxsize=256)
def window_ends(window: Window, site: Site, year: int) -> WindowEnds | None:
    """How a window's times lie at a site in a year; None where `ends` says nothing: it lasts so long, or till 24:00."""
    if window.to is None or window.to == MIDNIGHT:
        return None
    first, last = day_number(date(year, 1, 1)), day_number(date(year, 12, 31))
    book, clock = almanac(site, first - 1, last + 2), zone_clock(site.timezone, year - 1, year + 1)
    rows = np.arange(*book.rows(first, last).indices(book.calendar.days.size))

    def lengths(*, next_day: bool) -> Ints:
        start, end = window_spans(replace(window, ends_next_day=next_day), book, rows, clock)
        found: Ints = end - start
        return found

    same, following = lengths(next_day=False), lengths(next_day=True)
    if not same.size:
        return WindowEnds(dates=0, before=0, longest_same_s=0, longest_next_s=DAY_S)
    return WindowEnds(
        dates=int(same.size),
        before=int((same <= 0).sum()),
        longest_same_s=max(int(same.max()), 0),
        longest_next_s=int(following.max()),
    )
