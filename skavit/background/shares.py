"""Work of many like pieces, shared out over some processes of the job's own."""

import gc
import os
import time
from collections.abc import Callable, Sequence
from concurrent.futures import ProcessPoolExecutor, as_completed
from multiprocessing import get_context
from typing import TypeVar

from django.db import connections

A_TURN = 20
SAY_S = 0.5

Given = TypeVar("Given")


def turns(keys: Sequence[int], a_turn: int = A_TURN) -> list[Sequence[int]]:
    """Keys by turns of so many."""
    return [keys[start : start + a_turn] for start in range(0, len(keys), a_turn)]


def shared_out(
    keys: Sequence[int],
    work: Callable[[Sequence[int]], Given],
    done: Callable[[int], None],
    a_turn: int = A_TURN,
    within_s: float | None = None,
) -> list[Given | None]:
    """What ``work`` gives for each turn of keys, in their order, done on all cores; None for turns that were not done in time.

    ``done`` is told now and then, and at the end, how many keys are. What one raises ends all. ``work`` is a function of a module (or a partial
    of one): it is called in a forked process with connections of its own; a single turn is done here.
    """
    shares = turns(keys, a_turn)
    given: list[Given | None] = (
        [work(turn) for turn in shares] if len(shares) < 2 else _forked(shares, work, done, within_s)
    )
    if keys:
        done(len(keys))
    return given


def _forked(
    shares: list[Sequence[int]],
    work: Callable[[Sequence[int]], Given],
    done: Callable[[int], None],
    within_s: float | None,
) -> list[Given | None]:
    connections.close_all()  # a connection is not to be shared with the processes that follow
    gc.freeze()  # what is there already is walked no more: most of it is the application itself
    said, count = time.monotonic(), 0
    pool = ProcessPoolExecutor(os.cpu_count(), mp_context=get_context("fork"))
    under_way = {pool.submit(work, turn): len(turn) for turn in shares}
    try:
        for one in as_completed(under_way, within_s):
            one.result()
            count += under_way[one]
            if time.monotonic() - said > SAY_S:
                said = time.monotonic()
                done(count)
    except TimeoutError:
        # What is finished is kept; the rest ends with the job, whose group it is in.
        done(count)
    finally:
        pool.shutdown(wait=False, cancel_futures=True)
    return [one.result() if one.done() and not one.cancelled() else None for one in under_way]
