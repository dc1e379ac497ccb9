"""The year sheet: across the days of a year, down the hours from noon to noon; one path a layer."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np

from skavit.charts.nights import Shape, bands, edge, shapes
from skavit.charts.svg import element, num, text
from skavit.core.almanac import unit_almanac
from skavit.core.clock import WallClock
from skavit.core.clock_check import clock_changes as changes_of
from skavit.core.plan import Site
from skavit.core.spans import Spans, closed, difference, intersection, union
from skavit.core.sun import DAY_S, SunEvent
from skavit.core.sun_settings import NO_ADJUST, SunSettings
from skavit.core.values import day_number, day_of
from skavit.core.wording import MONTHS, Words, date_text, stretches

HOURS = 24
HOUR_MARKS = (0, 3, 6, 9, 12, 15, 18, 21, 24)
# A lone night is drawn at least so wide, in pixels: narrower it would vanish. Only a lone one, else combs turn solid.
LONE_PX = 3.0
SLIT_NIGHTS = 3
MOST_MARKS = 4
# The pulses of a train are closer than a quarter of an hour.
TRAIN_GAP_S = 900
SLIVER_S = 300  # the ends of two trains of another cycle differ by less
# Points that stand this near to a straight line are left out.
STRAIGHT_PX = 0.25


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
    pulsing: bool = False  # trains of pulses are drawn as one texture, not each pulse

    @cached_property
    def _sides(self) -> tuple[Spans, Spans]:
        """What is wanted and what is done, trains of pulses each as one stretch."""
        if not self.pulsing:
            return self.wanted, self.actual
        return closed(self.wanted, TRAIN_GAP_S), closed(self.actual, TRAIN_GAP_S)

    def _shapes(self, spans: Spans) -> list[Shape]:
        return shapes(bands(spans, self.clock, self.first, self.count))

    @cached_property
    def twilight(self) -> list[Shape]:
        """From sunset to sunrise."""
        return self._shapes(_night_spans(self, SunEvent.SUNSET, SunEvent.SUNRISE))

    @cached_property
    def night(self) -> list[Shape]:
        """From dusk to dawn."""
        return self._shapes(_night_spans(self, SunEvent.DUSK, SunEvent.DAWN))

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
class Mark:
    """A finding on the day axis."""

    number: int
    severity: str
    dates: np.ndarray


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

    def at(self, column: float, hour: float) -> str:
        """A point as SVG coordinates."""
        x, y = self.place(column, hour)
        return f"{num(x)} {num(y)}"


def _outline(shape: Shape, frame: Frame, widen: float = 0.0) -> str:
    points = edge(shape, 0) + edge(shape, 1)[::-1]
    if widen and len(shape.bands) == 1:
        grow = widen / frame.per_day / 2
        middle = shape.first + 0.5
        points = [(x - grow if x < middle else x + grow, hour) for x, hour in points]
    placed = straightened([frame.place(x, hour) for x, hour in points])
    return "M" + "L".join(f"{num(x)} {num(y)}" for x, y in placed) + "Z"


def straightened(points: list[tuple[float, float]]) -> list[tuple[float, float]]:
    """The fewest of the points whose line stays within a quarter of a pixel of all (Douglas and Peucker 1973)."""
    if len(points) < 3:
        return points
    keep = {0, len(points) - 1}
    open_ends = [(0, len(points) - 1)]
    place = np.array(points)
    while open_ends:
        first, last = open_ends.pop()
        if last - first < 2:
            continue
        ax, ay = place[first]
        bx, by = place[last] - place[first]
        inner = place[first + 1 : last] - (ax, ay)
        length = float(np.hypot(bx, by))
        off = np.abs(bx * inner[:, 1] - by * inner[:, 0]) / length if length else np.hypot(inner[:, 0], inner[:, 1])
        worst = int(np.argmax(off))
        if off[worst] > STRAIGHT_PX:
            middle = first + 1 + worst
            keep.add(middle)
            open_ends += [(first, middle), (middle, last)]
    return [points[index] for index in sorted(keep)]


def _path(found: Iterable[Shape], frame: Frame, class_: str, widen: float = 0.0, fill: str | None = None) -> str:
    data = "".join(_outline(shape, frame, widen) for shape in found)
    return element("path", d=data, class_=class_, fill=fill) if data else ""


def _night_spans(year: Year, evening: SunEvent, morning: SunEvent) -> Spans:
    """From each evening event to the next morning event of the year's nights."""
    book = unit_almanac(year.site, year.sun, year.first - 1, year.first + year.count + 1)
    adjust = year.sun.adjust or NO_ADJUST
    rows = book.rows(year.first - 1, year.first + year.count)
    falls, rises = book.sun.times[evening, rows][:-1], book.sun.times[morning, rows][1:]
    return union(falls + adjust.of(evening) * 60, rises + adjust.of(morning) * 60)


