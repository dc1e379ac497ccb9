"""Whether this process leaves what takes long to the worker: the web server does, commands and tests work it out."""

from collections.abc import Callable
from dataclasses import dataclass


class TakesLong(Exception):
    """A request asks for more than a page may work out: the worker answers it."""


@dataclass
class Switch:
    """On or off, for the whole process."""

    on: bool = False


TO_WORKER = Switch()
# What rooms above do as a process begins that answers for the web server.
AS_ANSWERING_BEGINS: list[Callable[[], None]] = []
