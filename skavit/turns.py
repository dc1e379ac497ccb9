"""Work that is done in turn within a process, and which threads only wait for theirs: waiting is no hanging."""

import threading
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

# Threads that wait for a turn, by their idents.
WAITING: set[int] = set()


@contextmanager
def turn(lock: Any) -> Iterator[None]:
    """Hold a lock; while it is waited for, the thread counts as waiting."""
    me = threading.get_ident()
    WAITING.add(me)
    try:
        lock.acquire()
    finally:
        WAITING.discard(me)
    try:
        yield
    finally:
        lock.release()
