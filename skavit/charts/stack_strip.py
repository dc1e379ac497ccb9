"""A night's stack: each station's turns from noon to noon in the hours in which water may flow, with the master valve."""

from collections.abc import Sequence
from dataclasses import dataclass

from skavit.charts.axes import hour_text
from skavit.charts.svg import element, num, text
from skavit.charts.year_sheet import hatch
from skavit.core.ground.arrays import DAY_S
from skavit.core.text.wording import Words

GUTTER, WIDTH, LANE, HEAD, GAP, FOOT = 150.0, 818.0, 20.0, 16.0, 3.0, 24.0
HOURS_SHOWN = (0, 3, 6, 9, 12, 15, 18, 21, 24)
NARROW_GUTTER, NARROW_WIDTH = 96.0, 256.0
LEAST_PX = 2.5

Pairs = Sequence[tuple[int, int]]  # seconds after noon


@dataclass(frozen=True, slots=True, kw_only=True)
class StackLane:
    """One station's turns of the night."""

    name: str
    runs: Pairs
    outside: Pairs  # the parts of them that lie outside the allowed hours


@dataclass(frozen=True, slots=True, kw_only=True)
class StackNight:
    """What is drawn of one night; all in seconds after noon of its first date."""

    lanes: Sequence[StackLane]
    allowed: Pairs
    waits: Pairs  # from when a start was due until it began
    master: Pairs  # empty where there is none


def stack_strip(night: StackNight, words: Words, *, narrow: bool = False) -> str:
    """The strip as an SVG element."""
    ident = "stack-narrow" if narrow else "stack-wide"
    gutter, width = (NARROW_GUTTER, NARROW_WIDTH) if narrow else (GUTTER, WIDTH)
    rows = len(night.lanes) + bool(night.waits) + bool(night.master)
    bottom = HEAD + max(rows, 1) * (LANE + GAP)

    def x(seconds: float) -> float:
        return gutter + min(max(seconds, 0), DAY_S) / DAY_S * width

    def boxes(pairs: Pairs, top: float, height: float) -> str:
        return "".join(
            f"M{num(x(a))} {num(top)}H{num(max(x(b), x(a) + LEAST_PX))}V{num(top + height)}H{num(x(a))}Z"
            for a, b in pairs
            if b > 0 and a < DAY_S
        )

    parts = [
        hatch(ident),
        element("rect", x=gutter, y=HEAD, width=width, height=bottom - HEAD, class_="water-shut"),
        element("path", d=boxes(night.allowed, HEAD, bottom - HEAD), class_="water-free"),
    ]
    for hour in HOURS_SHOWN[:: 2 if narrow else 1]:
        at = x(hour * 3600)
        parts.append(element("line", x1=at, x2=at, y1=HEAD, y2=bottom, class_="curve-rule"))
        anchor = "start" if hour == 0 and narrow else "end" if hour == 24 else "middle"
        parts.append(text(hour_text(hour, words), at, bottom + 16, "axis", anchor))
    top = HEAD
    for lane in night.lanes:
        inner = (top + 2, LANE - 4)
        parts.append(text(_short(lane.name, narrow), gutter - 8, top + LANE - 6, "axis", "end"))
        parts.append(element("path", d=boxes(lane.runs, *inner), class_="water"))
        if lane.outside:
            parts.append(element("path", d=boxes(lane.outside, *inner), class_="alarm"))
            parts.append(
                element("path", d=boxes(lane.outside, *inner), class_="alarm-hatch", fill=f"url(#{ident}-hatch)")
            )
        top += LANE + GAP
    if night.waits:
        parts.append(text("starts wait", gutter - 8, top + LANE - 6, "axis alarm-ink", "end"))
        parts.append(element("path", d=boxes(night.waits, top + 5, LANE - 10), class_="gap-edge"))
        top += LANE + GAP
    if night.master:
        parts.append(text("master valve", gutter - 8, top + LANE - 6, "axis", "end"))
        parts.append(element("path", d=boxes(night.master, top + 7, LANE - 14), class_="master"))
    return element(
        "svg",
        "".join(parts),
        class_=f"stack-strip {ident}",
        viewBox=f"0 0 {num(gutter + width + 4)} {num(bottom + FOOT)}",
        role="img",
        aria_label="The stations' turns from noon to noon, in the hours in which water may flow",
    )


def _short(name: str, narrow: bool) -> str:
    most = 12 if narrow else 20
    return name if len(name) <= most else f"{name[: most - 1]}…"
