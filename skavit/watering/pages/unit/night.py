"""The cursor's night of a watering unit: each station's turns, and the same as a strip in the allowed hours."""

from dataclasses import dataclass

import numpy as np

from skavit.charts.stack_strip import StackLane, StackNight, stack_strip
from skavit.core.ground.arrays import DAY_S
from skavit.core.ground.spans import EMPTY, Spans, intersection
from skavit.core.plan.times import day_of
from skavit.core.text.wording import MONTHS, SHORT_DAYS, Words, minutes_text
from skavit.core.water.stack import Fate, Stack
from skavit.server.now import local_digits
from skavit.units.pages.view import View
from skavit.units.years import UnitYear

MOST_LANES = 16
MOST_LINES = 24


@dataclass(frozen=True, slots=True, kw_only=True)
class TurnLine:
    """One station's turn, or a start that did nothing, as it is told."""

    time: str
    what: str
    detail: str
    alarm: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class WateringNight:
    """The night from noon to noon that the cursor is on."""

    title: str
    strip: str
    narrow: str
    lines: list[TurnLine]
    more: int  # turns that are not told
    total: str  # how long water flows; empty where none does
    column: int
    count: int
    today: int
    before: int
    after: int


def watering_night(found: UnitYear, view: View, words: Words, now: int) -> WateringNight:
    """The night that begins on the noon of the view's day."""
    water = found.water_picture
    assert water is not None
    stack, first = water.stack, found.replay.first
    noon = view.day * DAY_S + DAY_S // 2
    lines = _lines(stack, noon, words)
    drawn = _drawn(stack, noon)
    a, b = day_of(view.day), day_of(view.day + 1)
    month = "" if a.month == b.month else f" {MONTHS[a.month - 1]}"
    flowing = stack.flowing.cut(*_bounds(stack, noon)).total_s
    return WateringNight(
        title=f"{SHORT_DAYS[a.weekday()]} {a.day}{month} to {SHORT_DAYS[b.weekday()]} {b.day} {MONTHS[b.month - 1]}",
        strip=stack_strip(drawn, words),
        narrow=stack_strip(drawn, words, narrow=True),
        lines=lines[:MOST_LINES],
        more=max(len(lines) - MOST_LINES, 0),
        total=minutes_text(flowing / 60) if flowing else "",
        column=view.day - first,
        count=found.replay.last - first + 1,
        today=local_digits(found.replay.plan, now) // DAY_S,
        before=max(view.day - 1, first),
        after=min(view.day + 1, found.replay.last),
    )


def _bounds(stack: Stack, noon: int) -> tuple[int, int]:
    """The instants of a noon and the next, by the site's clock."""
    first, last = (int(i) for i in stack.run.site_clock.first(np.array([noon, noon + DAY_S])))
    return first, last


def _shown(stack: Stack, spans: Spans, noon: int) -> list[tuple[int, int]]:
    """Spans of the night in seconds after noon of the site's clock."""
    clock, cut = stack.run.site_clock, spans.cut(*_bounds(stack, noon))
    on, off = clock.digits(cut.on) - noon, clock.digits(cut.off) - noon
    return list(zip(on.tolist(), off.tolist(), strict=True))


def _drawn(stack: Stack, noon: int) -> StackNight:
    lanes = []
    outside = stack.outside
    for number, station in enumerate(stack.water.stations, start=1):
        runs = _shown(stack, stack.stations[number - 1], noon)
        if runs or len(stack.water.stations) <= MOST_LANES // 2:
            wrong = intersection(stack.stations[number - 1], outside) if len(outside) else EMPTY
            name = f"{number} {station.name}"
            lanes.append(StackLane(name=name, runs=runs, outside=_shown(stack, wrong, noon)))
    cycles = stack.cycles
    late = np.nonzero((cycles.fate == Fate.RUNS) & (cycles.begin > cycles.due))[0]
    master = stack.water.master_valve
    has_master = bool(master.lead_s or master.lag_s)
    return StackNight(
        lanes=lanes[:MOST_LANES],
        allowed=[(0, DAY_S)] if stack.allowed is None else _shown(stack, stack.allowed, noon),
        waits=_shown(stack, Spans(cycles.due[late], cycles.begin[late]), noon) if late.size else [],
        master=_shown(stack, stack.master_valve, noon) if has_master else [],
    )


def _lines(stack: Stack, noon: int, words: Words) -> list[TurnLine]:
    """Each turn by its time, and each start that waits, is lost, or does nothing."""
    first, last = _bounds(stack, noon)
    clock, water, runs, cycles = stack.run.site_clock, stack.water, stack.runs, stack.cycles

    def time(instant: int) -> str:
        return words.minute(int(clock.digits(np.array([instant]))[0]) % DAY_S)

    found: list[tuple[int, int, TurnLine]] = []
    for row in np.nonzero((runs.on >= first) & (runs.on < last))[0].tolist():
        on, off, cycle = int(runs.on[row]), int(runs.off[row]), int(runs.cycle[row])
        station = water.stations[int(runs.station[row])]
        line = TurnLine(
            time=time(on),
            what=f"{int(runs.station[row]) + 1} {station.name}",
            detail=f"{minutes_text((off - on) / 60)}, program {water.program_name(int(cycles.program[cycle]))}",
            alarm=False,
        )
        found.append((on, 1, line))
    due = np.nonzero((cycles.due >= first) & (cycles.due < last))[0]
    for row in due.tolist():
        told = _told_start(stack, row)
        if told:
            name = water.program_name(int(cycles.program[row]))
            line = TurnLine(time=time(int(cycles.due[row])), what=f"start of {name}", detail=told, alarm=True)
            found.append((int(cycles.due[row]), 0, line))
    return [line for _, _, line in sorted(found, key=lambda each: each[:2])]


def _told_start(stack: Stack, row: int) -> str:
    """What is told of a start that does not begin when it is due; empty for one that does."""
    cycles = stack.cycles
    match Fate(int(cycles.fate[row])):
        case Fate.RUNS:
            late = int(cycles.begin[row] - cycles.due[row])
            return f"waits {minutes_text(late / 60)}: the one before still runs" if late else ""
        case Fate.BUSY:
            return "is lost: another still runs"
        case Fate.OFF_DATE:
            return "nothing: a day off"
        case Fate.RAIN_DELAY:
            return "nothing: rain delay"
        case Fate.SUSPENDED:
            return "nothing: suspended by hand"
        case Fate.NOTHING:
            return "nothing this month"
