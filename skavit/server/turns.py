"""Work that is done in turn within a process, and which threads only wait for theirs: waiting is no hanging."""

import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from prometheus_client import CollectorRegistry, Counter

# All instruments of a process (skavit.watching.metrics).
INSTRUMENTS = CollectorRegistry()
COMPUTING = Counter("skavit_computing_seconds", "Seconds of years and fits worked out in turn.", registry=INSTRUMENTS)
WAITED = Counter("skavit_turn_seconds", "Seconds waited for a turn.", registry=INSTRUMENTS)
# Threads that wait for a turn, by their idents.
WAITING: set[int] = set()


@contextmanager
def waiting() -> Iterator[None]:
    """Meanwhile the thread counts as waiting."""
    me = threading.get_ident()
    WAITING.add(me)
    try:
        yield
    finally:
        WAITING.discard(me)


@contextmanager
def turn(lock: Any) -> Iterator[None]:
    """Hold a lock; while it is waited for, the thread counts as waiting."""
    begun = time.perf_counter()
    with waiting():
        lock.acquire()
    held = time.perf_counter()
    WAITED.inc(held - begun)
    try:
        yield
    finally:
        lock.release()
        COMPUTING.inc(time.perf_counter() - held)
