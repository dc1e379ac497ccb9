"""Trains of pulses: on for some seconds, over and over in elapsed time, the last one cut off at the end."""

import numpy as np

from skavit.core.ground.arrays import Ints
from skavit.core.ground.errors import RangeError

MAX_PULSES = 2_000_000


def counts(start: Ints, end: Ints, cycle_s: int) -> Ints:
    """How many pulses begin in each stretch [start, end); none where it is empty."""
    found: Ints = np.maximum(-((start - end) // cycle_s), 0)
    return found


def trains(start: Ints, end: Ints, on_s: int, cycle_s: int, whole_from: int) -> tuple[Ints, Ints, Ints]:
    """(number of the stretch, on, off) of each pulse in the stretches [start, end), in their order.

    A stretch that ends before the instant ``whole_from`` is one pulse, from its first ON to its last OFF. Raises
    :class:`RangeError` where more than :data:`MAX_PULSES` would be made.
    """
    made = counts(start, end, cycle_s)
    last_on = start + (made - 1) * cycle_s
    early = (end < whole_from) & (made > 1)
    times = np.where(early, 1, made)
    if times.sum() > MAX_PULSES:
        raise RangeError(f"{times.sum()} pulses in this range; accepted: at most {MAX_PULSES}, in a shorter range")
    number = np.repeat(np.arange(start.size), times)
    nth = np.arange(number.size) - np.repeat(np.cumsum(times) - times, times)
    on = start[number] + nth * cycle_s
    off = np.minimum(np.where(early[number], last_on[number], on) + on_s, end[number])
    return number, on, off


def woven(first: Ints, second: Ints) -> Ints:
    """The two in turns: first, second, first, second."""
    return np.stack([first, second], axis=1).ravel()
