"""Running a job in a child process: within a time, within a memory, ended where it is cancelled."""

import multiprocessing
import os
import signal
import time
from contextlib import suppress
from typing import Any

from django.db import connection

from skavit.background import services
from skavit.background.work import LIMIT_S, OUT_OF_MEMORY

LOOK_S = 0.25
SAY_S = 5
STOPPING_S = 3
TOO_LONG = "It was not done within {minutes:.0f} minutes, and was ended. Nothing was changed."
TOO_LARGE = "It took more memory than it may, and was ended. Nothing was changed."
BROKEN = "It came to no end; the worker's output says why. Nothing was changed."


def run(pk: int) -> None:
    """Run a job, and see to it that it ends."""
    job = services.take_up(pk)
    if job is None:
        return
    limit_s = LIMIT_S[job.does](job.arguments)
    context = multiprocessing.get_context("forkserver")
    # The server of forks loads the application once; each child of it begins in some milliseconds.
    context.set_forkserver_preload(["skavit.background.child"])
    child = context.Process(target=_child, args=(pk, connection.settings_dict["NAME"]), daemon=False)
    child.start()  # no daemon: it may share its work out
    try:
        _watch(pk, child, limit_s)
    finally:
        _stop(child)


def _child(pk: int, database: str) -> None:
    from skavit.background import child  # it sets the application up, in the child alone

    child.main(pk, database)


def _watch(pk: int, child: Any, limit_s: float) -> None:
    said = time.monotonic()
    until = said + limit_s
    while child.is_alive():
        child.join(LOOK_S)
        if time.monotonic() > until:
            services.fail(pk, TOO_LONG.format(minutes=limit_s / 60))
            return
        if time.monotonic() - said > SAY_S:
            said = time.monotonic()
            if not services.still_wanted(pk):
                return
        elif not services.is_running(pk):
            return
    if child.exitcode:
        services.fail(pk, TOO_LARGE if child.exitcode == OUT_OF_MEMORY else BROKEN)


def _stop(child: Any) -> None:
    """End a child, and with it the processes that it has shared its work out to."""
    for how in (signal.SIGTERM, signal.SIGKILL):
        with suppress(ProcessLookupError):
            os.killpg(child.pid, how)
        child.join(STOPPING_S)
        if not child.is_alive():
            break
        os.kill(child.pid, how)  # it has not come to its own group yet
    child.join()