def _lone(found: Sequence[Shape]) -> list[bool]:
    """Whether each shape is one night with none on the nights beside it."""
    taken: dict[int, int] = {}
    for shape in found:
        for column in range(shape.first, shape.last + 1):
            taken[column] = taken.get(column, 0) + 1
    return [
        len(shape.bands) == 1 and not taken.get(shape.first - 1) and not taken.get(shape.first + 1) for shape in found
    ]


def layers(year: Year, frame: Frame, ident: str) -> str:
    """The sun and the three states of the channel, as a few paths."""
    width, height = year.count * frame.per_day, HOURS * frame.per_hour
    if frame.turned:
        width, height = height, width
    extra, missing = year.extra, year.missing
    wide = (LONE_PX - frame.per_day) if frame.per_day < LONE_PX else 0.0
    lone = _lone(extra)
    narrow = [shape for shape in missing if len(shape.bands) < SLIT_NIGHTS]
    broad = [shape for shape in missing if len(shape.bands) >= SLIT_NIGHTS]
    slits = "".join(
        f"M{frame.at((s.first + s.last + 1) / 2, s.bands[0][0])}L{frame.at((s.first + s.last + 1) / 2, s.bands[0][1])}"
        for s in narrow
    )
    return "".join(
        [
            element("rect", x=frame.left, y=frame.top, width=width, height=height, class_="sky-day"),
            _path(year.twilight, frame, "sky-twilight"),
            _path(year.night, frame, "sky-night"),
            _path(year.lit, frame, "lamp"),
            _path(year.lit, frame, "lamp-pulses", 0.0, f"url(#{ident}-pulses)") if year.pulsing else "",
            _path(missing, frame, "gap-hole"),
            _path(broad, frame, "gap-edge"),
            element("path", d=slits, class_="gap-edge") if slits else "",
            _path([s for s, alone in zip(extra, lone, strict=True) if not alone], frame, "alarm"),
            _path([s for s, alone in zip(extra, lone, strict=True) if alone], frame, "alarm", wide),
            _path(extra, frame, "alarm-hatch", 0.0, f"url(#{ident}-hatch)"),
        ]
    )


def hatch(ident: str, spacing: float = 8.0) -> str:
    """The diagonal hatch that says "on, not wanted" without colour, and the lines that say "in pulses"."""
    line = element("line", x1=0, y1=0, x2=0, y2=spacing, class_="hatch")
    pattern = element(
        "pattern",
        line,
        id=f"{ident}-hatch",
        width=spacing,
        height=spacing,
        patternUnits="userSpaceOnUse",
        patternTransform="rotate(45)",
    )
    dot = element("line", x1=0, y1=2, x2=spacing, y2=2, class_="pulses")
    dots = element("pattern", dot, id=f"{ident}-pulses", width=spacing, height=5, patternUnits="userSpaceOnUse")
    return element("defs", pattern + dots)


def thumbnail(year: Year, ident: str) -> str:
    """The same picture as the small sign of a unit: 188 by 84, without words."""
    frame = Frame(left=0.0, top=0.0, per_day=188 / year.count, per_hour=84 / HOURS)
    return element(
        "svg",
        hatch(ident, 4.0) + layers(year, frame, ident),
        class_="year-thumb",
        viewBox="0 0 188 84",
        preserveAspectRatio="none",
        aria_hidden="true",
    )


def hour_text(hour: int, words: Words) -> str:
    """A mark of the hour axis, hours after noon."""
    if hour % 24 == 0:
        return "noon"
    clock = (12 + hour) % 24
    if words.twelve_hour:
        return f"{(clock - 1) % 12 + 1} {'am' if clock < 12 else 'pm'}"
    return f"{clock:02d}:00"


