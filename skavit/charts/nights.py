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
    on, off = clock.digits(spans.on), clock.digits(spans.off)
    found: list[list[Band]] = []
    for column in range(count):
        noon = (first + column) * DAY_S + DAY_S // 2
        night = []
        for index in range(int(low[column]), int(high[column])):
            start = 0.0 if spans.on[index] <= turns[column] else (int(on[index]) - noon) / 3600
            end = 24.0 if spans.off[index] >= turns[column + 1] else (int(off[index]) - noon) / 3600
            if end > start:
                night.append((max(start, 0.0), min(end, 24.0)))
        found.append(night)
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
            best = max(free, key=lambda band: min(band[1], end) - max(band[0], start), default=None)
            if best is not None and min(best[1], end) > max(best[0], start):
                shape.bands.append(best)
                free.remove(best)
                still.append(shape)
            else:
                done.append(shape)
        running = still + [Shape(column, [band]) for band in free]
    return done + running


def edge(shape: Shape, side: int) -> Floats:
    """Points (column, hour), of shape (n, 2), along the start (0) or end (1) of a shape, through the middle of each night."""
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
