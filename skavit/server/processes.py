"""What the project's child processes have in common."""

import ctypes
import os
import resource
import signal

# Of all work but the pages of large plans (skavit.apart): a worker is told which queues are its own.
QUEUE = "skavit"
NICE = 10  # pages come first
MEMORY_BYTES = 1_000_000_000  # on top of what the application itself has
PR_SET_PDEATHSIG = 1  # prctl(2), linux/prctl.h


def end_with_parent() -> None:
    """Let the kernel end this process once the one that began it is gone, as when that is killed."""
    ctypes.CDLL(None).prctl(PR_SET_PDEATHSIG, signal.SIGKILL)


def begin_beside_pages() -> None:
    """Let this process work for the pages: it ends with its parent, yields to them, and takes 1 GB more at most."""
    end_with_parent()
    os.nice(NICE)
    bound_memory(MEMORY_BYTES)


def bound_memory(more: int) -> None:
    """Let this process take so many bytes more than it has; what asks for more meets a MemoryError."""
    with open("/proc/self/statm", encoding="ascii") as statm:  # noqa: PTH123  a file of the kernel
        has = int(statm.read().split()[0]) * resource.getpagesize()
    resource.setrlimit(resource.RLIMIT_AS, (has + more, has + more))
