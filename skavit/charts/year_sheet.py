"""The year sheet: across the days of a year, down the hours from noon to noon; one path a layer."""

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from threading import Lock

import numpy as np
from cachetools import LRUCache

from skavit.charts.axes import Dated, axes, by_hand, keyed_anew, turned_axes
from skavit.charts.nights import Shape, edge
from skavit.charts.svg import element, num, text
from skavit.charts.year import HOURS, Frame, Year
from skavit.core.ground.arrays import Floats
from skavit.core.text.wording import Words, stretches

# A lone night is drawn at least so wide, in pixels: narrower it would vanish. Only a lone one, else combs turn solid.
LONE_PX = 3.0
SLIT_NIGHTS = 3
MOST_MARKS = 4
# No more signs than this find room on the axis; the bars of all findings are drawn.
MOST_SIGNS = 50
OFF_THE_SHEET = -1000  # a cursor that no night has
# Points that stand this near to a straight line are left out.
STRAIGHT_PX = 0.25
# Skies that are kept, some 10 kB each.
SKIES_KEPT = 256


@dataclass(frozen=True, slots=True, kw_only=True)
class Mark:
    """A finding on the day axis."""

    number: int
    severity: str
    dates: np.ndarray


def _outline(shape: Shape, frame: Frame, widen: float = 0.0) -> str:
    points = np.concatenate([edge(shape, 0), edge(shape, 1)[::-1]])
    if widen and len(shape.bands) == 1:
        grow = widen / frame.per_day / 2
        points[:, 0] += np.where(points[:, 0] < shape.first + 0.5, -grow, grow)
    return "M" + "L".join(f"{num(x)} {num(y)}" for x, y in straightened(frame.placed(points)).tolist()) + "Z"


def straightened(points: Floats) -> Floats:
    """The fewest of the points (n, 2) whose line stays within a quarter of a pixel of all (Douglas and Peucker 1973).

    In plain Python: most shapes have some twenty points, for which numpy takes twice as long.
    """
    line: list[list[float]] = points.tolist()
    keep = [0, len(line) - 1]
    open_ends = [(0, len(line) - 1)]
    while open_ends:
        first, last = open_ends.pop()
        if last - first < 2:
            continue
        (x, y), (end_x, end_y) = line[first], line[last]
        bx, by = end_x - x, end_y - y
        length = math.hypot(bx, by)
        inner = line[first + 1 : last]
        if length:
            offs = [abs(bx * (py - y) - by * (px - x)) for px, py in inner]
        else:
            length, offs = 1.0, [math.hypot(px - x, py - y) for px, py in inner]
        worst = max(offs)
        if worst > STRAIGHT_PX * length:
            middle = first + 1 + offs.index(worst)
            keep.append(middle)
            open_ends += [(first, middle), (middle, last)]
    return points[np.sort(keep)]


class _Outlines:
    """The outlines of shapes in one frame, each drawn once however many layers show it."""

    def __init__(self, frame: Frame) -> None:
        self.frame = frame
        self._drawn: dict[tuple[int, float], str] = {}

    def path(self, found: Iterable[Shape], class_: str, widen: float = 0.0, fill: str | None = None) -> str:
        """Shapes as one path of a layer; nothing where there is none."""
        data = "".join(self._outline(shape, widen) for shape in found)
        return element("path", d=data, class_=class_, fill=fill) if data else ""

    def _outline(self, shape: Shape, widen: float) -> str:
        key = (id(shape), widen)
        if key not in self._drawn:
            self._drawn[key] = _outline(shape, self.frame, widen)
        return self._drawn[key]


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
    """The sun and the three states of the channel, as a few paths; drawn once a year and frame."""
    key = (frame, ident)
    if key not in year.drawn:
        year.drawn[key] = _drawn(year, frame, ident)
    return year.drawn[key]


def _drawn(year: Year, frame: Frame, ident: str) -> str:
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
    path = _Outlines(frame).path
    return "".join(
        [
            element("rect", x=frame.left, y=frame.top, width=width, height=height, class_="sky-day"),
            _sky(year, frame),
            path(year.lit, "lamp"),
            path(year.lit, "lamp-pulses", 0.0, f"url(#{ident}-pulses)") if year.pulsing else "",
            path(missing, "gap-hole"),
            path(broad, "gap-edge"),
            element("path", d=slits, class_="gap-edge") if slits else "",
            path([s for s, alone in zip(extra, lone, strict=True) if not alone], "alarm"),
            path([s for s, alone in zip(extra, lone, strict=True) if alone], "alarm", wide),
            path(extra, "alarm-hatch", 0.0, f"url(#{ident}-hatch)"),
        ]
    )


_SKIES: LRUCache[object, str] = LRUCache(SKIES_KEPT)
_DRAWING = Lock()


