"""The year of a watering unit's station: need, rain and what is given by the month, and below it the soil's water day by day."""

import math
from collections.abc import Iterable
from dataclasses import dataclass, field, replace

import numpy as np

from skavit.charts.axes import month_starts, month_ticks
from skavit.charts.svg import element, num, text
from skavit.charts.year_sheet import Mark, hatch, mark, small_sign, straightened
from skavit.core.ground.arrays import Floats, Ints
from skavit.core.text.quantities import GALLON_L, INCH_MM
from skavit.core.text.wording import stretches
from skavit.core.water.soil import SLACK_MM

MOST_SIGNS = 24
WHOLE = ("mm", "litres")  # that are told without decimals


@dataclass(frozen=True, slots=True, kw_only=True)
class StationYear:
    """What is drawn: months in mm, January first, and the soil at each date's end.

    Where the need is not known, ``given`` is in litres, and of need, rain and soil there is nothing.
    """

    first: int  # day number of 1 January
    count: int
    need: Floats  # (12,)
    rain: Floats
    given: Floats
    depletion: Floats  # (count,), mm below full
    ready_mm: float  # what may be used before the plants suffer
    unit: str = "mm"
    drawn: dict[str, str] = field(default_factory=dict, compare=False)  # what does not hang on the cursor, by paper

    @property
    def known(self) -> bool:
        """Whether the need is known."""
        return self.depletion.size > 0


def in_inches(year: StationYear) -> StationYear:
    """The same in inches; litres of a station whose need is not known as gallons."""
    if not year.known:
        return replace(year, given=year.given / GALLON_L, unit="gal", drawn={})
    inches = {name: getattr(year, name) / INCH_MM for name in ("need", "rain", "given", "depletion")}
    return replace(year, **inches, ready_mm=year.ready_mm / INCH_MM, unit="in", drawn={})


@dataclass(frozen=True, slots=True, kw_only=True)
class _Paper:
    name: str
    left: float
    plot: float
    bars: float  # heights
    soil: float
    months: int  # every how many months one is named
    numbers: bool

    top: float = 16.0
    between: float = 26.0
    foot: float = 40.0

    @property
    def soil_top(self) -> float:
        return self.top + self.bars + self.between

    @property
    def bottom(self) -> float:
        return self.soil_top + self.soil


WIDE = _Paper(name="year-upright", left=55.0, plot=912.0, bars=118.0, soil=128.0, months=1, numbers=True)
NARROW = _Paper(name="year-turned", left=40.0, plot=312.0, bars=120.0, soil=130.0, months=3, numbers=False)


def water_year_picture(
    year: StationYear, *, marks: Iterable[Mark], cursor: int, today: int | None, narrow: bool = False
) -> str:
    """The picture as an SVG element; ``cursor`` and ``today`` are dates from 0."""
    paper = NARROW if narrow else WIDE
    if not year.known:
        paper = replace(paper, soil=0.0, between=0.0)
    ident = paper.name
    per_day = paper.plot / year.count
    if ident not in year.drawn:
        soil = _soil(year, paper, per_day, ident) if year.known else ""
        months = month_ticks(year.first, paper.left, per_day, paper.bottom, every=paper.months)
        year.drawn[ident] = hatch(ident) + _bars(year, paper, per_day) + soil + months
    inner = [year.drawn[ident]]
    if today is not None:
        inner.append(_upright(paper, (today + 0.5) * per_day, "today-line"))
    inner.append(_marks(year, paper, per_day, marks))
    lines = _upright(paper, per_day / 2, "cursor-halo") + _upright(paper, per_day / 2, "cursor-line")
    inner.append(element("g", lines, class_="cursor", transform=f"translate({num(cursor * per_day)} 0)"))
    return element(
        "svg",
        "".join(inner),
        class_=f"year-sheet water-sheet {paper.name}",
        viewBox=f"0 0 {num(paper.left + paper.plot + 5)} {num(paper.bottom + paper.foot)}",
        role="group",
        aria_label="The year of this station: need, rain and water given by the month, and the water in the soil by the day",
        data_per_day=f"{per_day:.5f}",
        data_start=paper.left,
        data_turned="0",
    )


def _upright(paper: _Paper, along: float, class_: str) -> str:
    x = paper.left + along
    return element("line", x1=x, x2=x, y1=paper.top, y2=paper.bottom, class_=class_)


def _scale(top: float) -> float:
    """A round number of millimetres between lines, so that there are three or four."""
    step: float = 10.0 ** math.floor(math.log10(top / 4))
    return next(step * times for times in (1, 2, 5, 10) if top / (step * times) <= 4)


