"""What the pictures of a year are drawn from: one channel's year, and the frame in which it lies."""

from dataclasses import dataclass, field
from functools import cached_property

import numpy as np

from skavit.charts.nights import Shape, bands, shapes
from skavit.charts.svg import num
from skavit.core.ground.arrays import Floats
from skavit.core.ground.spans import Spans, closed, difference, intersection, union
from skavit.core.plan.document import Site
from skavit.core.plan.sun_settings import NO_ADJUST, SunSettings
from skavit.core.site.almanac import unit_almanac
from skavit.core.site.clock import WallClock
from skavit.core.sun import SunEvent

HOURS = 24
# The pulses of a train are closer than a quarter of an hour.
TRAIN_GAP_S = 900
SLIVER_S = 300  # the ends of two trains of another cycle differ by less


@dataclass(frozen=True, kw_only=True)
class Year:
    """What one channel does in the nights of a calendar year."""

    site: Site
    clock: WallClock
    first: int  # 1 January as a day number
    count: int  # 365 or 366
    wanted: Spans
    actual: Spans
    sun: SunSettings = field(default_factory=SunSettings)  # whose sun shades the nights
    keyed_anew: tuple[int, ...] = ()  # the columns on whose dates another set of entries is keyed
    by_hand: tuple[int, ...] = ()  # the columns on whose dates something was done by hand
    pulsing: bool = False  # trains of pulses are drawn as one texture, not each pulse

    @cached_property
    def drawn(self) -> dict[object, str]:
        """The layers that were drawn of it, by frame and name: a year that is looked at again is not drawn again."""
        return {}

    @cached_property
    def _sides(self) -> tuple[Spans, Spans]:
        """What is wanted and what is done, trains of pulses each as one stretch."""
        if not self.pulsing:
            return self.wanted, self.actual
        return closed(self.wanted, TRAIN_GAP_S), closed(self.actual, TRAIN_GAP_S)

    def _from(self, evening: SunEvent, morning: SunEvent) -> Spans:
        """From each evening event to the next morning event of the year's nights."""
        book = unit_almanac(self.site, self.sun, self.first - 1, self.first + self.count + 1)
        adjust = self.sun.adjust or NO_ADJUST
        rows = book.rows(self.first - 1, self.first + self.count)
        falls, rises = book.sun.times[evening, rows][:-1], book.sun.times[morning, rows][1:]
        return union(falls + adjust.of(evening) * 60, rises + adjust.of(morning) * 60)

    def _shapes(self, spans: Spans) -> list[Shape]:
        return shapes(bands(spans, self.clock, self.first, self.count))

    @cached_property
    def twilight(self) -> list[Shape]:
        """From sunset to sunrise."""
        return self._shapes(self._from(SunEvent.SUNSET, SunEvent.SUNRISE))

    @cached_property
    def night(self) -> list[Shape]:
        """From dusk to dawn."""
        return self._shapes(self._from(SunEvent.DUSK, SunEvent.DAWN))

    @cached_property
    def lit(self) -> list[Shape]:
        """On as wanted."""
        return self._shapes(intersection(*self._sides))

    @cached_property
    def extra(self) -> list[Shape]:
        """On, not wanted."""
        wanted, actual = self._sides
        return self._shapes(difference(actual, wanted).longer_than(SLIVER_S if self.pulsing else 0))

    @cached_property
    def missing(self) -> list[Shape]:
        """Wanted, dark."""
        return self._shapes(difference(*self._sides).longer_than(SLIVER_S if self.pulsing else 0))


@dataclass(frozen=True, slots=True, kw_only=True)
class Frame:
    """Where the plot lies; ``turned`` lets the year run down and a night run across."""

    left: float
    top: float
    per_day: float
    per_hour: float
    turned: bool = False

    def place(self, column: float, hour: float) -> tuple[float, float]:
        """A point in pixels."""
        days, hours = column * self.per_day, hour * self.per_hour
        x, y = (hours, days) if self.turned else (days, hours)
        return self.left + x, self.top + y

    def placed(self, points: Floats) -> Floats:
        """Points (column, hour) in pixels; both of shape (n, 2)."""
        found = points * (self.per_day, self.per_hour)
        if self.turned:
            found = found[:, ::-1]
        return np.add(found, [self.left, self.top])

    def at(self, column: float, hour: float) -> str:
        """A point as SVG coordinates."""
        x, y = self.place(column, hour)
        return f"{num(x)} {num(y)}"
