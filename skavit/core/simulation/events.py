"""The simulated unit: entries, clock and sun turned into a table of events, and events into what an output does."""

from dataclasses import dataclass, replace
from enum import IntEnum
from functools import cached_property
from typing import assert_never

import numpy as np

from skavit.core.ground.arrays import DAY_S, Bools, Ints
from skavit.core.ground.spans import Spans, from_switchings
from skavit.core.plan.days import Days, holiday_mask
from skavit.core.plan.document import Plan, Unit
from skavit.core.plan.entry import Entry
from skavit.core.plan.sun_settings import NO_ADJUST, Adjust
from skavit.core.plan.times import ClockTime, LimitedTime, SunTime, Time, sun_time_of
from skavit.core.simulation.pulses import trains, woven
from skavit.core.simulation.wanted import within_limits
from skavit.core.site.almanac import Almanac, unit_almanac
from skavit.core.site.clock import UnitClock, standard_offsets_s
from skavit.core.sun import SunEvent


class Cause(IntEnum):
    """What set the moment of an event."""

    CLOCK = 0
    SUN = 1
    LIMIT = 2  # a sun time held by its not_before or not_after
    NO_SUN = 3  # a sun time on a date that has none
    PULSE_END = 4  # a pulse that ends itself


@dataclass(frozen=True, kw_only=True)
class Events:
    """What the unit does, in the order in which it does it; all of shape (n,)."""

    instant: Ints
    slot: Ints  # index among all entries of the unit's keyings
    share: Ints  # an entry whose channels have corrections of their own is several shares, one for each correction
    day: Ints  # the unit's own date on which the entry's days were tested
    cause: Ints  # a Cause
    turns_on: Bools
    on_channel: Bools  # (channels, shares): which shares act on which channel

    def of_channel(self, channel: int) -> "Events":
        """The events that act on a channel (from 0)."""
        shares = np.nonzero(self.on_channel[channel])[0]
        if shares.size * 8 > self.on_channel.shape[1]:
            return self.where(np.nonzero(self.on_channel[channel, self.share])[0])
        rows, ends = self._by_share
        parts = [rows[ends[share] : ends[share + 1]] for share in shares]
        return self.where(np.sort(np.concatenate(parts)) if parts else np.zeros(0, dtype=np.int64))

    @cached_property
    def _by_share(self) -> tuple[Ints, Ints]:
        """(the rows of all events, share by share; where each share's begin): many channels are told apart by it."""
        rows: Ints = np.argsort(self.share, kind="stable")
        return rows, np.searchsorted(self.share[rows], np.arange(self.on_channel.shape[1] + 1))

    def between(self, low: int, high: int) -> "Events":
        """Those from one instant up to another."""
        first, last = np.searchsorted(self.instant, [low, high])
        return self.where(slice(first, last))

    def where(self, keep: Bools | Ints | slice) -> "Events":
        """Some of the events, in the same order."""
        rows = np.flatnonzero(keep) if isinstance(keep, np.ndarray) and keep.dtype == np.bool_ else keep
        return Events(
            instant=self.instant[rows],
            slot=self.slot[rows],
            share=self.share[rows],
            day=self.day[rows],
            cause=self.cause[rows],
            turns_on=self.turns_on[rows],
            on_channel=self.on_channel,
        )

    def __len__(self) -> int:
        return int(self.instant.size)


def own_sun(plan: Plan, book: Almanac, event: SunEvent, rows: Ints, adjust: Adjust) -> Ints:
    """The instants at which a unit has a sun event on the dates in ``rows`` of its almanac, under a correction."""
    sun = plan.unit.sun
    found: Ints = book.sun.times[event, rows] + ((sun.delay_min or 0) + adjust.of(event)) * 60
    if sun.utc_offset_min is not None:  # late by the zone it was told less the local standard time
        days = book.calendar.days[rows]
        found = found + sun.utc_offset_min * 60 - standard_offsets_s(plan.site.timezone, days)
    return found


def acting_digits(time: Time, plan: Plan, adjust: Adjust, book: Almanac, rows: Ints, clock: UnitClock) -> Ints:
    """The digits at which an entry of this time acts on the dates in ``rows`` of the unit's almanac, under a correction."""
    match time:
        case ClockTime():
            return book.calendar.midnight[rows] + time.seconds
        case SunTime():
            return clock.sun.digits(own_sun(plan, book, time.event, rows, adjust) + time.offset_min * 60)
        case LimitedTime():
            digits = acting_digits(time.at, plan, adjust, book, rows, clock)
            return within_limits(time, digits, book.calendar.midnight[rows])
        case _:
            assert_never(time)


