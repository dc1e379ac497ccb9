"""What the rules look at: a replayed plan, its channels, and what may be tried on it."""

from collections.abc import Collection, Iterator
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import ClassVar, Protocol

import numpy as np

from skavit.core.findings.facts import Facts, Period, SlotFact, runs_of
from skavit.core.findings.finding import Finding, Severity
from skavit.core.findings.remedy import Remedy
from skavit.core.fitting import fit
from skavit.core.ground.arrays import DAY_S, Ints
from skavit.core.ground.budget import Budget
from skavit.core.ground.errors import RangeError
from skavit.core.ground.spans import EMPTY, Spans, difference, intersection, union, unite
from skavit.core.plan.document import Plan
from skavit.core.plan.entry import Entry
from skavit.core.plan.sun_settings import SunSettings
from skavit.core.plan.times import day_of
from skavit.core.repair import clock_is_right, with_right_clock
from skavit.core.simulation.events import Events, channels_of
from skavit.core.simulation.replay import ChannelReplay, Replay, replay
from skavit.core.site.almanac import almanac

# Differences that last no longer are not findings, unless the caller says otherwise (docs/plan-file.md).
TOLERANCE_S = 60
# Common practice, no source: a light that burns half a working day unwanted is reported at once, not at the next round.
LONG_S = 4 * 3600
MOST_DAYS = 0.9
MUCH_A_DAY_S = 600
# How much an audit tries by replay, in events looked at; a step is some 0.4 microseconds. A unit of 16 entries takes
# 8,000 for each thing that is tried.
REMEDY_STEPS = 2_000_000
STEPS_A_CHANNEL, STEPS_AN_ENTRY = 2_000, 200
FITTED_STEPS = 3_000_000
# Of the search for changes, where no entries of the unit do just what is wanted.
REPAIR_STEPS = 1_500_000


@dataclass(frozen=True, slots=True)
class Budgets:
    """What an audit may try: remedies by replay, what `fit` would key, and changes that mend."""

    remedies: Budget = field(default_factory=lambda: Budget(REMEDY_STEPS))
    fits: Budget = field(default_factory=lambda: Budget(FITTED_STEPS))
    repairs: Budget = field(default_factory=lambda: Budget(REPAIR_STEPS))
    wants_remedies: bool = True  # else no remedy is asked for, and none is missed
    at_once: bool = False  # only such changes as take no search

    @classmethod
    def while_waited_for(cls, *, remedies: bool = True) -> "Budgets":
        """Where somebody waits; without remedies where only what shows is asked for, and not what mends it."""
        if remedies:
            return cls(at_once=True)
        return cls(remedies=Budget(0), fits=Budget(0), wants_remedies=False, at_once=True)

    @property
    def ended(self) -> bool:
        """Whether something was left untried."""
        searched = self.repairs.ended and not self.at_once
        return searched or (self.wants_remedies and (self.remedies.ended or self.fits.ended))


@dataclass(frozen=True, slots=True)
class ChannelCase:
    """One channel as the rules see it; differences within the tolerance are left out."""

    index: int  # from 0
    replay: ChannelReplay
    events: Events
    extra: Spans
    missing: Spans
    tolerance_s: int
    sunny: bool  # it has a sun time in a window or an entry

    @property
    def number(self) -> int:
        """The channel as the plan counts it."""
        return self.index + 1