def _sky(year: Year, frame: Frame) -> str:
    """Twilight and night. A place has the same sky whatever is keyed in: it is kept from edit to edit."""
    clock = (year.clock.starts.tobytes(), year.clock.offsets.tobytes())
    key = (year.site, year.sun, clock, year.first, year.count, frame)
    with _DRAWING:
        kept = _SKIES.get(key)
    if kept is None:
        path = _Outlines(frame).path
        kept = path(year.twilight, "sky-twilight") + path(year.night, "sky-night")
        with _DRAWING:
            _SKIES[key] = kept
    return kept


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
    return small_sign(layers(year, small_frame(year.count), ident), ident)


def small_frame(days: int) -> Frame:
    """Where the days and hours lie on a unit's small sign."""
    return Frame(left=0.0, top=0.0, per_day=188 / days, per_hour=84 / HOURS)


def small_sign(inner: str, ident: str, more: str = "") -> str:
    """A unit's small sign around what is drawn in it, 188 by 84; ``more`` are classes of its own."""
    return element(
        "svg",
        hatch(ident, 4.0) + inner,
        class_=f"year-thumb{more}",
        viewBox="0 0 188 84",
        preserveAspectRatio="none",
        aria_hidden="true",
    )


def mark(number: int, severity: str, x: float, y: float) -> str:
    """A finding's sign: a filled lozenge, an open square, an open circle, with its number."""
    if severity == "danger":
        sign = element("path", d=f"M{num(x)} {num(y - 8)}l8 8l-8 8l-8 -8Z", class_="mark-danger")
    elif severity == "warning":
        sign = element("rect", x=x - 6.5, y=y - 6.5, width=13, height=13, class_="mark-warning")
    else:
        sign = element("circle", cx=x, cy=y, r=7, class_="mark-note")
    return sign + text(str(number), x, y + 4, f"mark-number mark-number-{severity}", "middle")


def marks_on(year: Dated, frame: Frame, found: Iterable[Mark]) -> str:
    """Each finding's mark at the start of its stretches, and its dates as a bar that its choosing lights."""
    parts = []
    taken: list[float] = []
    told: set[bytes] = set()
    edge_at = HOURS * frame.per_hour
    for item in found:
        columns = item.dates - year.first
        columns = columns[(columns >= 0) & (columns < year.count)]
        if not columns.size:
            continue
        runs = stretches(columns)
        same_dates = columns.tobytes() in told
        told.add(columns.tobytes())
        bar = "".join(f"M{frame.at(a, HOURS)}L{frame.at(b + 1, HOURS)}" for a, b in runs)
        parts.append(element("path", d=bar, class_=f"mark-bar mark-bar-{item.severity}", data_finding=item.number))
        # Findings of the same dates share the first one's mark: two signs in one place tell no more than one.
        shown = [] if same_dates else runs if len(runs) <= MOST_MARKS else runs[:1]
        for start, _ in shown if len(taken) < MOST_SIGNS else ():
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


def line_at(frame: Frame, column: int, class_: str) -> str:
    """A line across the sheet at a column."""
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
    frame, size = frame_of(year.count, turned=turned)
    inner = [hatch(ident), layers(year, frame, ident)]
    inner.append(turned_axes(year, frame, words) if turned else axes(year, frame, words))
    if today is not None:
        inner.append(line_at(frame, today, "today-line"))
    inner.append(keyed_anew(year, frame))
    inner.append(by_hand(year, frame))
    inner.append(marks_on(year, frame, marks))
    inner.append(cursor_on(frame, cursor))
    return sheet_element(inner, frame, size, "The year sheet: each night of the year from noon to noon")


def frame_of(count: int, *, turned: bool) -> tuple[Frame, tuple[float, float]]:
    """The frame of a sheet of so many days, and its size."""
    if turned:
        return Frame(left=46.0, top=24.0, per_day=1.0, per_hour=286 / HOURS, turned=True), (358, 24 + count + 8)
    return Frame(left=55.0, top=22.0, per_day=912 / count, per_hour=270 / HOURS), (972, 22 + 270 + 38)


def sheet_element(inner: Iterable[str], frame: Frame, size: tuple[float, float], label: str, class_: str = "") -> str:
    """The sheet as an SVG element that the cursor's keys know."""
    return element(
        "svg",
        "".join(inner),
        class_=f"year-sheet {'year-turned' if frame.turned else 'year-upright'}{class_}",
        viewBox=f"0 0 {num(size[0])} {num(size[1])}",
        role="group",
        aria_label=label,
        data_per_day=f"{frame.per_day:.5f}",
        data_start=frame.top if frame.turned else frame.left,
        data_turned="1" if frame.turned else "0",
    )


def cursor_on(frame: Frame, column: int) -> str:
    """The cursor at a column."""
    lines = line_at(frame, 0, "cursor-halo") + line_at(frame, 0, "cursor-line")
    return element("g", lines, class_="cursor", transform=_cursor_shift(frame, column))


def _cursor_shift(frame: Frame, column: int) -> str:
    away = num(column * frame.per_day)
    return f"translate(0 {away})" if frame.turned else f"translate({away} 0)"
