"""The simulated unit: entries, clock and sun turned into a table of events, and events into what an output does."""

from dataclasses import dataclass
from enum import IntEnum

import numpy as np

from skavit.core.almanac import Almanac, almanac
from skavit.core.clock import UnitClock
from skavit.core.plan import Entry, Holiday, Plan
from skavit.core.spans import Spans, from_switchings
from skavit.core.sun import DAY_S, Bools, Ints
from skavit.core.values import ClockTime, LimitedTime, day_number, day_of, sun_time_of
from skavit.core.wanted import within_limits


class Cause(IntEnum):
    """What set the moment of an event."""

    CLOCK = 0
    SUN = 1
    LIMIT = 2  # a sun time held by its not_before or not_after
    NO_SUN = 3  # a sun time on a date that has none


@dataclass(frozen=True, slots=True, kw_only=True)
class Events:
    """What the unit does, in the order in which it does it; all of shape (n,)."""

    instant: Ints
    slot: Ints  # index in the unit's entries
    day: Ints  # the unit's own date on which the entry's days were tested
    cause: Ints  # a Cause
    turns_on: Bools
    on_channel: Bools  # (channels, entries): which entries act on which channel

    def of_channel(self, channel: int) -> "Events":
        """The events that act on a channel (from 0)."""
        return self.where(self.on_channel[channel, self.slot])

    def where(self, keep: Bools) -> "Events":
        """Some of the events, in the same order."""
        return Events(
            instant=self.instant[keep],
            slot=self.slot[keep],
            day=self.day[keep],
            cause=self.cause[keep],
            turns_on=self.turns_on[keep],
            on_channel=self.on_channel,
        )

    def __len__(self) -> int:
        return int(self.instant.size)


def holiday_mask(holidays: tuple[Holiday, ...], days: Ints) -> Bools:
    """Which of the consecutive dates are holidays."""
    found = np.zeros(days.shape, dtype=bool)
    if not days.size:
        return found
    years = range(day_of(int(days[0])).year - 1, day_of(int(days[-1])).year + 1)
    for holiday in holidays:
        for start in _holiday_starts(holiday, years):
            found |= (days >= start) & (days < start + holiday.days)
    return found


def _holiday_starts(holiday: Holiday, years: range) -> list[int]:
    if holiday.once is not None:
        return [holiday.once]
    month, day = divmod(holiday.yearly or 0, 100)
    leap = [y for y in years if y % 4 == 0 and (y % 100 != 0 or y % 400 == 0)]
    # 29 February starts on 1 March in common years (docs/plan-file.md, "Other unit keys").
    return [
        day_number(day_of(0).replace(y, 3, 1) if (month, day) == (2, 29) and y not in leap
                   else day_of(0).replace(y, month, day))
        for y in years
    ]  # fmt: skip


def acting_digits(entry: Entry, book: Almanac, rows: Ints, clock: UnitClock) -> tuple[Ints, Ints]:
    """The digits at which an entry acts on its dates, and the cause of each."""
    time = entry.at
    midnight = book.calendar.days[rows] * DAY_S
    inner = time.at if isinstance(time, LimitedTime) else time
    cause = np.zeros(rows.shape, dtype=np.int64)
    if isinstance(inner, ClockTime):
        digits = midnight + inner.seconds
    else:
        digits = clock.sun.digits(book.sun.times[inner.event, rows] + inner.offset_min * 60)
        cause = np.where(book.sun.crosses[inner.event, rows], Cause.SUN, Cause.NO_SUN).astype(np.int64)
    if isinstance(time, LimitedTime):
        limited = within_limits(time, digits, midnight)
        if sun_time_of(time):
            cause = np.where(limited == digits, cause, Cause.LIMIT)
        digits = limited
    return digits, cause


def make_events(plan: Plan, clock: UnitClock, start: int, end: int) -> Events:
    """All that the entries of a plan do from the instant ``start`` up to ``end``."""
    first, last = (int(d) // DAY_S for d in clock.shows(np.array([start, end], dtype=np.int64)))
    book = almanac(plan.site, first - 2, last + 2)
    span = book.rows(first - 2, last + 2)
    rows = np.arange(span.start, span.stop)
    rows = rows[~holiday_mask(plan.unit.holidays, book.calendar.days[rows])]
    entries = plan.unit.entries
    parts = []
    for entry in entries:
        here = rows[entry.days.matches(book.calendar)[rows]]
        digits, cause = acting_digits(entry, book, here, clock)
        parts.append((digits, book.calendar.days[here], cause))
    on_channel = np.array([[c in e.channels for e in entries] for c in range(1, len(plan.channels) + 1)], dtype=bool)
    on_channel = on_channel.reshape(len(plan.channels), len(entries))
    if not parts:
        parts = [(np.zeros(0, dtype=np.int64),) * 3]
    digits, day, cause = (np.concatenate([part[i] for part in parts]) for i in range(3))
    slot = np.repeat(np.arange(len(entries)), [part[0].size for part in parts[: len(entries)]])
    instant = clock.acts(digits)
    keep = np.nonzero((instant >= start) & (instant < end))[0]
    order = keep[np.argsort(instant[keep], kind="stable")]  # slots stand in rising order already
    turns_on = np.array([entry.on for entry in entries], dtype=bool)
    slot = slot[order].astype(np.int64)
    return Events(
        instant=instant[order],
        slot=slot,
        day=day[order],
        cause=cause[order],
        turns_on=turns_on[slot] if entries else np.zeros(0, dtype=bool),
        on_channel=on_channel,
    )


def output_spans(events: Events, until: int) -> Spans:
    """What an output does under the events that act on it: the last at an instant counts, in slot order."""
    if not len(events):
        return from_switchings(events.instant, events.turns_on, until)
    last = np.concatenate([events.instant[1:] != events.instant[:-1], [True]])
    return from_switchings(events.instant[last], events.turns_on[last], until)
