"""The ways in which a window can be keyed: just as wanted where the unit's limits admit it, and bent where not.

A bent time is the median of what is wanted over two years: of all fixed times, offsets or clock times the one with
the fewest hours of error.
"""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import assert_never

import numpy as np

from skavit.core.fitting.brief import OTHER_YEARS_S
from skavit.core.fitting.groups import UNREACHABLE, cost
from skavit.core.fitting.shifting import LEAP_YEAR, month_day_of, shift_days
from skavit.core.fitting.trial import Draft, Drafts, Trial
from skavit.core.ground.arrays import DAY_S, Ints
from skavit.core.plan.days import DAILY, Days, Narrowed, Parity, Weekdays
from skavit.core.plan.entry import MAX_PULSE_S
from skavit.core.plan.limits import Limits
from skavit.core.plan.sun_settings import NO_ADJUST
from skavit.core.plan.times import (
    MAX_OFFSET_MIN,
    ClockTime,
    LimitedTime,
    SunTime,
    Time,
    day_number,
    sun_time_of,
)
from skavit.core.plan.window import Window
from skavit.core.simulation.wanted import window_spans
from skavit.core.site.almanac import almanac
from skavit.core.site.clock import zone_clock
from skavit.core.sun import SunEvent
from skavit.core.text.wording import PLAIN, days_text, stretches

# Dates left out of a season are gathered over this many years, so that clock changes and leap days are all met.
SEASON_YEARS = 5
NEAREST_MASKS = 8
# A period shorter than this part of a window's usual length is of no use in its place: minutes for hours.
LEAST_PART = 4


@dataclass(frozen=True, slots=True, kw_only=True)
class Layout:
    """Drafts for a window, and why they are not just the window (empty: they are)."""

    drafts: Drafts
    reason: str = ""

    @property
    def text(self) -> str:
        """The entries in words."""
        parts = [f"{'ON' if d.on else 'OFF'} {PLAIN.time(d.at)} {days_text(d.days)}" for d in self.drafts]
        return "; ".join(parts) or "left out"


def _fixed(time: Time) -> Time:
    """A time that is always the same clock time, as that clock time."""
    if isinstance(time, LimitedTime):
        if time.not_before is not None and time.not_before == time.not_after:
            return time.not_before
        if isinstance(time.at, ClockTime):
            low = time.not_before or ClockTime(0)
            high = time.not_after or ClockTime(DAY_S - 1)
            return min(max(time.at, low), high)
        if time.not_before is None and time.not_after is None:
            return time.at
    return time


def window_end(window: Window) -> tuple[Time, int] | None:
    """(the time at which a window ends, days after its own date), or None where no time says it."""
    if window.to is not None:
        if window.to == ClockTime(DAY_S):
            return ClockTime(0), 1
        return _fixed(window.to), int(window.ends_next_day)
    minutes = window.for_min or 0
    start = _fixed(window.start)
    match start:
        case ClockTime():
            days, seconds = divmod(start.seconds + minutes * 60, DAY_S)
            return ClockTime(seconds), days
        case SunTime():
            offset = start.offset_min + minutes
            return (SunTime(start.event, offset), 0) if offset <= MAX_OFFSET_MIN else None
        case LimitedTime():
            return None
        case _:
            assert_never(start)


