"""One cause over the looks: when a unit with that fault would be on, and what was seen, on one axis of time."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from skavit.charts.svg import element, num, text
from skavit.core.ground.arrays import DAY_S, HOUR_S, Ints
from skavit.core.ground.spans import Spans
from skavit.core.site.clock import WallClock
from skavit.core.text.wording import Words, weekday_date

WIDTH, GUTTER, LANE, HEAD, GAP = 760, 30, 30, 22, 6
AROUND_S = 8 * HOUR_S
FEW_DAYS, A_WEEK = 3, 8


@dataclass(frozen=True, slots=True, kw_only=True)
class Seen:
    """What somebody saw of one channel at one look, and whether the cause explains that look."""

    at: int  # an instant
    channel: int  # from 0
    on: bool
    explained: bool


def strip_range(instants: Ints) -> tuple[int, int]:
    """The stretch of time that is drawn around looks."""
    return int(instants[0]) - AROUND_S, int(instants[-1]) + AROUND_S


def cause_strip(
    outputs: Sequence[Spans],
    labels: Sequence[str],
    seen: Sequence[Seen],
    instants: Ints,
    clock: WallClock,
    words: Words,
) -> str:
    """The strip as an SVG element, a lane with its label for each output."""
    low, high = strip_range(instants)

    def x(at: float) -> float:
        return GUTTER + (at - low) / (high - low) * (WIDTH - GUTTER)

    bottom = HEAD + len(outputs) * (LANE + GAP)
    parts = []
    for channel, spans in enumerate(outputs):
        top = HEAD + channel * (LANE + GAP)
        parts.append(
            element("rect", x=float(GUTTER), y=top, width=float(WIDTH - GUTTER), height=LANE, class_="strip-off")
        )
        within = spans.cut(low, high)
        data = "".join(
            f"M{num(x(a))} {top + 5}H{num(max(x(b), x(a) + 1))}V{top + LANE - 5}H{num(x(a))}Z"
            for a, b in zip(within.on.tolist(), within.off.tolist(), strict=True)
        )
        parts.append(element("path", d=data, class_="lamp") if data else "")
        parts.append(text(labels[channel], GUTTER - 10, top + LANE / 2 + 5, "axis", "end"))
    parts += _ticks(low, high, clock, words, x, bottom)
    parts += [_mark(one, x(one.at), HEAD + one.channel * (LANE + GAP) + LANE / 2) for one in seen]
    told = ", ".join("as seen" if one.explained else "not as seen" for one in seen)
    return element(
        "svg",
        "".join(parts),
        class_="cause-strip",
        viewBox=f"0 0 {WIDTH} {bottom}",
        role="img",
        aria_label=f"When it would be on, and the looks: {told}" if told else "When it would be on",
    )


def _mark(seen: Seen, x: float, y: float) -> str:
    """A full ring for on, an open one for off; struck through where the cause would show the other."""
    state = "on" if seen.on else "off"
    ring = element("circle", cx=x, cy=y, r=8, class_=f"seen seen-{state}")
    if seen.explained:
        return ring
    return ring + element("path", d=f"M{num(x - 11)} {num(y + 11)}L{num(x + 11)} {num(y - 11)}", class_="seen-not")


def _ticks(low: int, high: int, clock: WallClock, words: Words, x: Callable[[float], float], bottom: int) -> list[str]:
    """Midnights with their dates; over few days the hours between."""
    digits = clock.digits(np.array([low, high]))
    days = np.arange(int(digits[0]) // DAY_S, int(digits[1]) // DAY_S + 1)
    step = 6 if days.size <= FEW_DAYS else 24
    every = max(1, days.size // A_WEEK)
    found = []
    for day in days:
        for hour in range(0, 24, step):
            at = int(clock.first(np.array([int(day) * DAY_S + hour * HOUR_S]))[0])
            if not low < at < high:
                continue
            midnight = hour == 0
            place = x(at)
            found.append(
                element("line", x1=place, x2=place, y1=HEAD - (6 if midnight else 2), y2=bottom - GAP, class_="tick")
            )
            if midnight and int(day) % every == 0 and place < WIDTH - 70:
                found.append(text(weekday_date(int(day)), place + 4, HEAD - 8, "axis"))
            elif not midnight and place < WIDTH - 20:
                found.append(text(words.minute(hour * HOUR_S), place, HEAD - 8, "axis", "middle"))
    return found