def _month_starts(first: int) -> list[int]:
    start = day_of(first)
    return [day_number(start.replace(month=month)) - first for month in range(1, 13)]


def month_ticks(first: int, left: float, per_day: float, top: float, every: int = 1) -> str:
    """The months of the year that begins on the day number ``first``, below a plot that ends at ``top``."""
    parts = []
    for month, column in list(enumerate(_month_starts(first)))[::every]:
        x = left + column * per_day
        parts.append(element("line", x1=x, x2=x, y1=top + 22, y2=top + 34, class_="tick"))
        parts.append(text(MONTHS[month], x + 6, top + 33, "axis"))
    return "".join(parts)


def clock_changes(year: Year) -> list[tuple[int, str]]:
    """(column, words) of the legal clock changes of the year."""
    found = []
    for change in changes_of(year.clock, int(year.clock.starts[0]), int(year.clock.starts[-1])):
        day = (change.digits + change.by_s) // DAY_S
        if year.first <= day < year.first + year.count:
            found.append((day - year.first, f"clocks {'on' if change.by_s > 0 else 'back'} {date_text(day)}"))
    return found


def mark(number: int, severity: str, x: float, y: float) -> str:
    """A finding's sign: a filled lozenge, an open square, an open circle, with its number."""
    if severity == "danger":
        sign = element("path", d=f"M{num(x)} {num(y - 8)}l8 8l-8 8l-8 -8Z", class_="mark-danger")
    elif severity == "warning":
        sign = element("rect", x=x - 6.5, y=y - 6.5, width=13, height=13, class_="mark-warning")
    else:
        sign = element("circle", cx=x, cy=y, r=7, class_="mark-note")
    return sign + text(str(number), x, y + 4, f"mark-number mark-number-{severity}", "middle")


def _marks(year: Year, frame: Frame, found: Iterable[Mark]) -> str:
    """Each finding's mark at the start of its stretches, and its dates as a bar that its choosing lights."""
    parts = []
    taken: list[float] = []
    told: list[bytes] = []
    edge_at = HOURS * frame.per_hour
    for item in found:
        columns = item.dates - year.first
        columns = columns[(columns >= 0) & (columns < year.count)]
        if not columns.size:
            continue
        runs = stretches(columns)
        same_dates = columns.tobytes() in told
        told.append(columns.tobytes())
        bar = "".join(f"M{frame.at(a, HOURS)}L{frame.at(b + 1, HOURS)}" for a, b in runs)
        parts.append(element("path", d=bar, class_=f"mark-bar mark-bar-{item.severity}", data_finding=item.number))
        # Findings of the same dates share the first one's mark: two signs in one place tell no more than one.
        shown = [] if same_dates else runs if len(runs) <= MOST_MARKS else runs[:1]
        for start, _ in shown:
            along = start * frame.per_day
            while any(abs(along - other) < 17 for other in taken):
                along += 17
            taken.append(along)
            x = frame.left + (edge_at + 12 if frame.turned else along + 8)
            y = frame.top + (along + 8 if frame.turned else edge_at + 14)
            parts.append(
                element(
                    "a",
                    mark(item.number, item.severity, x, y),
                    href=f"#finding-{item.number}",
                    data_finding=item.number,
                    data_column=int(start),
                    aria_label=f"Finding {item.number}",
                )
            )
    return "".join(parts)


def _axes(year: Year, frame: Frame, words: Words) -> str:
    long = HOURS * frame.per_hour
    parts = []
    for hour in HOUR_MARKS:
        y = frame.top + hour * frame.per_hour
        parts.append(text(hour_text(hour, words), frame.left - 10, y + 4.5, "axis", "end"))
        parts.append(element("line", x1=frame.left - 6, x2=frame.left, y1=y, y2=y, class_="tick"))
    for hour in (12, 15):
        y = frame.top + hour * frame.per_hour
        right = frame.left + year.count * frame.per_day
        parts.append(element("line", x1=frame.left, x2=right, y1=y, y2=y, class_="midnight"))
    parts.append(month_ticks(year.first, frame.left, frame.per_day, frame.top + long))
    for column, words_of in clock_changes(year):
        x = frame.left + column * frame.per_day
        parts.append(element("line", x1=x, x2=x, y1=frame.top - 6, y2=frame.top, class_="tick"))
        far = column > year.count - 60
        parts.append(text(words_of, x - 5 if far else x + 5, frame.top - 7, "axis", "end" if far else None))
    return "".join(parts)


