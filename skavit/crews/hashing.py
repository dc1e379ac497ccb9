"""Passwords hashed in turn, so that a hundred logins at once leave the pages their processors."""

import threading
from collections.abc import Iterator
from contextlib import contextmanager
from http import HTTPStatus
from typing import Any

from django.contrib.auth.hashers import PBKDF2PasswordHasher

from skavit.server.bounds import Busy

# Of each process of the server, which has two: so two are hashed at once.
AT_ONCE, MOST_WAITING, WAITING_S = 1, 3, 3.0
_TURN = threading.BoundedSemaphore(AT_ONCE)
_WAITING = threading.BoundedSemaphore(AT_ONCE + MOST_WAITING)


class TooManyLogins(Busy):
    """So many passwords are being looked at that this one must wait."""

    status = HTTPStatus.TOO_MANY_REQUESTS


@contextmanager
def _turn() -> Iterator[None]:
    """Wait briefly for a turn; raises :class:`TooManyLogins` where others wait already, or it does not come."""
    words = "Many people are logging in at this moment. Accepted: the same again in a few seconds."
    if not _WAITING.acquire(blocking=False):
        raise TooManyLogins(words)
    try:
        if not _TURN.acquire(timeout=WAITING_S):
            raise TooManyLogins(words)
        try:
            yield
        finally:
            _TURN.release()
    finally:
        _WAITING.release()


class HasherInTurn(PBKDF2PasswordHasher):
    """Django's own hasher, one password at a time."""

    def encode(self, *args: Any, **kwargs: Any) -> str:
        """Hash a password; looking at one hashes it too."""
        with _turn():
            found: str = super().encode(*args, **kwargs)
        return found