def _bars(year: StationYear, paper: _Paper, per_day: float) -> str:
    """A column a month: rain below, water on it, and the need as a dashed level across."""
    top = float(max(year.need.max(), (year.rain + year.given).max(), 1.0)) * 1.12
    step, end = _scale(top), paper.top + paper.bars
    per_mm = paper.bars / top
    parts = [element("rect", x=paper.left, y=paper.top, width=paper.plot, height=paper.bars, class_="water-ground")]
    for level in np.arange(step, top, step).tolist():
        y = end - level * per_mm
        parts.append(element("line", x1=paper.left, x2=paper.left + paper.plot, y1=y, y2=y, class_="curve-rule"))
        parts.append(text(f"{level:g}", paper.left - 8, y + 4.5, "axis", "end"))
    parts.append(text(year.unit, paper.left - 8, end + 4.5, "axis", "end"))
    starts = [*month_starts(year.first), year.count]
    for month in range(12):
        a, b = (paper.left + column * per_day for column in starts[month : month + 2])
        pad = (b - a) * 0.2
        x, wide = a + pad, b - a - 2 * pad
        rain, given, need = (float(each[month]) * per_mm for each in (year.rain, year.given, year.need))
        parts.append(element("rect", x=x, y=end - rain, width=wide, height=rain, class_="rain"))
        if given > 0:
            parts.append(element("rect", x=x, y=end - rain - given, width=wide, height=given, class_="water"))
        if year.known:
            across = f"M{num(a + pad / 3)} {num(end - need)}H{num(b - pad / 3)}"
            parts.append(element("path", d=across, class_="need-line"))
        if paper.numbers and given > 0:
            inside = given > 18
            y = end - rain - given + (15 if inside else -4)
            parts.append(
                text(
                    f"{year.given[month]:.{0 if year.unit in WHOLE else 1}f}",
                    x + wide / 2,
                    y,
                    "axis on-water" if inside else "axis",
                    "middle",
                )
            )
    return "".join(parts)


def _soil(year: StationYear, paper: _Paper, per_day: float, ident: str) -> str:
    """The soil's water: full above, the band in which plants are well, and below it the days that are too dry."""
    deepest = max(year.ready_mm * 1.3, float(year.depletion.max(initial=0.0)) * 1.05, 0.1)
    per_mm = paper.soil / deepest
    top, left, right = paper.soil_top, paper.left, paper.left + paper.plot
    line = top + year.ready_mm * per_mm
    dry = np.nonzero(year.depletion > year.ready_mm + SLACK_MM)[0]
    bars = "".join(
        f"M{num(left + a * per_day)} {num(top)}H{num(max(left + (b + 1) * per_day, left + a * per_day + 3))}"
        f"V{num(paper.bottom)}H{num(left + a * per_day)}Z"
        for a, b in stretches(dry, 1)
    )
    days = np.arange(year.count) + 0.5
    points = np.stack([left + days * per_day, top + year.depletion * per_mm], axis=1)
    kept = straightened(points).tolist()
    path = "L".join(f"{num(x)} {num(y)}" for x, y in kept)
    area = f"M{num(left)} {num(paper.bottom)}L{path}L{num(right)} {num(paper.bottom)}Z"
    parts = [
        element("rect", x=left, y=top, width=paper.plot, height=paper.soil, class_="water-ground"),
        element("path", d=area, class_="soil-water"),
        element("path", d=bars, class_="alarm") if bars else "",
        element("path", d=bars, class_="alarm-hatch", fill=f"url(#{ident}-hatch)") if bars else "",
        element("line", x1=left, x2=right, y1=line, y2=line, class_="dry-line"),
        element("path", d=f"M{path}", class_="curve curve-soil"),
    ]
    if left:
        parts.append(text("full", left - 8, top + 11, "axis", "end"))
        parts.append(text("dry", left - 8, line + 4.5, "axis", "end"))
    return "".join(parts)


def _marks(year: StationYear, paper: _Paper, per_day: float, found: Iterable[Mark]) -> str:
    """Each finding's sign below its first date, and its dates as a bar that its choosing lights."""
    parts: list[str] = []
    taken: list[float] = []
    for item in found:
        columns: Ints = item.dates - year.first
        columns = columns[(columns >= 0) & (columns < year.count)]
        if not columns.size or len(taken) >= MOST_SIGNS:
            continue
        bar = "".join(
            f"M{num(paper.left + a * per_day)} {num(paper.bottom)}H{num(paper.left + (b + 1) * per_day)}"
            for a, b in stretches(columns)
        )
        parts.append(element("path", d=bar, class_=f"mark-bar mark-bar-{item.severity}", data_finding=item.number))
        along = float(columns[0]) * per_day
        while any(abs(along - other) < 17 for other in taken):
            along += 17
        taken.append(along)
        sign = mark(item.number, item.severity, paper.left + along + 8, paper.bottom + 12)
        parts.append(
            element(
                "a", sign, href=f"#finding-{item.number}", data_finding=item.number, data_column=int(columns[0]),
                aria_label=f"Finding {item.number}",
            )
        )  # fmt: skip
    return "".join(parts)


def water_thumbnail(year: StationYear, ident: str) -> str:
    """The same as the small sign of a unit: months above, soil below; 188 by 84, without words."""
    paper = _Paper(
        name="thumb", left=0.0, plot=188.0, bars=42.0, soil=38.0, months=12, numbers=False, top=0.0, between=4.0
    )
    per_day = paper.plot / year.count
    top = float(max(year.need.max(), (year.rain + year.given).max(), 1.0))
    parts = [element("rect", x=0, y=0, width=188, height=84, class_="water-ground")]
    for month, column in enumerate(month_starts(year.first)):
        rain, given, need = (float(each[month]) / top * 40 for each in (year.rain, year.given, year.need))
        x = column * per_day + 2
        parts.append(element("rect", x=x, y=42 - rain, width=11, height=rain, class_="rain"))
        parts.append(element("rect", x=x, y=42 - rain - given, width=11, height=given, class_="water"))
        if year.known:
            parts.append(element("path", d=f"M{num(x - 1)} {num(42 - need)}h13", class_="need-line"))
    parts.append(_soil(year, paper, per_day, ident) if year.known else "")
    return small_sign("".join(parts), ident, " water-thumb")
