"""Many trial entries for one plan, each tried by replay over two years: the measuring bench of `fit` and of remedies.

The unit's clock is taken to be right here: entries are made for a unit whose clock is set as it should be, and a wrong
one is a finding of its own. Its sun is its own: a table that is another place's stays so however it is set.
"""

from dataclasses import dataclass, replace
from datetime import date

import numpy as np
from cachetools import LRUCache

from skavit.core.fitting.brief import BRIEF_S, OTHER_YEARS_S, brief
from skavit.core.ground.arrays import DAY_S, Ints
from skavit.core.ground.budget import Budget
from skavit.core.ground.spans import EMPTY, Spans, from_switchings, symmetric_difference_s
from skavit.core.plan.clock_settings import ClockSettings
from skavit.core.plan.days import Days, holiday_mask
from skavit.core.plan.document import Plan
from skavit.core.plan.entry import Entry
from skavit.core.plan.sun_settings import NO_ADJUST, Adjust
from skavit.core.plan.times import Time, sun_time_of
from skavit.core.simulation.events import acting_digits, own_sun
from skavit.core.simulation.replay import RUN_UP_DAYS, replay
from skavit.core.site.almanac import almanac, unit_almanac
from skavit.core.sun import SunEvent

Range = tuple[date, date]  # the first and the last
TRIAL_YEARS = 2
# What a fit may look at, in events; a step is some 0.3 microseconds. Eight windows on four channels take some 500,000.
FIT_STEPS = 16_000_000
# What a trial of so many drafts takes besides their events.
STEPS_A_TRIAL, STEPS_A_DRAFT = 500, 60
KEPT_BYTES = 64_000_000


@dataclass(frozen=True, slots=True, kw_only=True)
class Draft:
    """An entry for one channel before it has a slot."""

    on: bool
    at: Time
    days: Days
    pulse_s: int | None = None

    def entry(self, channels: tuple[int, ...]) -> Entry:
        """The entry that keys it."""
        return Entry(channels=channels, on=self.on, at=self.at, days=self.days, pulse_s=self.pulse_s)


Drafts = tuple[Draft, ...]


class Trial:
    """Replays drafts of one plan's channels over two calendar years, or over given dates.

    ``budget`` counts what is tried. A trial is always made; those who search stop once the budget has ended.
    """

    def __init__(self, plan: Plan, first_year: int, budget: Budget | None = None, dates: Range | None = None) -> None:
        self.budget = budget or Budget(FIT_STEPS)
        unit = replace(plan.unit, clock=ClockSettings(), entries=(), keyings=())
        self.plan = replace(plan, unit=unit, overrides=())
        self.first, self.last = dates or (date(first_year, 1, 1), date(first_year + TRIAL_YEARS - 1, 12, 31))
        self.base = replay(self.plan, self.first, self.last)
        self.book = almanac(plan.site, self.base.first - RUN_UP_DAYS - 2, self.base.last + 2)
        span = self.book.rows(self.base.first - RUN_UP_DAYS - 1, self.base.last + 1)
        rows = np.arange(span.start, span.stop)
        self.own_book = unit_almanac(plan.site, unit.sun, self.base.first - RUN_UP_DAYS - 2, self.base.last + 2)
        self.rows = rows[~holiday_mask(plan.unit.holidays, self.book.calendar.days[rows])]
        self._instants: dict[tuple[Time, Days, Adjust], Ints] = {}
        self._wrong: dict[tuple[int, Drafts], int] = {}
        self._outputs: LRUCache[tuple[Drafts, Adjust], Spans] = LRUCache(KEPT_BYTES, getsizeof=_bytes)

    def adjust_of(self, channel: int) -> Adjust:
        """The correction under which a channel (from 0) runs its drafts: none where offsets are keyed as one."""
        by_correction = self.plan.unit.limits.offset_by == "correction"
        return NO_ADJUST if by_correction else self.plan.adjust_of(channel + 1)

    def own_sun(self, event: SunEvent, rows: Ints, adjust: Adjust) -> Ints:
        """The instants at which the unit has a sun event on the dates in ``rows`` of the almanac."""
        return own_sun(self.plan, self.own_book, event, rows, adjust)

    def wanted(self, channel: int) -> Spans:
        """What is wanted of a channel (from 0) over the two years."""
        return self.base.channels[channel].wanted

    def instants(self, at: Time, days: Days, adjust: Adjust) -> Ints:
        """When an entry acts, run-up included."""
        key = (at, days, adjust if sun_time_of(at) else NO_ADJUST)
        if key not in self._instants:
            found = self._acts(at, self.rows[days.matches(self.book.calendar)[self.rows]], adjust)
            keep = (found >= self.base.start - RUN_UP_DAYS * DAY_S) & (found < self.base.end)
            self._instants[key] = found[keep]
        return self._instants[key]

    def _acts(self, at: Time, rows: Ints, adjust: Adjust) -> Ints:
        sun, settings = sun_time_of(at), self.plan.unit.sun
        if sun is not None and settings.skips_without_sun:
            rows = rows[self.own_book.sun.crosses[sun.event, rows]]
        if sun is not None and settings.is_photocell:
            return self.own_sun(sun.event, rows, NO_ADJUST)
        digits = acting_digits(at, self.plan, adjust, self.own_book, rows, self.base.unit_clock)
        return self.base.unit_clock.acts(digits)

    def output(self, channel: int, drafts: Drafts) -> Spans:
        """What a channel (from 0) does under the drafts in this slot order, within the two years."""
        key = (drafts, self.adjust_of(channel))
        kept = self._outputs.get(key)
        if kept is None:
            kept = self._run(*key)
            if _bytes(kept) < KEPT_BYTES:
                self._outputs[key] = kept
        return kept

    def _run(self, drafts: Drafts, adjust: Adjust) -> Spans:
        if not drafts:
            return EMPTY
        parts, states = [], []
        for draft in drafts:
            at = self.instants(draft.at, draft.days, adjust)
            parts.append(at)
            states.append(np.full(at.shape, draft.on))
            if draft.pulse_s is not None:
                parts.append(at + draft.pulse_s)
                states.append(np.zeros(at.shape, dtype=bool))
        instant, on = np.concatenate(parts), np.concatenate(states)
        self.budget.take(instant.size + STEPS_A_TRIAL + STEPS_A_DRAFT * len(drafts))
        order = np.argsort(instant, kind="stable")
        instant, on = instant[order], on[order]
        last = np.concatenate([instant[1:] != instant[:-1], [True]]) if instant.size else np.zeros(0, dtype=bool)
        return from_switchings(instant[last], on[last], self.base.end).cut(self.base.start, self.base.end)

    def wrong_s(self, channel: int, drafts: Drafts) -> int:
        """Seconds in the two years in which the channel (from 0) is on unwanted or dark though wanted.

        Each period or gap that is too short to be of use weighs :data:`BRIEF_S` more.
        """
        key = (channel, drafts)
        if key not in self._wrong:
            wrong = symmetric_difference_s(self.output(channel, drafts), self.wanted(channel))
            self._wrong[key] = wrong + (BRIEF_S * self.briefs(channel, drafts) if wrong else 0)
        return self._wrong[key]

    def briefs(self, channel: int, drafts: Drafts) -> int:
        """How many periods and gaps of the channel (from 0) would be too short in the two years, or in others nearly."""
        output, wanted = self.output(channel, drafts), self.wanted(channel)
        start, end = self.base.start, self.base.end
        return len(brief(self.plan.channels[channel], output, wanted, start, end, OTHER_YEARS_S))


def _bytes(spans: Spans) -> int:
    return spans.on.nbytes + spans.off.nbytes + 200
