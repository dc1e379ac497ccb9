"""Starts that come too close to each other, moved apart all at once."""

import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace

import numpy as np

from skavit.core.findings.acts import ChangeStarts
from skavit.core.findings.remedy import Remedy
from skavit.core.findings.watering import Watered, WithPrograms
from skavit.core.ground.arrays import DAY_S, MINUTE_S
from skavit.core.plan.times import ClockTime
from skavit.core.plan.water import Program
from skavit.core.water.need import least_soak_min
from skavit.core.water.stack import Stack

Start = tuple[int, int]  # (program, which of its starts), both from 0


def moved_apart(of: Watered, programs: Sequence[int], mends: Callable[[Stack], bool]) -> Remedy | None:
    """The starts of some programs so far apart that each ends before the next begins, and its ground has soaked.

    Later ones move on; where that leaves the day or the hours, earlier ones move back. ``mends`` says whether what runs
    then is right. None where the starts follow the sun, where nothing moves, or where the audit may try no more.
    """
    starts: list[tuple[int, Start]] = []
    for place in programs:
        for number, at in enumerate(of.water.programs[place].starts):
            if not isinstance(at, ClockTime):
                return None
            starts.append((at.seconds, (place, number)))
    starts.sort()
    for moved in (_on(of, starts), _back(of, starts)):
        if moved is None or moved == {start: at for at, start in starts}:
            continue
        changed = tuple(_with_starts(of, moved))
        then = of.under(changed)
        if then is None:
            return None
        if of.no_worse(then) and mends(then):
            told = [(old, new) for old, new in zip(of.water.programs, changed, strict=True) if old != new]
            act = ChangeStarts(programs=tuple((new.name, new.starts) for _, new in told))
            return Remedy(act=act, change=WithPrograms(changed))
    return None


def _on(of: Watered, starts: list[tuple[int, Start]]) -> dict[Start, int] | None:
    """Seconds after midnight of each start, later ones moved on; None where one leaves the day."""
    moved: dict[Start, int] = {}
    for at, start in starts:
        least = [before + _apart_s(of, earlier[0], start[0]) for earlier, before in moved.items()]
        moved[start] = max([at, *least])
    return moved if max(moved.values(), default=0) < DAY_S else None


def _back(of: Watered, starts: list[tuple[int, Start]]) -> dict[Start, int] | None:
    """Seconds after midnight of each start, earlier ones moved back; None where one leaves the day."""
    moved: dict[Start, int] = {}
    for at, start in reversed(starts):
        most = [after - _apart_s(of, start[0], later[0]) for later, after in moved.items()]
        moved[start] = min([at, *most])
    return moved if min(moved.values(), default=0) >= 0 else None


def _apart_s(of: Watered, first: int, second: int) -> int:
    """Whole minutes, in seconds, from a start of one program to a start of another that may come on the same date."""
    cycles, runs, water = of.stack.cycles, of.stack.runs, of.water
    own = cycles.program == first
    if not np.intersect1d(cycles.day[own], cycles.day[cycles.program == second]).size:
        return 0
    lasts = int(cycles.length_s[own].max(initial=0))
    if first != second:
        return _minutes_up(lasts)
    mine = own[runs.cycle]
    soaked = (
        int((runs.off - runs.on)[mine & (runs.station == n)].max(initial=0)) + least_soak_min(station) * MINUTE_S
        for n, station in enumerate(water.stations)
        if (mine & (runs.station == n)).any()
    )
    return _minutes_up(max([lasts, *soaked]))


def _minutes_up(seconds: float) -> int:
    return math.ceil(seconds / MINUTE_S - 1e-9) * MINUTE_S


def _with_starts(of: Watered, moved: dict[Start, int]) -> Iterator[Program]:
    for place, program in enumerate(of.water.programs):
        starts = tuple(
            ClockTime(moved[place, number]) if (place, number) in moved else at
            for number, at in enumerate(program.starts)
        )
        yield program if starts == program.starts else replace(program, starts=starts)
