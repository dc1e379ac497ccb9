"""Algebra on stretches of time: rising, disjoint, half-open spans [on, off) as two arrays of seconds."""

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from skavit.core.ground.arrays import Bools, Ints


@dataclass(frozen=True, slots=True)
class Spans:
    """``n`` spans; ``on`` and ``off`` of shape (n,), on < off and each off before the next on."""

    on: Ints
    off: Ints

    def __len__(self) -> int:
        return int(self.on.size)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Spans) and np.array_equal(self.on, other.on) and np.array_equal(self.off, other.off)

    __hash__ = None  # type: ignore[assignment]

    @property
    def lengths(self) -> Ints:
        """Seconds of each span."""
        return self.off - self.on

    @property
    def total_s(self) -> int:
        """Seconds of all spans."""
        return int(self.lengths.sum())

    def cut(self, low: int, high: int) -> "Spans":
        """What lies within [low, high)."""
        if low >= high:
            return EMPTY
        within = slice(int(self.off.searchsorted(low, side="right")), int(self.on.searchsorted(high)))
        return Spans(np.maximum(self.on[within], low), np.minimum(self.off[within], high))

    def longer_than(self, seconds: int) -> "Spans":
        """The spans that last longer than so many seconds."""
        keep = np.flatnonzero(self.lengths > seconds)
        return Spans(self.on[keep], self.off[keep])

    def at(self, instants: Ints) -> Bools:
        """Whether each instant lies within a span."""
        here = np.searchsorted(self.on, instants, side="right") - 1
        return (here >= 0) & (instants < self.off[np.maximum(here, 0)]) if len(self) else np.zeros(instants.shape, bool)


EMPTY = Spans(np.zeros(0, dtype=np.int64), np.zeros(0, dtype=np.int64))


def union(on: Ints, off: Ints) -> Spans:
    """The spans covered by any of the pairs, which may overlap, touch, be empty and stand in any order."""
    keep = np.flatnonzero(on < off)  # places, not a mask: of many a year of pulses is picked four times as fast
    on, off = on[keep], off[keep]
    if not on.size:
        return EMPTY
    order = on.argsort(kind="stable")
    on, reach = on[order], np.maximum.accumulate(off[order])
    first = np.ones(on.size + 1, dtype=bool)
    np.greater(on[1:], reach[:-1], out=first[1:-1])
    return Spans(on[np.flatnonzero(first[:-1])], reach[np.flatnonzero(first[1:])])


def unite(parts: Iterable[Spans]) -> Spans:
    """The spans covered by any of several."""
    parts = list(parts)
    if not parts:
        return EMPTY
    return union(np.concatenate([p.on for p in parts]), np.concatenate([p.off for p in parts]))


def closed(spans: Spans, gap_s: int) -> Spans:
    """The spans with gaps of up to so many seconds closed: a train of pulses as one stretch."""
    if not len(spans):
        return spans
    apart = spans.on[1:] - spans.off[:-1] > gap_s
    return Spans(spans.on[np.concatenate([[True], apart])], spans.off[np.concatenate([apart, [True]])])


def difference(a: Spans, b: Spans) -> Spans:
    """What is in ``a`` and not in ``b``."""
    if not len(a) or not len(b):
        return a
    low, high = min(int(a.on[0]), int(b.on[0])) - 1, max(int(a.off[-1]), int(b.off[-1])) + 1
    return intersection(a, Spans(np.concatenate([[low], b.off]), np.concatenate([b.on, [high]])))


def intersection(a: Spans, b: Spans) -> Spans:
    """What is in both: for each span of the fewer, those of the other that it meets are found by search."""
    if len(a) < len(b):
        a, b = b, a
    if not len(b):
        return EMPTY
    first, end = np.searchsorted(a.off, b.on, side="right"), np.searchsorted(a.on, b.off, side="left")
    times = np.maximum(end - first, 0)
    mine = np.repeat(np.arange(len(b)), times)
    other = np.arange(mine.size) - np.repeat(np.cumsum(times) - times, times) + first[mine]
    return Spans(np.maximum(a.on[other], b.on[mine]), np.minimum(a.off[other], b.off[mine]))


def from_switchings(instants: Ints, states: Bools, until: int) -> Spans:
    """The on-spans of an output that was off and takes ``states`` at the rising, distinct ``instants``."""
    before = np.concatenate([[False], states[:-1]])
    rising, falling = instants[np.flatnonzero(states & ~before)], instants[np.flatnonzero(~states & before)]
    if rising.size > falling.size:
        falling = np.concatenate([falling, [max(until, int(rising[-1]))]])
    keep = np.flatnonzero(rising < falling)
    return Spans(rising[keep], falling[keep])


def symmetric_difference_s(a: Spans, b: Spans) -> int:
    """Seconds that lie in just one of the two."""
    turns = np.concatenate([a.on, a.off, b.on, b.off])
    steps = np.concatenate([np.ones(len(a)), -np.ones(len(a)), -np.ones(len(b)), np.ones(len(b))])
    order = np.argsort(turns, kind="stable")
    turns, level = turns[order], np.cumsum(steps[order])
    return int(np.sum((turns[1:] - turns[:-1]) * (level[:-1] != 0)))


def seconds_before(spans: Spans, instants: Ints) -> Ints:
    """How many seconds of the spans lie before each instant."""
    if not len(spans):
        return np.zeros(instants.shape, dtype=np.int64)
    edges = np.stack([spans.on, spans.off], axis=1).ravel()
    total = np.cumsum(np.stack([np.zeros_like(spans.on), spans.lengths], axis=1).ravel())
    return np.asarray(np.interp(instants, edges, total), dtype=np.int64)
