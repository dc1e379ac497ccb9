"""The year of a zone: across the days, down the hours from midnight to midnight; set points as bands of warmth."""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, field
from itertools import groupby

import numpy as np

from skavit.charts.axes import axes, turned_axes
from skavit.charts.svg import element, num, text
from skavit.charts.year import HOURS, Frame
from skavit.charts.year_sheet import (
    Mark,
    cursor_on,
    frame_of,
    hatch,
    line_at,
    marks_on,
    sheet_element,
    small_frame,
    small_sign,
)
from skavit.core.ground.arrays import DAY_S, HOUR_S, Floats, Ints
from skavit.core.heat.targets import Targets
from skavit.core.site.clock import WallClock
from skavit.core.text.wording import Words

SHADES = 6  # of warmth, the coldest first
OFF = -1
MIDNIGHT = 12  # hours after noon

Scale = Callable[[float], float]
Piece = tuple[int, int, float, int]  # seconds of the day from and to, degrees, and -1 colder, 1 warmer than wanted or 0


@dataclass(frozen=True, kw_only=True)
class WarmthYear:
    """A zone's targets in a calendar year."""

    clock: WallClock
    first: int  # 1 January as a day number
    count: int
    wanted: Targets
    actual: Targets
    low_c: float  # the coldest shade, and the warmest
    high_c: float
    drawn: dict[object, str] = field(default_factory=dict, compare=False)

    def days(self) -> list[tuple[Piece, ...]]:
        """The pieces of each date."""
        midnights = self.clock.first((self.first + np.arange(self.count + 1)) * DAY_S)
        at = np.unique(np.concatenate([self.wanted.at, self.actual.at, midnights[:-1]]))
        at = at[(at >= midnights[0]) & (at < midnights[-1])]
        ends = np.append(at[1:], midnights[-1])
        actual, wanted = self.actual.value_at(at), self.wanted.value_at(at)
        digits = self.clock.digits(at)
        column = np.searchsorted(midnights, at, "right") - 1
        start, end = digits - (self.first + column) * DAY_S, self.clock.digits(ends - 1) + 1
        end = end - (self.first + column) * DAY_S
        off = np.where(np.isnan(actual), OFF, _side(actual, wanted))
        found: list[list[Piece]] = [[] for _ in range(self.count)]
        rows = zip(column.tolist(), start.tolist(), end.tolist(), actual.tolist(), off.tolist(), strict=True)
        for place, low, high, c, side in rows:
            own = found[place]
            # A change of the other side only leaves one band.
            begun = own.pop()[0] if own and own[-1][1:] == (low, c, side) else low
            own.append((begun, high, c, int(side)))
        return [tuple(day) for day in found]

    def shade(self, c: float) -> int:
        """Which of the shades a temperature has; :data:`OFF` where there is none."""
        if np.isnan(c):
            return OFF
        share = (c - self.low_c) / max(self.high_c - self.low_c, 0.1)
        return min(max(round(share * (SHADES - 1)), 0), SHADES - 1)


def _side(actual: Floats, wanted: Floats) -> Ints:
    return np.sign(np.nan_to_num(actual - wanted)).astype(np.int64)


def _box(frame: Frame, first: int, last: int, low: float, high: float) -> str:
    corners = ((first, low), (last, low), (last, high), (first, high))
    return "M" + "L".join(frame.at(column, hour) for column, hour in corners) + "Z"


def _layers(year: WarmthYear, frame: Frame, ident: str) -> str:
    """The bands of each shade as one path, and over them what is not as wanted."""
    key = (frame, ident)
    if key not in year.drawn:
        year.drawn[key] = _drawn(year, frame, ident)
    return year.drawn[key]


def _drawn(year: WarmthYear, frame: Frame, ident: str) -> str:
    bands: dict[int, list[str]] = {shade: [] for shade in range(OFF, SHADES)}
    warm: list[str] = []
    cold: list[str] = []
    column = 0
    for pieces, group in groupby(year.days()):
        last = column + len(list(group))
        for low, high, c, side in pieces:
            box = _box(frame, column, last, low / HOUR_S, high / HOUR_S)
            bands[year.shade(c)].append(box)
            if side > 0:
                warm.append(box)
            elif side < 0:
                cold.append(box)
        column = last
    found = [
        element("path", d="".join(boxes), class_=f"warmth warmth-{shade}") for shade, boxes in bands.items() if boxes
    ]
    if warm:
        found.append(element("path", d="".join(warm), class_="alarm-hatch", fill=f"url(#{ident}-hatch)"))
        found.append(element("path", d="".join(warm), class_="warm-edge"))
    if cold:
        found.append(element("path", d="".join(cold), class_="cold-edge"))
    return "".join(found)


