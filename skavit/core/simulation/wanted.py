"""What is wanted: windows of a channel turned into spans, by the site's true clock and sun."""

from typing import assert_never

import numpy as np

from skavit.core.ground.arrays import Ints
from skavit.core.ground.spans import EMPTY, Spans, union
from skavit.core.plan.document import Channel
from skavit.core.plan.times import ClockTime, LimitedTime, SunTime, Time
from skavit.core.plan.window import Window
from skavit.core.simulation.pulses import trains
from skavit.core.site.almanac import Almanac
from skavit.core.site.clock import WallClock


def instants(time: Time, book: Almanac, rows: Ints, clock: WallClock) -> Ints:
    """The instants of a time on the dates in ``rows`` of the almanac, by the site's clock; shape of ``rows``."""
    midnight = book.calendar.midnight[rows]
    match time:
        case SunTime():
            return book.sun.times[time.event, rows] + time.offset_min * 60
        case ClockTime():
            return clock.first(midnight + time.seconds)
        case LimitedTime():
            plain = instants(time.at, book, rows, clock)
            digits = clock.digits(plain)
            limited = within_limits(time, digits, midnight)
            return np.where(limited == digits, plain, clock.first(limited))
        case _:
            assert_never(time)


def within_limits(time: LimitedTime, digits: Ints, midnight: Ints) -> Ints:
    """Digits kept within the limits of a time on the dates that begin at ``midnight``."""
    if time.not_before:
        digits = np.maximum(digits, midnight + time.not_before.seconds)
    if time.not_after:
        digits = np.minimum(digits, midnight + time.not_after.seconds)
    return digits


def window_spans(window: Window, book: Almanac, rows: Ints, clock: WallClock) -> tuple[Ints, Ints]:
    """(start, end) of a window on each of the dates in ``rows`` on which it holds.

    An end at or before its start is an empty window. The almanac must reach a day beyond the rows.
    """
    rows = rows[window.days.matches(book.calendar)[rows]]
    start = instants(window.start, book, rows, clock)
    if window.to is None:
        return start, start + (window.for_min or 0) * 60
    return start, instants(window.to, book, rows + int(window.ends_next_day), clock)


def wanted(channel: Channel, book: Almanac, rows: Ints, clock: WallClock, whole_from: int) -> Spans:
    """When a channel is wanted on, by its windows of the dates in ``rows``.

    A window with `repeat` that ends before the instant ``whole_from`` is told as if wanted all through. Raises
    :class:`RangeError` for too many pulses.
    """
    pairs = [pulsed(window, *window_spans(window, book, rows, clock), whole_from) for window in channel.windows]
    if not pairs:
        return EMPTY
    return union(np.concatenate([on for on, _ in pairs]), np.concatenate([off for _, off in pairs]))


def pulsed(window: Window, start: Ints, end: Ints, whole_from: int) -> tuple[Ints, Ints]:
    """(on, off) of the pulses of a window in each of its stretches; the stretches themselves where it has none."""
    if window.repeat is None:
        return start, end
    whole = end >= whole_from
    _, on, off = trains(start[whole], end[whole], window.repeat.on_s, window.repeat.every_s, whole_from)
    return np.concatenate([start[~whole], on]), np.concatenate([end[~whole], off])


def look_back_days(channel: Channel) -> int:
    """How many days before a span a window may start and still reach into it."""
    return 2 + max((window.for_min or 0 for window in channel.windows), default=0) // 1440
