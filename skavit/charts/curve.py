"""Curves over the days of a year, in minutes: a table's error, a clock's difference from true time."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import ClassVar

import numpy as np

from skavit.charts.axes import month_ticks
from skavit.charts.svg import element, num, text
from skavit.charts.year_sheet import straightened
from skavit.core.ground.arrays import Floats

STEPS_MIN = (1, 2, 5, 10, 15, 30, 60, 120, 180, 360, 720, 1440, 10080)
MOST_LINES = 6
# A jump of more than this between two days is a step and no slope.
STEP_MIN = 15


@dataclass(frozen=True, slots=True, kw_only=True)
class Line:
    """One curve: minutes on each day, NaN where there is none; ``class_`` gives its stroke."""

    minutes: Floats
    class_: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Paper:
    """Where the plot lies, in pixels; a wide one for the laptop, a narrow one for the phone."""

    name: str
    left: float
    plot: float
    height: float
    months: int  # every how many months one is named

    top: ClassVar[float] = 16.0
    foot: ClassVar[float] = 40.0


WIDE = Paper(name="curves-wide", left=55.0, plot=912.0, height=150.0, months=1)
NARROW = Paper(name="curves-narrow", left=44.0, plot=310.0, height=150.0, months=3)


def curves(first: int, lines: Sequence[Line], label: str, today: int | None = None) -> str:
    """The curves from the day number ``first`` on, with nought, a scale in minutes, the months, and today; twice."""
    return "".join(_picture(paper, first, lines, label, today) for paper in (WIDE, NARROW))


def _picture(paper: Paper, first: int, lines: Sequence[Line], label: str, today: int | None) -> str:
    count = lines[0].minutes.size
    known = np.concatenate([line.minutes[~np.isnan(line.minutes)] for line in lines] + [np.zeros(1)])
    low, high = float(known.min()), float(known.max())
    step = next((s for s in STEPS_MIN if (high - low) / s <= MOST_LINES), STEPS_MIN[-1])
    bottom, top = np.floor(low / step) * step, max(np.ceil(high / step) * step, np.floor(low / step) * step + step)
    per_day, per_min = paper.plot / count, paper.height / (top - bottom)
    left, right, end = paper.left, paper.left + paper.plot, paper.top + paper.height

    def y(minutes: float) -> float:
        return float(paper.top + (top - minutes) * per_min)

    parts = [element("rect", x=left, y=paper.top, width=paper.plot, height=paper.height, class_="curve-ground")]
    for minutes in np.arange(bottom, top + step / 2, step):
        class_ = "curve-nought" if minutes == 0 else "curve-rule"
        parts.append(element("line", x1=left, x2=right, y1=y(minutes), y2=y(minutes), class_=class_))
        parts.append(text(f"{minutes:+.0f}" if minutes else "0", left - 8, y(minutes) + 4.5, "axis", "end"))
    parts.append(month_ticks(first, left, per_day, end, every=paper.months))
    for line in lines:
        path = _path(line, lambda day: left + (day + 0.5) * per_day, y)
        parts.append(element("path", d=path, class_=f"curve {line.class_}"))
    if today is not None and 0 <= today < count:
        x = left + (today + 0.5) * per_day
        parts.append(element("line", x1=x, x2=x, y1=paper.top, y2=end, class_="today"))
    box = f"0 0 {num(right + 5)} {num(end + paper.foot)}"
    return element("svg", "".join(parts), class_=f"curves {paper.name}", viewBox=box, role="img", aria_label=label)


def _path(line: Line, across: Callable[[float], float], down: Callable[[float], float]) -> str:
    """The curve as stretches without gaps; a step is drawn upright between two days."""
    found: list[list[tuple[float, float]]] = []
    before = np.nan
    for day, minutes in enumerate(line.minutes):
        if np.isnan(minutes):
            before = np.nan
            continue
        if np.isnan(before):
            found.append([])
        elif abs(minutes - before) > STEP_MIN:
            found[-1] += [(across(day - 0.5), down(before)), (across(day - 0.5), down(minutes))]
        found[-1].append((across(day), down(minutes)))
        before = minutes
    return "".join(
        "M" + "L".join(f"{num(x)} {num(y)}" for x, y in straightened(np.array(points)).tolist()) for points in found
    )
