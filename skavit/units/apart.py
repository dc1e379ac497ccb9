"""Years of large plans worked out by a process beside the web server's: a page that computes leaves the others their turn.

Python runs one thread of a process at a time, so a year of ten seconds would hold every other page of its process up.
The web server switches this on (:mod:`skavit.serving`); commands, background work and tests compute where they are.
"""

import os
import threading
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from concurrent.futures import TimeoutError as NotInTime
from concurrent.futures.process import BrokenProcessPool
from multiprocessing import get_context
from typing import Any, TypeVar

from skavit.bounds import Busy
from skavit.processes import bound_memory, end_with_parent
from skavit.turns import waiting

NICE = 10  # pages come first
MEMORY_BYTES = 1_000_000_000  # on top of what it begins with
LIMIT_S = 50.0
A_CHILD = 50  # years that one process works out before another takes its place
WORDS = (
    "This plan takes more time or memory to work out than a page may. Accepted: fewer entries, or this one again later."
)

Given = TypeVar("Given")


class Apart:
    """One process of its own for each process of the server, begun when it is first needed."""

    def __init__(self) -> None:
        self.on = False
        self._pool: ProcessPoolExecutor | None = None
        self._of = 0  # the process that the pool belongs to: a fork begins its own
        self._lock = threading.Lock()

    def run(self, work: Callable[..., Given], *given: Any) -> Given:
        """What a function of a module gives, worked out there; here where it is not switched on. Raises :class:`Busy`."""
        if not self.on:
            return work(*given)
        try:
            with waiting():  # it has a limit of its own
                return self._begun().submit(work, *given).result(LIMIT_S)
        except (BrokenProcessPool, NotInTime, MemoryError) as error:
            self.end()
            raise Busy(WORDS) from error

    def _begun(self) -> ProcessPoolExecutor:
        with self._lock:
            if self._pool is None or self._of != os.getpid():
                self._of = os.getpid()
                context = get_context("forkserver")
                context.set_forkserver_preload(["skavit.core.findings", "skavit.units.year_of"])
                self._pool = ProcessPoolExecutor(1, context, _begin_child, max_tasks_per_child=A_CHILD)
            return self._pool

    def end(self) -> None:
        """End the process with whatever it does; the next year begins another."""
        with self._lock:
            pool, self._pool = self._pool, None
        if pool is None:
            return
        for process in list((pool._processes or {}).values()):
            process.kill()
        pool.shutdown(wait=False, cancel_futures=True)


def _begin_child() -> None:
    end_with_parent()
    os.nice(NICE)
    bound_memory(MEMORY_BYTES)


APART = Apart()