@dataclass(slots=True, kw_only=True)
class _Acts:
    """What one entry does on some of its channels, in order of time; at first by digits, then by instants."""

    slot: int
    channels: tuple[int, ...]
    instant: Ints
    day: Ints
    cause: Ints
    turns_on: Bools

    def each(self, times: Ints | int, instant: Ints, turns_on: Bools, cause: Ints) -> "_Acts":
        """The same entry with each of its acts several times, at other instants."""
        return replace(self, instant=instant, turns_on=turns_on, cause=cause, day=np.repeat(self.day, times))


class _Dates:
    """The dates of an almanac less the holidays, and what entries that share a day rule or a time have in common."""

    def __init__(self, plan: Plan, first: int, last: int) -> None:
        self.plan = plan
        self.book = unit_almanac(plan.site, plan.unit.sun, first, last)
        span = self.book.rows(first, last)
        rows = np.arange(span.start, span.stop)
        self.rows = rows[~holiday_mask(plan.unit.holidays, self.book.calendar.days[rows])]
        self._held: dict[Days, Ints] = {}
        self._timed: dict[tuple[Time, Days, Adjust], tuple[Ints, Ints, Ints]] = {}
        self._by_sun: dict[SunEvent, Ints] = {}
        self._by_clock = np.full(self.rows.shape, int(Cause.CLOCK))
        self._turned = {on: np.full(self.rows.shape, on) for on in (True, False)}

    def held(self, days: Days) -> Ints:
        """The rows of the dates on which a rule holds."""
        if days not in self._held:
            self._held[days] = self.rows[days.matches(self.book.calendar)[self.rows]]
        return self._held[days]

    def timed(self, time: Time, days: Days, adjust: Adjust, clock: UnitClock) -> tuple[Ints, Ints, Ints]:
        """When an entry of this time and these days acts under a correction: digits, date and cause of each act."""
        key = time, days, adjust
        if key not in self._timed:
            rows, sun = self.held(days), sun_time_of(time)
            if sun is not None and self.plan.unit.sun.skips_without_sun:
                rows = rows[self.book.sun.crosses[sun.event, rows]]
            digits = acting_digits(time, self.plan, adjust, self.book, rows, clock)
            cause = self.cause_of_sun(sun.event)[rows] if sun is not None else self._by_clock[: rows.size]
            if sun is not None and isinstance(time, LimitedTime):
                unlimited = acting_digits(sun, self.plan, adjust, self.book, rows, clock)
                cause = np.where(digits == unlimited, cause, int(Cause.LIMIT))
            self._timed[key] = digits, self.book.calendar.days[rows], cause
        return self._timed[key]

    def cause_of_sun(self, event: SunEvent) -> Ints:
        """The cause of an act by a sun event, on each date of the almanac."""
        if event not in self._by_sun:
            self._by_sun[event] = np.where(self.book.sun.crosses[event], int(Cause.SUN), int(Cause.NO_SUN))
        return self._by_sun[event]

    def turned(self, acts: Ints, *, on: bool) -> Bools:
        """As many acts that all turn on, or off."""
        return self._turned[on][: acts.size]


def channels_of(plan: Plan, entry: Entry) -> tuple[int, ...]:
    """The channels (from 1) on which an entry acts: with the channels together, all."""
    return tuple(range(1, len(plan.channels) + 1)) if plan.unit.channel_mode == "together" else entry.channels


def acts_at_all(unit: Unit, entry: Entry) -> bool:
    """Whether an entry does anything in the unit's operating mode and channel mode."""
    if entry.disabled or (unit.channel_mode == "pulse" and not entry.on):
        return False
    by_light = sun_time_of(entry.at) is not None
    match unit.operating:
        case "manual":
            return False
        case "light":
            return by_light
        case "timed":
            return not by_light
        case "light-on-timed-off":
            return by_light == entry.on
    return True


def _by_clock(plan: Plan, slot: int, entry: Entry, clock: UnitClock, dates: _Dates) -> list[_Acts]:
    """An entry that acts when the unit's clock shows its digits; once for each correction among its channels.

    Its acts still have those digits in place of their instants: :func:`_find_instants` finds them for all entries at once.
    """
    by_sun = sun_time_of(entry.at) is not None
    shares: dict[Adjust, list[int]] = {}
    for channel in channels_of(plan, entry):
        shares.setdefault(plan.adjust_of(channel) if by_sun else NO_ADJUST, []).append(channel)
    found = []
    for adjust, channels in shares.items():
        digits, day, cause = dates.timed(entry.at, entry.days, adjust, clock)
        turns_on = dates.turned(digits, on=entry.on)
        found.append(
            _Acts(slot=slot, channels=tuple(channels), instant=digits, day=day, cause=cause, turns_on=turns_on)
        )
    return found


def _find_instants(parts: list[_Acts], clock: UnitClock) -> None:
    """Let acts given by digits have the instants at which the unit's clock first shows these."""
    if not parts:
        return
    instants = clock.acts(np.concatenate([part.instant for part in parts]))
    low = 0
    for part in parts:
        high = low + part.instant.size
        part.instant, low = instants[low:high], high