class WindowLayouts:
    """Finds the ways to key one window within some limits."""

    def __init__(self, trial: Trial, window: Window, limits: Limits, channel: int = 0) -> None:
        self.trial, self.window = trial, window
        self.adjust = trial.adjust_of(channel)
        least_on_s = trial.plan.channels[channel].least_on_min * 60
        self.least_on_s = int(least_on_s + OTHER_YEARS_S) if least_on_s else 0
        sun = trial.plan.unit.sun
        # A unit whose sun is another's is keyed by that sun; the corrections that stand in it are part of it.
        self.sun_differs = not sun.is_true or self.adjust != NO_ADJUST
        # What light switches has neither offset nor limits (docs/plan-file.md, "Sun").
        self.by_light = trial.plan.unit.sun.is_photocell
        self.limits = replace(limits, limited_times=False, sun_offset_max_min=0) if self.by_light else limits
        span = trial.book.rows(trial.base.first, trial.base.last)
        self.rows = np.arange(span.start, span.stop)
        self.start, self.end = window_spans(window, trial.book, self.rows, trial.base.site_clock)
        self.dates = trial.book.calendar.days[self.rows[window.days.matches(trial.book.calendar)[self.rows]]]
        self.empty = self.end <= self.start

    def layouts(self) -> Iterator[Layout]:
        """The exact ways first, then the bent ones, then leaving the window out."""
        ended = window_end(self.window)
        start = _fixed(self.window.start)
        ons = list(self._times(start, on=True, ahead=0))
        ends = list(self._times(ended[0], on=False, ahead=ended[1])) if ended else []
        if not ends:
            shift = int(self.window.ends_next_day)
            ends = [((self._median_clock(self.end, shift),), shift, "no entry says when this window ends")]
        for on_times, _, on_reason in ons:
            for off_times, shift, off_reason in ends:
                yield from self._drafts(on_times, off_times, shift, on_reason or off_reason)
        if ended:
            self.flips = self.empty | (self._own(ended[0], self.end, ended[1]) <= self._own(start, self.start, 0))
            if self.flips.any():
                yield from self._where_it_is_empty(start, *ended)
        yield Layout(drafts=(), reason="the unit has nothing that comes nearer than leaving the window out")

    def exact(self) -> Iterator[Draft]:
        """Drafts that begin or end the window just when it does, with the days that its rule gives them.

        A season that leaves out the dates on which the window is empty is among the days.
        """
        start, ended = _fixed(self.window.start), window_end(self.window)
        actions = self.limits.actions
        days = [self.window.days]
        if ended and self.limits.day_groups is None:
            self.flips = self.empty | (self._own(ended[0], self.end, ended[1]) <= self._own(start, self.start, 0))
            if self.flips.any():
                days.append(Narrowed(days=self.window.days, without=self.empty_seasons()))
        for times, _, reason in self._times(start, on=True, ahead=0):
            if not reason and (actions is None or "on" in actions):
                yield from (Draft(on=True, at=at, days=rule) for at in times for rule in days)
        lasts = np.unique(self.end - self.start)
        longest = self.limits.pulse_max_s or MAX_PULSE_S
        if actions is not None and "pulse" in actions and lasts.size == 1 and 1 <= lasts[0] <= longest:
            for times, _, reason in self._times(start, on=True, ahead=0):
                if not reason:
                    yield from (Draft(on=True, at=at, days=days[0], pulse_s=int(lasts[0])) for at in times)
        for times, shift, reason in self._times(ended[0], on=False, ahead=ended[1]) if ended else ():
            if not reason and (actions is None or "off" in actions):
                for at in times:
                    yield from (Draft(on=False, at=at, days=rule) for rule in (shift_days(days[0], shift), DAILY))

    def _own(self, time: Time, wanted: Ints, ahead: int) -> Ints:
        """When the unit has a time on the window's dates, were it keyed as it is; where no sun is in it, as wanted."""
        sun = sun_time_of(time)
        if sun is None or not self.sun_differs or not self._holds(time):
            return wanted
        return self.trial.own_sun(sun.event, self._rows(ahead), self.adjust) + sun.offset_min * 60

    def _rows(self, ahead: int) -> Ints:
        """The rows of the window's dates, or of those some days on."""
        found: Ints = self.rows[0] + (self.dates - self.trial.base.first) + ahead
        return found

    # ------------------------------------------------------------------------------------------------- times

    def _holds(self, time: Time) -> bool:
        """Whether the unit can hold the sun time in a time, if there is one."""
        sun = sun_time_of(time)
        return sun is None or (self._holds_event(sun.event) and self._holds_offset(sun.offset_min))

    def _step(self, time: ClockTime) -> ClockTime:
        step = self.limits.clock_step_s or 1
        return ClockTime((time.seconds + step // 2) // step * step % DAY_S)

    def _stepped(self, time: Time) -> Time:
        """A time with its clock times by the unit's steps."""
        match time:
            case ClockTime():
                return self._step(time)
            case SunTime():
                return time
            case LimitedTime():
                low, high = (bound and self._step(bound) for bound in (time.not_before, time.not_after))
                return replace(time, not_before=low, not_after=high)
            case _:
                assert_never(time)

    def _holds_event(self, event: SunEvent) -> bool:
        if self.trial.plan.unit.sun.source == "none":
            return False
        return self.limits.sun_events is None or event in self.limits.sun_events

    def _holds_offset(self, minutes: int) -> bool:
        if self.by_light and minutes:
            return False
        most = self.limits.sun_offset_max_min
        return abs(minutes) <= (MAX_OFFSET_MIN if most is None else most)

    def _times(self, time: Time, *, on: bool, ahead: int) -> Iterator[tuple[tuple[Time, ...], int, str]]:
        """(times of one or more entries, days after the window's date, why they are bent), best first."""
        match time:
            case ClockTime():
                yield (self._step(time),), ahead, self._step_reason(time)
            case SunTime() if self._holds(time):
                yield (time,), ahead, ""
                if self.sun_differs and not self.by_light:
                    nearer = self._median_sun(time.event, self.start if on else self.end, ahead)
                    yield (nearer,), ahead, "the unit's sun differs from the site's"
            case SunTime():
                yield from self._other_sun_times(time, on=on, ahead=ahead)
            case LimitedTime():
                yield from self._limited(time, on=on, ahead=ahead)
            case _:
                assert_never(time)

    def _step_reason(self, time: ClockTime) -> str:
        if self._step(time) == time:
            return ""
        return f"the unit's clock times go in steps of {self.limits.clock_step_s} s, {time} is none of them"

    def _limited(self, time: LimitedTime, *, on: bool, ahead: int) -> Iterator[tuple[tuple[Time, ...], int, str]]:
        inner = time.at
        if not isinstance(inner, SunTime):
            return
        holds = self._holds_event(inner.event) and self._holds_offset(inner.offset_min)
        bounds = [bound for bound in (time.not_before, time.not_after) if bound]
        if holds and self.limits.limited_times and all(self._step(bound) == bound for bound in bounds):
            yield (time,), ahead, ""
            return
        # The earlier of two switchings to the same state counts: a time with not_after is two entries.
        if holds and time.not_after and not time.not_before and self._step(time.not_after) == time.not_after:
            yield (inner, time.not_after), ahead, ""
        reason = "the unit holds no limits on sun times"
        if holds:
            yield (inner,), ahead, reason
        yield (self._median_clock(self.start if on else self.end, ahead),), ahead, reason

    def _other_sun_times(self, time: SunTime, *, on: bool, ahead: int) -> Iterator[tuple[tuple[Time, ...], int, str]]:
        if self._holds_event(time.event):
            reason = f"the unit's sun offsets reach {self.limits.sun_offset_max_min} min, not {abs(time.offset_min)}"
        else:
            reason = f"the unit does not know {time.event.name.lower()}"
        wanted_at = self.start if on else self.end
        for event in SunEvent:
            if self._holds_event(event) and event.morning == time.event.morning:
                yield (self._median_sun(event, wanted_at, ahead),), ahead, reason
        yield (self._median_clock(wanted_at, ahead),), ahead, reason

    def _median_clock(self, at: Ints, ahead: int) -> ClockTime:
        digits = self.trial.base.site_clock.digits(at) - (self.dates + ahead) * DAY_S
        if not digits.size:
            return ClockTime(0)
        return self._step(ClockTime(int(np.median(digits)) // 60 * 60 % DAY_S))

    def _median_sun(self, event: SunEvent, at: Ints, ahead: int) -> SunTime:
        away = (at - self.trial.own_sun(event, self._rows(ahead), self.adjust)) / 60
        most = self.limits.sun_offset_max_min
        most = MAX_OFFSET_MIN if most is None else most
        return SunTime(event, int(np.clip(np.rint(np.median(away)), -most, most)) if away.size else 0)

    # -------------------------------------------------------------------------------------------------- days

    def _drafts(self, ons: tuple[Time, ...], offs: tuple[Time, ...], shift: int, reason: str) -> Iterator[Layout]:
        """Drafts of those times on the window's days, the OFF moved on with its date; clock times by the unit's steps.

        None where the unit holds no limited times and there is one.
        """
        if not self.limits.limited_times and any(isinstance(at, LimitedTime) for at in (*ons, *offs)):
            return
        held = tuple(map(self._stepped, ons)), tuple(map(self._stepped, offs))
        if held != (ons, offs):
            ons, offs = held
            reason = reason or f"the unit's clock times go in steps of {self.limits.clock_step_s} s"
        for chosen, why in self._holdable_days(reason):
            moved = [shift_days(chosen, shift)]
            if not isinstance(moved[0], Weekdays) or isinstance(chosen, Parity):
                moved.append(DAILY)
            for off_days in moved:
                yield Layout(
                    drafts=(
                        *(Draft(on=True, at=at, days=chosen) for at in ons),
                        *(Draft(on=False, at=at, days=off_days) for at in offs),
                    ),
                    reason=why,
                )

    def _holdable_days(self, reason: str) -> list[tuple[Days, str]]:
        """The window's days, or those nearest to them that the unit's day groups make."""
        days, groups = self.window.days, self.limits.masks()
        if self.limits.day_groups is None or (isinstance(days, Weekdays) and cost(days.mask, groups) < UNREACHABLE):
            return [(days, reason)]
        why = reason or f"the unit's day groups do not hold {days_text(days)}"
        inner: Days = days
        while isinstance(inner, Narrowed):
            inner = inner.days
        mask = inner.mask if isinstance(inner, Weekdays) else DAILY.mask
        reachable = [other for other in range(1, 128) if cost(other, groups) < UNREACHABLE]
        nearest = sorted(reachable, key=lambda other: ((other ^ mask).bit_count(), cost(other, groups), other))
        return [(Weekdays(other), why) for other in nearest[:NEAREST_MASKS]]

    # ------------------------------------------------------------------------- windows that are empty on some dates

    def _where_it_is_empty(self, start: Time, end: Time, shift: int) -> Iterator[Layout]:
        """Ways for a window whose ON would come after its OFF on some dates and burn until the next OFF."""
        if self.limits.limited_times and not shift and self._holds(start) and self._holds(end):
            if isinstance(start, ClockTime) and isinstance(end, SunTime):
                yield from self._drafts((start,), (LimitedTime(at=end, not_before=start),), 0, "")
            if isinstance(start, SunTime) and isinstance(end, ClockTime):
                yield from self._drafts((LimitedTime(at=start, not_after=end),), (end,), 0, "")
        if self.limits.day_groups is None and self._holds(start) and self._holds(end):
            season = Narrowed(days=self.window.days, without=self.empty_seasons())
            for layout in self._drafts((start,), (end,), shift, "left out in the months in which the window is empty"):
                yield Layout(
                    drafts=tuple(replace(d, days=season) if d.on else d for d in layout.drafts), reason=layout.reason
                )
        reason = f"on {int(self.flips.sum()) // 2} days a year {_describe(end)} comes before {_describe(start)}"
        lengths = np.maximum(self.end - self.start, 0) / 60
        middle = int(np.rint(np.median(lengths)))
        usual = np.median(lengths[lengths > 0]) if (lengths > 0).any() else 0
        if middle * 60 < self.least_on_s or middle < usual / LEAST_PART:
            middle = 0
        if isinstance(start, ClockTime) and (sun := sun_time_of(end)):
            if self._holds(end):
                if middle and self._holds_offset(sun.offset_min - middle):
                    yield from self._drafts((SunTime(sun.event, sun.offset_min - middle),), (end,), shift, reason)
                before = self._before_all(self._own(end, self.end, shift), shift)
                yield from self._drafts((before,), (end,), shift, reason)
            if middle:
                latest = self._median_clock(np.maximum(self.end, self.start), shift)
                yield from self._drafts((start,), (latest,), shift, reason)
            yield from self._with_later_off(start, end, shift, reason)
        if isinstance(end, ClockTime) and (sun := sun_time_of(start)):
            if middle and self._holds(start) and self._holds_offset(sun.offset_min + middle):
                yield from self._drafts((start,), (SunTime(sun.event, sun.offset_min + middle),), 0, reason)
            if middle:
                earliest = self._median_clock(np.minimum(self.start, self.end), 0)
                yield from self._drafts((earliest,), (end,), shift, reason)
            yield from self._with_later_off(start, end, shift, reason)

    def _with_later_off(self, start: Time, end: Time, shift: int, reason: str) -> Iterator[Layout]:
        """A second OFF for the dates on which the first has gone by when the ON comes: just after the latest of those."""
        if not (self._holds(start) and self._holds(end)):
            return
        ons, offs = self._own(start, self.start, 0)[self.flips], self._own(end, self.end, shift)[self.flips]
        late_s = int((ons - offs).max())
        later: Time
        if isinstance(end, SunTime):
            minutes = end.offset_min + (late_s + self.least_on_s) // 60 + 1
            if not self._holds_offset(minutes):
                return
            later = SunTime(end.event, minutes)
        else:
            step = max(self.limits.clock_step_s or 1, 60)
            seconds = end.nominal_s % DAY_S + late_s + self.least_on_s
            later = ClockTime((seconds // step + 1) * step % DAY_S)
        yield from self._drafts((start,), (end, later), shift, reason)

    def _before_all(self, at: Ints, ahead: int) -> ClockTime:
        """The last clock time that the unit holds and that comes before all of the instants."""
        digits = self.trial.base.site_clock.digits(at) - (self.dates + ahead) * DAY_S
        step = max(self.limits.clock_step_s or 1, 60)
        return ClockTime(max((int(digits.min()) - 1) // step * step, 0))

    def empty_seasons(self) -> tuple[Days, ...]:
        """The seasons in which the window is empty in some year, as months and days."""
        site = self.trial.plan.site
        first = self.trial.first

        low = day_number(first)
        high = low + SEASON_YEARS * 366
        book = almanac(site, low, high + 2)
        rows = np.arange(book.rows(low, high).start, book.rows(low, high).stop)
        clock = zone_clock(site.timezone, first.year - 1, first.year + SEASON_YEARS + 1)
        start, end = window_spans(replace(self.window, days=DAILY), book, rows, clock)
        empty = np.unique(book.calendar.month_day[rows][end <= start])
        leap = [int(np.datetime64(f"{LEAP_YEAR}-{md // 100:02d}-{md % 100:02d}").astype(np.int64)) for md in empty]
        found = stretches(np.array(leap, dtype=np.int64), gap=1)
        return tuple(Narrowed(days=DAILY, between=(month_day_of(a), month_day_of(b))) for a, b in _joined(found))


def _joined(found: list[tuple[int, int]]) -> list[tuple[int, int]]:
    """Stretches of one leap year, with one that runs over the new year made whole."""
    if len(found) > 1 and month_day_of(found[0][0]) == 101 and month_day_of(found[-1][1]) == 1231:
        return [(found[-1][0], found[0][1]), *found[1:-1]]
    return found


def _describe(time: Time) -> str:
    return PLAIN.time(time)
