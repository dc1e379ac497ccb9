"""Periods and gaps too short to be of use: a second between an ON and an OFF does a relay harm and nobody any good."""

import numpy as np

from skavit.core.ground.arrays import Bools, Ints
from skavit.core.ground.spans import Spans
from skavit.core.plan.document import Channel

# Sun times of other years lie up to this many seconds away from those of the years in which entries are tried.
OTHER_YEARS_S = 60
# What one weighs where ways to key are compared, in seconds wrong: half an hour.
BRIEF_S = 1800


def brief(channel: Channel, actual: Spans, wanted: Spans, start: int, end: int, margin_s: int = 0) -> Spans:
    """The periods and gaps of a channel that are shorter than it may have, and that no window asks for.

    A window asks for a short one where one as short is wanted there. What the range ``start`` to ``end`` cuts is left
    out. ``margin_s`` is added to what the channel names, in seconds.
    """
    periods = _unasked(actual, wanted, channel.least_on_min, start, end, margin_s)
    gaps = _unasked(_gaps(actual), _gaps(wanted), channel.least_off_min, start, end, margin_s)
    return Spans(np.concatenate([periods.on, gaps.on]), np.concatenate([periods.off, gaps.off]))


def _gaps(spans: Spans) -> Spans:
    return Spans(spans.off[:-1], spans.on[1:])


def _unasked(spans: Spans, asked: Spans, least_min: float, start: int, end: int, margin_s: int) -> Spans:
    least_s = least_min * 60
    if not least_s:
        return Spans(spans.on[:0], spans.off[:0])
    short = (spans.lengths < least_s + margin_s) & (spans.on > start) & (spans.off < end)
    places = np.flatnonzero(short)
    found = Spans(spans.on[places], spans.off[places])
    asked_for = _met_by_one_as_short(found, asked, np.maximum(found.lengths, least_s - 1))
    keep = np.flatnonzero(~asked_for)
    return Spans(found.on[keep], found.off[keep])


def _met_by_one_as_short(spans: Spans, asked: Spans, at_most_s: Ints) -> Bools:
    """Whether each span meets one of ``asked`` that lasts at most so many seconds."""
    if not len(asked):
        return np.zeros(len(spans), dtype=bool)
    found = np.zeros(len(spans), dtype=bool)
    first = np.searchsorted(asked.off, spans.on, side="right")
    for more in (0, 1):  # the first that it meets, and the one after it
        place = np.minimum(first + more, len(asked) - 1)
        meets = (asked.on[place] < spans.off) & (asked.off[place] > spans.on)
        found |= meets & (asked.lengths[place] <= at_most_s)
    return found
