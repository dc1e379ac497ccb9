"""The week strip: seven days across, a lane for each channel, with the sun behind; one path a layer."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from skavit.charts.svg import element, num, text
from skavit.charts.year import SLIVER_S, TRAIN_GAP_S, Year
from skavit.core.ground.arrays import DAY_S
from skavit.core.ground.spans import Spans, closed, difference, intersection, union
from skavit.core.plan.document import Site
from skavit.core.site.almanac import almanac
from skavit.core.site.clock import WallClock
from skavit.core.sun import SunEvent
from skavit.core.text.wording import SHORT_DAYS, date_text

WIDTH, GUTTER, LANE, HEAD, GAP = 968, 55, 26, 20, 4
DAYS = 7


@dataclass(frozen=True, slots=True, kw_only=True)
class Lane:
    """One channel of the week."""

    name: str
    wanted: Spans
    actual: Spans
    least_s: int = 0  # differences that last no longer are not drawn


def lane_of(name: str, year: Year) -> Lane:
    """A channel's lane, its trains of pulses each as one stretch."""
    gap = TRAIN_GAP_S if year.pulsing else 0
    least_s = SLIVER_S if year.pulsing else 0
    return Lane(name=name, wanted=closed(year.wanted, gap), actual=closed(year.actual, gap), least_s=least_s)


def _x(seconds: float) -> float:
    return GUTTER + seconds / (DAYS * DAY_S) * (WIDTH - GUTTER)


def _path(spans: Spans, clock: WallClock, monday: int, top: float, class_: str, height: float, fill: str = "") -> str:
    """The spans within the week as one path of rectangles, by the local clock."""
    on, off = (clock.digits(at) - monday * DAY_S for at in (spans.on, spans.off))
    on, off = np.clip(on, 0, DAYS * DAY_S), np.clip(off, 0, DAYS * DAY_S)
    data = "".join(
        f"M{num(_x(a))} {num(top)}H{num(max(_x(b), _x(a) + 1))}V{num(top + height)}H{num(_x(a))}Z"
        for a, b in zip(on, off, strict=True)
        if b > a
    )
    return element("path", d=data, class_=class_, fill=fill or None) if data else ""


def week_strip(site: Site, clock: WallClock, monday: int, lanes: Sequence[Lane], ident: str = "year-upright") -> str:
    """The week that begins on the day number ``monday`` as an SVG element."""
    low, high = (int(i) for i in clock.first(np.array([monday, monday + DAYS]) * DAY_S))
    book = almanac(site, monday - 1, monday + DAYS + 1)
    rows = book.rows(monday - 1, monday + DAYS)
    sets, rises = book.sun.times[SunEvent.SUNSET, rows][:-1], book.sun.times[SunEvent.SUNRISE, rows][1:]
    night = union(sets, rises).cut(low, high)
    parts = []
    for number, lane in enumerate(lanes):
        top = HEAD + number * (LANE + GAP)
        wanted, actual = lane.wanted.cut(low, high), lane.actual.cut(low, high)
        extra, missing = (
            difference(*sides).longer_than(lane.least_s) for sides in ((actual, wanted), (wanted, actual))
        )
        inner = (top + 4, LANE - 8.0)
        parts += [
            element("rect", x=GUTTER, y=top, width=WIDTH - GUTTER, height=LANE, class_="sky-day"),
            _path(night, clock, monday, top, "sky-night", LANE),
            _path(intersection(actual, wanted), clock, monday, inner[0], "lamp", inner[1]),
            _path(missing, clock, monday, inner[0], "gap-hole", inner[1]),
            _path(missing, clock, monday, inner[0], "gap-edge", inner[1]),
            _path(extra, clock, monday, inner[0], "alarm", inner[1]),
            _path(extra, clock, monday, inner[0], "alarm-hatch", inner[1], f"url(#{ident}-hatch)"),
            text(str(number + 1), GUTTER - 10, top + LANE / 2 + 5, "axis", "end"),
        ]
    bottom = HEAD + len(lanes) * (LANE + GAP)
    for day in range(DAYS):
        x = _x(day * DAY_S)
        parts.append(element("line", x1=x, x2=x, y1=HEAD - 6, y2=bottom - GAP, class_="tick"))
        parts.append(text(f"{SHORT_DAYS[day]} {date_text(monday + day)}", x + 5, HEAD - 7, "axis"))
    return element(
        "svg",
        "".join(parts),
        class_="week-strip",
        viewBox=f"0 0 {WIDTH} {bottom}",
        role="img",
        aria_label=f"The week from {date_text(monday)}, a lane for each channel",
    )