class Case:
    """A replayed plan with what several rules need, computed when first asked for."""

    def __init__(self, result: Replay, *, tolerance_s: int = TOLERANCE_S, budgets: "Budgets | None" = None) -> None:
        self.replay, self.tolerance_s = result, tolerance_s
        self.plan: Plan = result.plan
        self.budgets = budgets or Budgets()
        self.channels = tuple(self._channel(i, channel) for i, channel in enumerate(result.channels))

    def _channel(self, index: int, channel: ChannelReplay) -> ChannelCase:
        pulses = [window.repeat.on_s for window in self.plan.channels[index].windows if window.repeat]
        # A pulse is shorter than the usual tolerance: half of one is a difference all the same.
        tolerance_s = min([self.tolerance_s, *(on_s // 2 for on_s in pulses)])
        return ChannelCase(
            index=index,
            replay=channel,
            events=self.replay.events.of_channel(index),
            extra=channel.extra.longer_than(tolerance_s),
            missing=channel.missing.longer_than(tolerance_s),
            tolerance_s=tolerance_s,
            sunny=self.plan.uses_sun(index + 1),
        )

    @property
    def entries(self) -> tuple[Entry, ...]:
        """The unit's entries."""
        return self.plan.unit.entries

    @property
    def years(self) -> float:
        """The range in years, at least one: a shorter range still is a part of one year."""
        return max(1.0, (self.replay.last - self.replay.first + 1) / 365.25)

    @cached_property
    def daylight(self) -> Spans:
        """From sunrise to sunset of each date; a polar day is one whole day."""
        book = almanac(self.plan.site, self.replay.first - 1, self.replay.last + 1)
        rows = book.rows(self.replay.first - 1, self.replay.last + 1)
        rise, fall = book.sun.times[1, rows], book.sun.times[2, rows]
        return unite([Spans(rise[rise < fall], fall[rise < fall])]).cut(self.replay.start, self.replay.end)

    def wrong_s(self, entries: tuple[Entry, ...]) -> int | None:
        """Seconds of difference in the range if the unit held other entries; None where the budget is spent."""
        old = self.entries
        low = next(
            (i for i, (a, b) in enumerate(zip(old, entries, strict=False)) if a != b), min(len(old), len(entries))
        )
        most = min(len(old), len(entries)) - low
        high = next((i for i in range(most) if old[-1 - i] != entries[-1 - i]), most)
        other = (*old[low : len(old) - high], *entries[low : len(entries) - high])
        touched = {channel for entry in other for channel in channels_of(self.plan, entry)}
        tried = self.tried(self.plan.with_entries(entries), touched, self.budgets.remedies)
        if tried is None:
            return None
        before = sum(self.replay.channels[number - 1].wrong_s for number in touched)
        return self.wrong_now_s - before + sum(channel.wrong_s for channel in tried)

    def tried(
        self, plan: Plan, channels: Collection[int], budget: Budget, *, other_windows: bool = False
    ) -> tuple[ChannelReplay, ...] | None:
        """Some channels (from 1, in their order) under another plan; None where the budget is spent.

        ``other_windows``: what is wanted differs too, and is worked out anew.
        """
        part = plan.of_channels(channels) if channels else None
        work = sum(len(self.channels[number - 1].events) + STEPS_A_CHANNEL for number in channels)
        entries = len(part.unit.all_entries) if part else 0
        if not budget.take(work + STEPS_A_CHANNEL + entries * STEPS_AN_ENTRY):
            return None
        if part is None:
            return ()
        known = (
            None
            if other_windows
            else [self.replay.channels[number - 1].wanted_with_run_up for number in sorted(channels)]
        )
        return replay(part, day_of(self.replay.first), day_of(self.replay.last), known).channels

    def wrong_of(self, plan: Plan) -> int | None:
        """Seconds of difference in the range under another plan of the same windows; None where the budget is spent."""
        tried = self.tried(plan, range(1, len(self.channels) + 1), self.budgets.remedies)
        return None if tried is None else sum(channel.wrong_s for channel in tried)

    @cached_property
    def wrong_now_s(self) -> int:
        """Seconds of difference in the range as the unit is."""
        return self.replay.wrong_s

    @cached_property
    def fitted(self) -> tuple[Entry, ...]:
        """The entries that `fit` would make for the plan; as they are where it is too large to be fitted."""
        if not self.budgets.fits.take():
            return self.entries
        try:
            return fit(self.plan, day_of(self.replay.first).year, self.budgets.fits).plan.unit.entries
        except RangeError:
            self.budgets.fits.ended = True
            return self.entries

    @cached_property
    def mended_by_clock(self) -> list[tuple[Spans, Spans]]:
        """A channel each: the extra and the missing that would not be there with the unit's clock right."""
        if clock_is_right(self.replay):
            return [(EMPTY, EMPTY) for _ in self.channels]
        return self._mended(with_right_clock(self.plan))

    @cached_property
    def mended_by_sun(self) -> list[tuple[Spans, Spans]]:
        """A channel each: the extra and the missing that would not be there with the site's own sun, uncorrected."""
        channels = tuple(replace(channel, adjust=None) for channel in self.plan.channels)
        unit = replace(self.plan.unit, sun=SunSettings())
        return self._mended(replace(self.plan, unit=unit, channels=channels))

    def _mended(self, plan: Plan) -> list[tuple[Spans, Spans]]:
        right = self.replay.under(plan)
        return [
            (difference(channel.extra, other.extra), difference(channel.missing, other.missing))
            for channel, other in zip(self.channels, right.channels, strict=True)
        ]

    def dates_of(self, spans: Spans) -> Ints:
        """The local dates on which spans lie, rising."""
        if not len(spans):
            return np.zeros(0, dtype=np.int64)
        first = self.replay.site_clock.digits(spans.on) // DAY_S
        last = self.replay.site_clock.digits(spans.off - 1) // DAY_S
        low = int(first[0])
        steps = np.zeros(int(last.max()) - low + 2, dtype=np.int64)
        np.add.at(steps, first - low, 1)
        np.add.at(steps, last - low + 1, -1)
        return low + np.nonzero(np.cumsum(steps) > 0)[0]

    def local_time_s(self, instants: Ints) -> int:
        """The middle one of the instants' local clock times, in seconds after midnight."""
        seconds = np.sort(self.replay.site_clock.digits(instants) % DAY_S)
        return int(seconds[seconds.size // 2])

    def _around(self, instants: Ints) -> tuple[int, tuple[int, int]]:
        """(the middle of the instants' local clock times, how much earlier and later the others are), in seconds."""
        middle = self.local_time_s(instants)
        away = (self.replay.site_clock.digits(instants) - middle + DAY_S // 2) % DAY_S - DAY_S // 2
        return middle, (int(away.min()), int(away.max()))

    def severity(self, extra: Spans, missing: Spans) -> Severity:
        """By the hours a year that are explained, and by how long at a time or how often it burns."""
        if (extra.total_s + missing.total_s) / 3600 / self.years <= 1:
            return Severity.NOTE
        days = self.replay.last - self.replay.first + 1
        often = self.dates_of(extra).size >= MOST_DAYS * days and days > 1
        # A few minutes by the clock are none, however often they come.
        every_day = often and extra.total_s / days >= MUCH_A_DAY_S
        if len(extra) and (int(extra.lengths.max()) >= LONG_S or every_day):
            return Severity.DANGER
        return Severity.WARNING

    def slot(self, index: int) -> SlotFact:
        """An entry as a person names it."""
        return SlotFact.of(index, self.entries[index])

    def burning(self, channel: ChannelCase, extra: Spans) -> Period:
        """That it is on, and not wanted."""
        return self.period("on", extra)

    def dark(self, missing: Spans) -> Period:
        """That it is off, though wanted."""
        return self.period("off", missing)

    def period(self, shows: str, spans: Spans) -> Period:
        """When it is on, or off: usual times of the day, and the dates."""
        from_s, from_spread_s = self._around(spans.on)
        to_s, to_spread_s = self._around(spans.off)
        return Period(
            shows=shows,
            from_s=from_s,
            to_s=to_s,
            from_spread_s=from_spread_s,
            to_spread_s=to_spread_s,
            longest_s=int(spans.lengths.max()),
            dates=runs_of(self.dates_of(spans)),
        )

    def make(
        self,
        code: str,
        channel: ChannelCase | None,
        facts: Facts,
        *,
        extra: Spans = EMPTY,
        missing: Spans = EMPTY,
        dates: Ints | None = None,
        slots: tuple[int, ...] = (),
        remedy: Remedy | None = None,
        severity: Severity | None = None,
        explains: dict[int, Spans] | None = None,
    ) -> Finding:
        """A finding about stretches of a channel; ``slots`` are indices from 0."""
        both = unite([extra, missing])
        if explains is None:
            explains = {channel.index: both} if channel is not None and len(both) else {}
        return Finding(
            code=code,
            severity=severity or self.severity(extra, missing),
            channel=channel.number if channel is not None else None,
            facts=facts,
            dates=self.dates_of(both) if dates is None else dates,
            hours=(extra.total_s + missing.total_s) / 3600,
            slots=tuple(index + 1 for index in slots),
            remedy=remedy,
            explains=explains,
        )


class Described(Protocol):
    """One kind of finding: ``slug`` is its code, ``description`` its line in the guide, ``facts`` what it may say."""

    slug: ClassVar[str]
    description: ClassVar[str]
    facts: ClassVar[tuple[type[Facts], ...]]


class Rule(Described, Protocol):
    """One that looks at a case by itself."""

    def find(self, case: Case) -> Iterator[Finding]:
        """The findings of this kind."""
        ...


def within(spans: Spans, starts: Ints, ends: Ints) -> Spans:
    """What of ``spans`` lies in any of the stretches."""
    return intersection(spans, union(starts, ends))


def next_after(instants: Ints, turns: Ints, until: int) -> Ints:
    """For each instant the first of the rising ``turns`` that comes later, or ``until``."""
    padded = np.concatenate([turns, [until]])
    found: Ints = padded[np.searchsorted(turns, instants, side="right")]
    return found