def _by_light(plan: Plan, slot: int, entry: Entry, event: SunEvent, dates: _Dates) -> _Acts:
    """An entry of a photocell: whatever the clock shows, on the dates of the true noons."""
    book = dates.book
    rows = dates.held(entry.days)
    if plan.unit.sun.skips_without_sun:
        rows = rows[book.sun.crosses[event, rows]]
    return _Acts(
        slot=slot,
        channels=channels_of(plan, entry),
        instant=own_sun(plan, book, event, rows, NO_ADJUST),
        day=book.calendar.days[rows],
        cause=dates.cause_of_sun(event)[rows],
        turns_on=np.full(rows.shape, entry.on),
    )


def _pulsed(unit: Unit, entry: Entry, acts: _Acts, clock: UnitClock, whole_from: int) -> _Acts:
    """An entry's acts with the OFFs of its pulses; as they are where it makes none.

    Of a train of pulses that ends before ``whole_from`` only the first ON and the last OFF are made: what follows
    hangs on its end alone.
    """
    seconds = entry.pulse_s or (unit.pulse_s if unit.channel_mode == "pulse" else None)
    if seconds is not None:
        ends = np.full(acts.instant.shape, Cause.PULSE_END)
        return acts.each(
            2, woven(acts.instant, acts.instant + seconds), _alternating(acts.instant), woven(acts.cause, ends)
        )
    if entry.repeat is None:
        return acts
    pulses = entry.repeat
    until = clock.acts(acts.day * DAY_S + pulses.until.seconds)
    number, on, off = trains(acts.instant, until, pulses.on_s, pulses.cycle_s, whole_from)
    cause = woven(acts.cause[number], np.full(number.shape, Cause.PULSE_END))
    times = np.bincount(number, minlength=acts.instant.size) * 2
    return acts.each(times, woven(on, off), _alternating(on), cause)


def _alternating(on: Ints) -> Bools:
    return np.tile(np.array([True, False]), on.size)


def make_events(plan: Plan, clock: UnitClock, start: int, end: int, whole_from: int | None = None) -> Events:
    """All that the entries of a plan's keyings do from the instant ``start`` up to ``end``.

    Trains of pulses are made whole from ``whole_from`` on. Raises :class:`RangeError` for too many pulses.
    """
    first, last = (int(d) // DAY_S for d in clock.shows(np.array([start, end], dtype=np.int64)))
    by_clock = _Dates(plan, first - 2, last + 2)
    by_light = _Dates(plan, start // DAY_S - 2, end // DAY_S + 2) if plan.unit.sun.is_photocell else None
    entries = plan.unit.all_entries
    lit: list[_Acts] = []
    timed: list[_Acts] = []
    for slot, entry in enumerate(entries):
        if not acts_at_all(plan.unit, entry):
            continue
        if by_light and (sun := sun_time_of(entry.at)):
            lit.append(_by_light(plan, slot, entry, sun.event, by_light))
        else:
            timed += _by_clock(plan, slot, entry, clock, by_clock)
    _find_instants(timed, clock)
    acting = sorted([*lit, *timed], key=lambda acts: acts.slot)
    whole = start if whole_from is None else whole_from
    return _in_order(plan, [_pulsed(plan.unit, entries[acts.slot], acts, clock, whole) for acts in acting], start, end)


def _in_order(plan: Plan, parts: list[_Acts], start: int, end: int) -> Events:
    """The acts of all entries, those of one instant in the order of their slots."""
    on_channel = np.zeros((len(plan.channels), len(parts)), dtype=bool)
    for number, part in enumerate(parts):
        for channel in part.channels:
            on_channel[channel - 1, number] = True
    empty = [np.zeros(0, dtype=np.int64)]
    instant = np.concatenate(empty + [part.instant for part in parts])
    order = instant.argsort(kind="stable")  # parts stand in rising order of slots already
    instant = instant.take(order)
    within = slice(*instant.searchsorted([start, end]).tolist())
    order = order[within]
    share = np.arange(len(parts)).repeat([part.instant.size for part in parts]).take(order)
    slots = np.array([part.slot for part in parts], dtype=np.int64)
    return Events(
        instant=instant[within],
        slot=slots.take(share),
        share=share,
        day=np.concatenate(empty + [part.day for part in parts]).take(order),
        cause=np.concatenate(empty + [part.cause for part in parts]).take(order),
        turns_on=np.concatenate([np.zeros(0, dtype=bool)] + [part.turns_on for part in parts]).take(order),
        on_channel=on_channel,
    )


def output_spans(events: Events, until: int) -> Spans:
    """What an output does under the events that act on it: the last at an instant counts, in slot order."""
    if not len(events):
        return from_switchings(events.instant, events.turns_on, until)
    last = np.flatnonzero(np.concatenate([events.instant[1:] != events.instant[:-1], [True]]))
    return from_switchings(events.instant[last], events.turns_on[last], until)
