"""What a watering unit does at a moment, and what it does next."""

from dataclasses import dataclass

import numpy as np

from skavit.core.water.stack import Fate, Stack


@dataclass(frozen=True, slots=True, kw_only=True)
class Turn:
    """One station's turn."""

    program: int  # from 0
    station: int  # from 0
    on: int  # instants
    off: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Coming:
    """The next start that does something."""

    program: int  # from 0
    due: int  # instants
    begin: int
    end: int


@dataclass(frozen=True, slots=True, kw_only=True)
class WaterState:
    """What runs now, and what comes."""

    running: tuple[Turn, ...]
    following: tuple[Coming, ...]


def state_at(found: Stack, instant: int, most: int = 3) -> WaterState:
    """The turns under way at an instant, and at most so many starts after it, as far as the stack's range goes."""
    runs, cycles = found.runs, found.cycles
    here = np.nonzero((runs.on <= instant) & (instant < runs.off))[0]
    running = tuple(
        Turn(
            program=int(cycles.program[runs.cycle[row]]),
            station=int(runs.station[row]),
            on=int(runs.on[row]),
            off=int(runs.off[row]),
        )
        for row in here
    )
    coming = np.nonzero((cycles.fate == Fate.RUNS) & (cycles.begin > instant))[0]
    coming = coming[np.argsort(cycles.begin[coming], kind="stable")][:most]
    following = tuple(
        Coming(
            program=int(cycles.program[row]), due=int(cycles.due[row]), begin=int(cycles.begin[row]),
            end=int(cycles.end[row]),
        )
        for row in coming
    )  # fmt: skip
    return WaterState(running=running, following=following)
