"""Holidays: `held-through-holiday` and `holiday-moves`."""

from collections.abc import Callable, Collection, Iterator
from dataclasses import dataclass, replace
from datetime import date, timedelta
from typing import assert_never

import numpy as np

from skavit.core.findings.acts import ClearHolidays, EarlierHolidays
from skavit.core.findings.case import Case, ChannelCase, Rule, next_after, within
from skavit.core.findings.facts import RUNS, SLOTS, Facts, PeriodFacts, Runs, SlotFact, runs_of, runs_text, slots_text
from skavit.core.findings.finding import Finding, Severity
from skavit.core.findings.remedy import Remedy, WithHolidays
from skavit.core.ground.arrays import DAY_S, HOUR_S
from skavit.core.ground.records import listed, member
from skavit.core.plan.days import MAX_HOLIDAY_DAYS, Holiday, Once, Yearly, holiday_mask
from skavit.core.plan.times import DAY
from skavit.core.simulation.events import Events, make_events
from skavit.core.text.wording import Words, capital, count, dated_text


@dataclass(frozen=True, slots=True, kw_only=True)
class Suppressed(PeriodFacts):
    """The OFF entries that a holiday suppresses."""

    slots: tuple[SlotFact, ...] = member(SLOTS)

    def why(self, words: Words) -> str:
        """Which."""
        told = slots_text(self.slots, words)
        return (
            f"The holiday suppresses {told} as well as what switches on: nothing ends the period that began before it."
        )


@dataclass(frozen=True, slots=True, kw_only=True)
class Moving(Facts):
    """Holidays that stand with their year."""

    starts: tuple[int, ...] = member(listed(DAY))
    here: Runs = member(RUNS)  # their dates in the range

    def headline(self, words: Words) -> str:
        """How many, and when they begin."""
        told = ", ".join(dated_text(start) for start in self.starts)
        return f"{capital(count(len(self.starts), 'holiday stands', 'holidays stand'))} with the year: {told}"

    def why(self, words: Words) -> str:
        """What comes of it."""
        here = f" This year: {runs_text(self.here)}." if self.here else " None of them lies in this time."
        return f"In other years the program runs on those dates. Key them anew each year.{here}"


class HeldThroughHoliday(Rule):
    """A holiday suppresses the OFF too: the output stays on through it."""

    slug = "held-through-holiday"
    description = "a holiday suppresses the OFF too: the output stays on through it"
    facts = (Suppressed,)

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
        return case.make(
            self.slug,
            channel,
            Suppressed(period=case.burning(channel, spans), slots=tuple(case.slot(slot) for slot in slots)),
            extra=spans,
            slots=slots,
            remedy=self._remedy(case),
        )

    def _remedy(self, case: Case) -> Remedy | None:
        """The holidays that hold an output, each begun a day earlier so that the period before it does not begin.

        Where that is no help, those that do are taken out; no other holiday is touched.
        """
        holidays = case.plan.unit.holidays
        for act, other in ((EarlierHolidays, _from_the_day_before), (ClearHolidays, lambda _: None)):
            helpful = [n for n in range(len(holidays)) if self._helps(case, _changed(holidays, [n], other))]
            if helpful:
                starts = tuple(holidays[n].start for n in helpful)
                return Remedy(act=act(starts), change=WithHolidays(_changed(holidays, helpful, other)))
        return None

    def _helps(self, case: Case, holidays: tuple[Holiday, ...]) -> bool:
        left = case.wrong_of(replace(case.plan, unit=replace(case.plan.unit, holidays=holidays)))
        return left is not None and left < case.wrong_now_s


def _changed(
    holidays: tuple[Holiday, ...], which: Collection[int], other: Callable[[Holiday], Holiday | None]
) -> tuple[Holiday, ...]:
    """The holidays with some of them (from 0) put otherwise, or left out."""
    changed = (other(holiday) if n in which else holiday for n, holiday in enumerate(holidays))
    return tuple(holiday for holiday in changed if holiday is not None)


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
    description = "a holiday given with its year: in other years it does nothing"
    facts = (Moving,)

    def find(self, case: Case) -> Iterator[Finding]:
        """One finding for all such holidays."""
        starts = [(h.start.day, h.days) for h in case.plan.unit.holidays if isinstance(h.start, Once)]
        if not starts:
            return
        days = np.concatenate([np.arange(start, start + long) for start, long in starts])
        here = np.unique(days[(days >= case.replay.first) & (days <= case.replay.last)])
        yield case.make(
            self.slug,
            None,
            Moving(starts=tuple(start for start, _ in starts), here=runs_of(here)),
            dates=here if here.size else np.array([case.replay.first]),
            severity=Severity.NOTE,
        )
