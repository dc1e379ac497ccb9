"""One night enlarged beside the year sheet, on the same hour axis, with what switches in it and why."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from skavit.charts.svg import element, num, text
from skavit.charts.year import HOURS, Frame, Year
from skavit.charts.year_sheet import hatch, layers

LABEL_PX = 36.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Label:
    """A switching of the night, in words."""

    hour: float  # after noon
    time: str
    action: str
    why: str
    alarm: bool


def _spread(wanted: Sequence[float], low: float, high: float) -> list[float]:
    """Places as near as may be to those wanted and a label apart."""
    places: list[float] = []
    for place in wanted:
        places.append(max(place, places[-1] + LABEL_PX if places else low))
    over = (places[-1] - high) if places else 0
    if over > 0:
        places[-1] -= over
        for index in range(len(places) - 2, -1, -1):
            places[index] = min(places[index], places[index + 1] - LABEL_PX)
    return places


def night_strip(year: Year, column: int, labels: Sequence[Label]) -> str:
    """The night of a column as an SVG of 248 by 330, beside the upright sheet."""
    one = replace(year, first=year.first + column, count=1)
    frame = Frame(left=0.0, top=22.0, per_day=36.0, per_hour=270 / HOURS)
    parts = [hatch("night"), layers(one, frame, "night")]
    wanted = [frame.top + label.hour * frame.per_hour for label in labels]
    for label, at, place in zip(labels, wanted, _spread(wanted, 34.0, 272.0), strict=True):
        parts.append(element("path", d=f"M36 {num(at)}h7L50 {num(place)}h5", class_="leader"))
        tone = " alarm-ink" if label.alarm else ""
        time = text(label.time, 58, place + 6, f"night-time{tone}")
        width = 58 + 11.6 * len(label.time)
        parts += [time, text(label.action, width + 8, place + 6, f"night-action{tone}")]
        parts.append(text(label.why, 58, place + 21, f"night-why{tone}"))
    return element("svg", "".join(parts), class_="night-strip", viewBox="0 0 248 330", aria_hidden="true")


def lying_strip(year: Year, column: int) -> str:
    """The night of a column as a band of 286 by 26, for the phone."""
    one = replace(year, first=year.first + column, count=1)
    frame = Frame(left=46.0, top=0.0, per_day=26.0, per_hour=286 / HOURS, turned=True)
    return element(
        "svg",
        hatch("lying") + layers(one, frame, "lying"),
        class_="lying-strip",
        viewBox="0 0 358 26",
        aria_hidden="true",
    )
