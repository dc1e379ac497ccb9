"""Answering a request in a process of its own, within a time and a memory; it keeps the years that it has worked out."""

import logging
import threading
from concurrent.futures import ProcessPoolExecutor
from concurrent.futures import TimeoutError as NotInTime
from concurrent.futures.process import BrokenProcessPool
from multiprocessing import get_context

from django.db import close_old_connections, connection

from skavit.apart import services
from skavit.server.processes import begin_beside_pages

LIMIT_S = 50.0
A_CHILD = 200  # requests that one process answers before another takes its place

Answer = tuple[int, list[tuple[str, str]], list[str], bytes]


class Answering:
    """One process, begun when it is first needed and anew after it was ended; one request at a time."""

    def __init__(self) -> None:
        self._pool: ProcessPoolExecutor | None = None
        self._lock = threading.Lock()

    def run(self, meta: dict[str, str], sent: bytes) -> Answer | None:
        """The answer to a request; None where it takes more time or memory than it may."""
        with self._lock:
            try:
                return self._begun().submit(_answer, meta, sent).result(LIMIT_S)
            except (BrokenProcessPool, NotInTime, MemoryError) as error:
                logging.getLogger(__name__).warning("A request was not answered: %s", type(error).__name__)
                self.end()
                return None

    def _begun(self) -> ProcessPoolExecutor:
        if self._pool is None:
            context = get_context("forkserver")
            context.set_forkserver_preload(["skavit.apart.child"])
            database = connection.settings_dict["NAME"]
            self._pool = ProcessPoolExecutor(1, context, _begin, (database,), max_tasks_per_child=A_CHILD)
        return self._pool

    def end(self) -> None:
        """End the process with whatever it does; the next request begins another."""
        pool, self._pool = self._pool, None
        if pool is None:
            return
        for process in list((pool._processes or {}).values()):
            process.kill()
        pool.shutdown(wait=False, cancel_futures=True)


def _begin(database: str) -> None:
    from skavit.apart import child  # it sets the application up, in the child alone

    child.take(database)
    begin_beside_pages()


def _answer(meta: dict[str, str], sent: bytes) -> Answer:
    from skavit.apart import child

    close_old_connections()
    try:
        return child.answer(meta, sent)
    finally:
        close_old_connections()


ANSWERING = Answering()


def run(pk: int) -> None:
    """Answer a request, and see to it that it is answered."""
    asked = services.take_up(pk)
    if asked is None:
        return
    answer = ANSWERING.run(asked.meta, bytes(asked.sent))
    if answer is None:
        services.refuse(pk, services.WORDS)
    else:
        services.finish(pk, *answer)
