"""Spans of a year as bands of nights: columns from noon to noon, joined over neighbouring nights into shapes."""

from dataclasses import dataclass, field

import numpy as np

from skavit.core.ground.arrays import DAY_S, Floats, Ints
from skavit.core.ground.spans import Spans
from skavit.core.site.clock import WallClock

# Neighbouring nights whose edges differ by more are joined by a step, less by a sloping line.
SLOPE_H = 14 / 60

Band = tuple[float, float]  # hours after noon, 0 to 24


@dataclass(slots=True)
class Shape:
    """A band on consecutive nights from column ``first`` on."""

    first: int
    bands: list[Band] = field(default_factory=list)

    @property
    def last(self) -> int:
        """The last column."""
        return self.first + len(self.bands) - 1


def noons(clock: WallClock, first: int, count: int) -> Ints:
    """The instants of ``count`` + 1 local noons from the date ``first`` on."""
    return clock.first(np.arange(first, first + count + 1) * DAY_S + DAY_S // 2)


def bands(spans: Spans, clock: WallClock, first: int, count: int) -> list[list[Band]]:
    """The spans of each night, as hours after its noon on the local clock.

    The skipped hour of a clock change is bridged, since a band runs from digits to digits.
    """
    turns = noons(clock, first, count)
    low = np.searchsorted(spans.off, turns[:-1], side="right")
    high = np.searchsorted(spans.on, turns[1:], side="left")
    held = np.maximum(high - low, 0)
    column = np.repeat(np.arange(count), held)  # a span that runs on over noon counts in both nights
    index = np.arange(held.sum()) + np.repeat(low - np.cumsum(held) + held, held)
    on, off = spans.on[index], spans.off[index]
    noon = (first + column) * DAY_S + DAY_S // 2
    start = np.where(on <= turns[column], 0.0, (clock.digits(on) - noon) / 3600)
    end = np.where(off >= turns[column + 1], 24.0, (clock.digits(off) - noon) / 3600)
    found: list[list[Band]] = [[] for _ in range(count)]
    there = end > start
    shown = zip(
        column[there].tolist(),
        np.maximum(start[there], 0.0).tolist(),
        np.minimum(end[there], 24.0).tolist(),
        strict=True,
    )
    for night, low_h, high_h in shown:
        found[night].append((low_h, high_h))
    return found


def shapes(nights: list[list[Band]]) -> list[Shape]:
    """Bands that overlap from one night to the next, gathered into shapes."""
    done: list[Shape] = []
    running: list[Shape] = []
    for column, night in enumerate(nights):
        free = list(night)
        still: list[Shape] = []
        for shape in running:
            start, end = shape.bands[-1]
            best = free[0] if len(free) == 1 else _most_of(free, start, end)
            if best is not None and best[1] > start and best[0] < end:
                shape.bands.append(best)
                free.remove(best)
                still.append(shape)
            else:
                done.append(shape)
        running = still + [Shape(column, [band]) for band in free]
    return done + running


def _most_of(free: list[Band], start: float, end: float) -> Band | None:
    """The band that overlaps most with one of the night before."""
    return max(free, key=lambda band: min(band[1], end) - max(band[0], start), default=None)


def edge(shape: Shape, side: int) -> Floats:
    """Points (column, hour), of shape (n, 2), along the start (0) or end (1) of a shape, through the middle of each night."""
    if len(shape.bands) == 1:
        hour = shape.bands[0][side]
        return np.array([(shape.first, hour), (shape.first + 1, hour)])
    hours = np.array([band[side] for band in shape.bands])
    away = np.diff(hours)
    turns = np.nonzero(away)[0]
    # A sloping line from the middle of one night to that of the next; a step between the two where they differ by more.
    half = np.where(np.abs(away[turns]) > SLOPE_H, 0.0, 0.5)
    x = shape.first + turns + 1.0
    found = np.empty((2 * turns.size + 2, 2))
    found[0], found[-1] = (shape.first, hours[0]), (shape.last + 1, hours[-1])
    found[1:-1:2, 0], found[1:-1:2, 1] = x - half, hours[turns]
    found[2:-1:2, 0], found[2:-1:2, 1] = x + half, hours[turns + 1]
    return found