def warmth_sheet(
    year: WarmthYear, *, marks: Sequence[Mark], cursor: int, today: int | None, words: Words, turned: bool = False
) -> str:
    """The whole sheet as an SVG element; ``cursor`` and ``today`` are columns."""
    ident = "year-turned" if turned else "year-upright"
    frame, size = frame_of(year.count, turned=turned)
    drawn = turned_axes(year, frame, words, begins=MIDNIGHT) if turned else axes(year, frame, words, begins=MIDNIGHT)
    inner = [hatch(ident), _layers(year, frame, ident), drawn]
    if today is not None:
        inner.append(line_at(frame, today, "today-line"))
    inner += [marks_on(year, frame, marks), cursor_on(frame, cursor)]
    return sheet_element(
        inner, frame, size, "The year sheet: the temperatures of each day from midnight to midnight", " warmth-sheet"
    )


def warmth_thumbnail(year: WarmthYear, ident: str) -> str:
    """The same picture as the small sign of a unit: 188 by 84, without words."""
    return small_sign(_layers(year, small_frame(year.count), ident), ident, " warmth-sheet")


@dataclass(frozen=True, slots=True, kw_only=True)
class DayCurves:
    """A day of a zone, in seconds after midnight and degrees."""

    wanted: Sequence[tuple[int, float]]  # from when on
    actual: Sequence[tuple[int, float | None]]
    rooms: Sequence[tuple[str, Sequence[tuple[float, float]]]]  # a name, and the room's temperature through the day


DAY_LEFT, DAY_WIDTH, DAY_TOP, DAY_HEIGHT, DAY_FOOT = 55.0, 912.0, 12.0, 150.0, 24.0
NARROW_LEFT, NARROW_WIDTH = 40.0, 312.0


def day_steps(day: DayCurves, words: Words, *, narrow: bool = False) -> str:
    """The day's steps as an SVG element: what is held as a solid line over what is wanted, and the room by its model."""
    left, width = (NARROW_LEFT, NARROW_WIDTH) if narrow else (DAY_LEFT, DAY_WIDTH)
    held = [c for _, c in (*day.wanted, *day.actual) if c is not None]
    held += [c for _, path in day.rooms for _, c in path]
    low, high = (min(held, default=5.0) - 1, max(held, default=20.0) + 1)
    bottom = DAY_TOP + DAY_HEIGHT

    def x(seconds: float) -> float:
        return left + seconds / DAY_S * width

    def y(c: float) -> float:
        return bottom - (c - low) / (high - low) * DAY_HEIGHT

    parts = [element("rect", x=left, y=DAY_TOP, width=width, height=DAY_HEIGHT, class_="water-ground")]
    for level in range(int(np.ceil(low / 5)) * 5, int(high) + 1, 5):
        parts.append(element("line", x1=left, x2=left + width, y1=y(level), y2=y(level), class_="curve-rule"))
        parts.append(text(words.warmth(level).split(" ", maxsplit=1)[0], left - 8, y(level) + 4.5, "axis", "end"))
    for hour in range(0, 25, 6 if narrow else 3):
        at = x(hour * HOUR_S)
        parts.append(element("line", x1=at, x2=at, y1=bottom, y2=bottom + 6, class_="tick"))
        anchor = "start" if not hour and narrow else "end" if hour == HOURS else "middle"
        parts.append(text(words.minute(hour % HOURS * HOUR_S), at, bottom + 20, "axis", anchor))
    parts.append(element("path", d=_steps(day.wanted, x, y), class_="wanted-steps"))
    parts += [
        element("path", d="M" + "L".join(f"{num(x(s))} {num(y(c))}" for s, c in path), class_=f"room-curve room-{n}")
        for n, (_, path) in enumerate(day.rooms)
    ]
    parts.append(element("path", d=_steps(day.actual, x, y), class_="heat-steps"))
    return element(
        "svg",
        "".join(parts),
        class_=f"day-steps {'stack-narrow' if narrow else 'stack-wide'}",
        viewBox=f"0 0 {num(left + width + 5)} {num(bottom + DAY_FOOT)}",
        role="img",
        aria_label="The day's temperatures from midnight to midnight: wanted, held, and the room by its model",
    )


def _steps(points: Iterable[tuple[int, float | None]], x: Scale, y: Scale) -> str:
    """A line of steps; broken where there is no target."""
    rows = list(points)
    data, drawing = [], False
    for (at, c), end in zip(rows, [*(at for at, _ in rows[1:]), DAY_S], strict=True):
        if c is None:
            drawing = False
            continue
        data.append(f"{'L' if drawing else 'M'}{num(x(at))} {num(y(c))}H{num(x(end))}")
        drawing = True
    return "".join(data)
