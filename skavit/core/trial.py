"""Many trial entries for one plan, each tried by replay over two years: the measuring bench of `fit` and of remedies.

The unit's clock and its sun are taken to be right here: entries are made for a unit that is set as it should be, and
a wrong clock or sun table is a finding of its own.
"""

from dataclasses import dataclass, replace
from datetime import date

import numpy as np

from skavit.core.almanac import almanac
from skavit.core.clock_settings import ClockSettings
from skavit.core.days import Days
from skavit.core.plan import Entry, Plan
from skavit.core.replay import RUN_UP_DAYS, replay
from skavit.core.spans import Spans, from_switchings, symmetric_difference_s
from skavit.core.sun import DAY_S, Ints
from skavit.core.sun_settings import NO_ADJUST, SunSettings
from skavit.core.unit import acting_digits, holiday_mask
from skavit.core.values import Time

PROOF_YEARS = 2


@dataclass(frozen=True, slots=True, kw_only=True)
class Draft:
    """An entry for one channel before it has a slot."""

    on: bool
    at: Time
    days: Days

    def entry(self, channels: tuple[int, ...]) -> Entry:
        """The entry that keys it."""
        return Entry(channels=channels, on=self.on, at=self.at, days=self.days)


Drafts = tuple[Draft, ...]


class Trial:
    """Replays drafts of one plan's channels over two calendar years."""

    def __init__(self, plan: Plan, first_year: int) -> None:
        unit = replace(plan.unit, clock=ClockSettings(), entries=())
        self.plan = replace(plan, unit=unit)
        self._true = replace(self.plan, unit=replace(unit, sun=SunSettings()))
        self.first, self.last = date(first_year, 1, 1), date(first_year + PROOF_YEARS - 1, 12, 31)
        self.base = replay(self.plan, self.first, self.last)
        self.book = almanac(plan.site, self.base.first - RUN_UP_DAYS - 2, self.base.last + 2)
        span = self.book.rows(self.base.first - RUN_UP_DAYS - 1, self.base.last + 1)
        rows = np.arange(span.start, span.stop)
        self.rows = rows[~holiday_mask(plan.unit.holidays, self.book.calendar.days[rows])]
        self._instants: dict[tuple[Time, Days], Ints] = {}
        self._wrong: dict[tuple[int, Drafts], int] = {}
        self._outputs: dict[Drafts, Spans] = {}

    def wanted(self, channel: int) -> Spans:
        """What is wanted of a channel (from 0) over the two years."""
        return self.base.channels[channel].wanted

    def instants(self, at: Time, days: Days) -> Ints:
        """When an entry acts, run-up included."""
        key = (at, days)
        if key not in self._instants:
            rows = self.rows[days.matches(self.book.calendar)[self.rows]]
            entry = Entry(channels=(1,), on=True, at=at, days=days)
            digits, _ = acting_digits(self._true, entry, NO_ADJUST, self.book, rows, self.base.unit_clock)
            found = self.base.unit_clock.acts(digits)
            keep = (found >= self.base.start - RUN_UP_DAYS * DAY_S) & (found < self.base.end)
            self._instants[key] = found[keep]
        return self._instants[key]

    def output(self, drafts: Drafts) -> Spans:
        """What an output does under the drafts in this slot order, within the two years."""
        if drafts not in self._outputs:
            self._outputs[drafts] = self._run(drafts)
        return self._outputs[drafts]

    def _run(self, drafts: Drafts) -> Spans:
        if not drafts:
            return Spans(np.zeros(0, dtype=np.int64), np.zeros(0, dtype=np.int64))
        parts = [self.instants(draft.at, draft.days) for draft in drafts]
        instant = np.concatenate(parts)
        on = np.repeat([draft.on for draft in drafts], [part.size for part in parts])
        order = np.argsort(instant, kind="stable")
        instant, on = instant[order], on[order]
        last = np.concatenate([instant[1:] != instant[:-1], [True]]) if instant.size else np.zeros(0, dtype=bool)
        return from_switchings(instant[last], on[last], self.base.end).cut(self.base.start, self.base.end)

    def wrong_s(self, channel: int, drafts: Drafts) -> int:
        """Seconds in the two years in which the channel (from 0) is on unwanted or dark though wanted."""
        key = (channel, drafts)
        if key not in self._wrong:
            self._wrong[key] = symmetric_difference_s(self.output(drafts), self.wanted(channel))
        return self._wrong[key]
