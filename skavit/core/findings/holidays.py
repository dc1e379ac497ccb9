"""Holidays: `held-through-holiday` and `holiday-moves`."""

from collections.abc import Iterator
from dataclasses import replace
from datetime import date, timedelta
from typing import assert_never

import numpy as np

from skavit.core.findings.finding import Case, ChannelCase, Finding, Remedy, Rule, Severity, next_after, within
from skavit.core.ground.arrays import DAY_S, HOUR_S
from skavit.core.plan.days import Once, Yearly
from skavit.core.plan.holidays import MAX_HOLIDAY_DAYS, Holiday, holiday_mask
from skavit.core.simulation.events import Events, make_events
from skavit.core.text.wording import capital, count, dated_text, dates_text


class HeldThroughHoliday(Rule):
    """A holiday suppresses the OFF too: the output stays on through it."""

    slug = "held-through-holiday"

    def find(self, case: Case) -> Iterator[Finding]:
        """One finding a channel."""
        if not case.plan.unit.holidays or not any(len(channel.extra) for channel in case.channels):
            return
        every = self._without_holidays(case)
        held = holiday_mask(case.plan.unit.holidays, days := np.arange(case.replay.first - 2, case.replay.last + 3))
        suppressed = every.where(np.isin(every.day, days[held]))
        for channel in case.channels:
            found = self._held(case, channel, suppressed.of_channel(channel.index))
            if found is not None:
                yield found

    def _without_holidays(self, case: Case) -> Events:
        plan = replace(case.plan, unit=replace(case.plan.unit, holidays=()))
        return make_events(plan, case.replay.unit_clock, case.replay.start - DAY_S, case.replay.end, case.replay.start)

    def _held(self, case: Case, channel: ChannelCase, suppressed: Events) -> Finding | None:
        offs = suppressed.where(~suppressed.turns_on)
        acts = channel.events.instant
        # Only an OFF that would have been the next thing to happen to a burning output is missed.
        missed = channel.extra.at(offs.instant)
        until = next_after(offs.instant, acts, case.replay.end)
        spans = within(channel.extra, offs.instant[missed], until[missed])
        if spans.total_s <= HOUR_S:
            return None
        slots = tuple(int(slot) for slot in np.unique(offs.slot[missed]))
        told = ", ".join(case.slot(slot) for slot in slots)
        return case.make(
            self.slug,
            channel,
            case.burning(channel, spans),
            f"The holiday suppresses {told} as well as what switches on: nothing ends the period that began before it.",
            extra=spans,
            slots=slots,
            remedy=self._remedy(case),
        )

    def _remedy(self, case: Case) -> Remedy | None:
        """Holidays that begin a day earlier, so that the period before them does not begin; or none at all."""
        earlier = tuple(_from_the_day_before(holiday) for holiday in case.plan.unit.holidays)
        tried = [
            Remedy(label="Begin the holidays a day earlier", holidays=earlier),
            Remedy(label="Clear the holidays", holidays=()),
        ]
        wrong = [(case.wrong_of(remedy.applied(case.plan)), remedy) for remedy in tried]
        helpful = [(left, remedy) for left, remedy in wrong if left is not None and left < case.wrong_now_s]
        return min(helpful, key=lambda found: found[0])[1] if helpful else None


def _from_the_day_before(holiday: Holiday) -> Holiday:
    days = min(holiday.days + 1, MAX_HOLIDAY_DAYS)
    match holiday.start:
        case Once(day):
            return Holiday(start=Once(day - 1), days=days)
        case Yearly(month_day):
            before = date(2028, month_day // 100, month_day % 100) - timedelta(days=1)  # a leap year: 02-29 is a day
            return Holiday(start=Yearly(before.month * 100 + before.day), days=days)
        case _:
            assert_never(holiday.start)


class HolidayMoves(Rule):
    """A holiday given with its year: next year it does nothing."""

    slug = "holiday-moves"

    def find(self, case: Case) -> Iterator[Finding]:
        """One finding for all such holidays."""
        starts = [(h.start.day, h.days) for h in case.plan.unit.holidays if isinstance(h.start, Once)]
        if not starts:
            return
        days = np.concatenate([np.arange(start, start + long) for start, long in starts])
        here = np.unique(days[(days >= case.replay.first) & (days <= case.replay.last)])
        told = ", ".join(dated_text(start) for start, _ in starts)
        yield case.make(
            self.slug,
            None,
            f"{capital(count(len(starts), 'holiday stands', 'holidays stand'))} with the year: {told}",
            "In other years the program runs on those dates. Key them anew each year."
            + (f" This year: {dates_text(here)}." if here.size else " None of them lies in this time."),
            dates=here if here.size else np.array([case.replay.first]),
            severity=Severity.NOTE,
        )