def _keyed_anew(year: Year, frame: Frame) -> str:
    """A line on each date from which another set of entries stands in the unit, with the date."""
    parts = []
    for column in year.keyed_anew:
        a, b = frame.place(column, 0), frame.place(column, HOURS)
        parts.append(element("line", x1=a[0], y1=a[1], x2=b[0], y2=b[1], class_="keyed-anew"))
        if not frame.turned:
            parts.append(
                text(f"keyed anew {date_text(year.first + column)}", a[0] + 5, b[1] - 6, "axis keyed-anew-text")
            )
    return "".join(parts)


def _turned_axes(year: Year, frame: Frame, words: Words) -> str:
    parts = []
    for hour in (0, 6, 12, 18, 24) if words.twelve_hour else (0, 6, 9, 12, 15, 18, 24):
        x = frame.left + hour * frame.per_hour
        label = hour_text(hour, words)
        anchor = "start" if hour == 0 else "end" if hour == HOURS else "middle"
        shown = label if hour in (0, HOURS) or words.twelve_hour else label[:2]
        parts.append(text(shown, x, frame.top - 8, "axis", anchor))
        parts.append(element("line", x1=x, x2=x, y1=frame.top - 5, y2=frame.top, class_="tick"))
    x = frame.left + 12 * frame.per_hour
    bottom = frame.top + year.count * frame.per_day
    parts.append(element("line", x1=x, x2=x, y1=frame.top, y2=bottom, class_="midnight"))
    for month, column in enumerate(_month_starts(year.first)):
        y = frame.top + column * frame.per_day
        parts.append(element("line", x1=frame.left - 44, x2=frame.left - 6, y1=y, y2=y, class_="tick"))
        parts.append(text(MONTHS[month], frame.left - 44, y + 18, "axis"))
    return "".join(parts)


def _cursor(year: Year, frame: Frame, column: int, class_: str) -> str:
    middle = (column + 0.5) * frame.per_day
    long = HOURS * frame.per_hour
    if frame.turned:
        y = frame.top + middle
        return element("line", x1=frame.left - 8, x2=frame.left + long, y1=y, y2=y, class_=class_)
    x = frame.left + middle
    return element("line", x1=x, x2=x, y1=frame.top, y2=frame.top + long, class_=class_)


def year_sheet(
    year: Year, *, marks: Sequence[Mark], cursor: int, today: int | None, words: Words, turned: bool = False
) -> str:
    """The whole sheet as an SVG element; ``cursor`` and ``today`` are columns.

    Upright it is 968 by 330: a gutter of 55 and 2.5 px a day. Turned, for the phone, 358 wide with a pixel a day.
    """
    ident = "year-turned" if turned else "year-upright"
    if turned:
        frame = Frame(left=46.0, top=24.0, per_day=1.0, per_hour=286 / HOURS, turned=True)
        size = (358, 24 + year.count + 8)
    else:
        frame = Frame(left=55.0, top=22.0, per_day=912 / year.count, per_hour=270 / HOURS)
        size = (972, 22 + 270 + 38)
    inner = [hatch(ident), layers(year, frame, ident)]
    inner.append(_turned_axes(year, frame, words) if turned else _axes(year, frame, words))
    if today is not None:
        inner.append(_cursor(year, frame, today, "today-line"))
    inner.append(_keyed_anew(year, frame))
    inner.append(_marks(year, frame, marks))
    inner.append(element("g", _cursor(year, frame, 0, "cursor-halo") + _cursor(year, frame, 0, "cursor-line"),
                         class_="cursor", transform=_cursor_shift(frame, cursor)))  # fmt: skip
    return element(
        "svg",
        "".join(inner),
        class_=f"year-sheet {'year-turned' if turned else 'year-upright'}",
        viewBox=f"0 0 {size[0]} {size[1]}",
        role="group",
        aria_label="The year sheet: each night of the year from noon to noon",
        data_per_day=f"{frame.per_day:.5f}",
        data_start=frame.top if turned else frame.left,
        data_turned="1" if turned else "0",
    )


def _cursor_shift(frame: Frame, column: int) -> str:
    away = num(column * frame.per_day)
    return f"translate(0 {away})" if frame.turned else f"translate({away} 0)"
