"""Errors of the application that more than one room raises."""

from http import HTTPStatus
from typing import ClassVar

from skavit.core.ground.errors import UserError


class NameTaken(UserError):
    """Something else of the crew, or somebody else, has the name; ``field`` is that in which it was typed."""

    def __init__(self, text: str, field: str = "name") -> None:
        self.field = field
        super().__init__(text)


class TooMany(UserError):
    """There are as many of these as anybody can tell apart."""


class Stale(UserError):
    """What a form was made from has been changed since; what was typed is still with the caller.

    ``made_from`` is the hidden field that says what the form was made from, ``newest`` what it must say from now on.
    """

    status: ClassVar[HTTPStatus] = HTTPStatus.CONFLICT

    def __init__(self, text: str, newest: int, field: str = "version") -> None:
        self.newest, self.made_from = newest, field
        super().__init__(text)


def status_of(error: UserError) -> HTTPStatus:
    """The status of an answer that tells an error: its own, else 422."""
    return getattr(error, "status", HTTPStatus.UNPROCESSABLE_ENTITY)
