"""The kinds of background work: each is a function of a job that gives an outcome, in a module that the settings name."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from skavit.background.models import Job
from skavit.crews.models import Role


@dataclass(frozen=True, slots=True, kw_only=True)
class Outcome:
    """What came of a piece of work."""

    told: str
    then: str = ""  # the address that shows it
    answer: bytes | None = None
    answer_name: str = ""
    answer_type: str = ""


# The exit of a child process whose memory was not enough.
OUT_OF_MEMORY = 77

Report = Callable[[int, str], None]  # takes how far it is, in hundredths, and what is being done
Work = Callable[[Job, Report], Outcome]

WORK: dict[str, Work] = {}
# Who may ask for a kind of work, and have what came of it.
ASKED_BY: dict[str, tuple[Role, ...]] = {}
OWNERS, EDITORS, MEMBERS = (Role.OWNER,), (Role.OWNER, Role.INSTALLER), tuple(Role)


# How many seconds a kind of work may take, by what it is asked for.
LIMIT_S: dict[str, Callable[[dict[str, Any]], float]] = {}
USUAL_LIMIT_S = 120.0


def does(
    name: str, roles: tuple[Role, ...], limit_s: Callable[[dict[str, Any]], float] = lambda _: USUAL_LIMIT_S
) -> Callable[[Work], Work]:
    """Register a function as what does a kind of work, for people of these roles, within a time."""

    def put_down(work: Work) -> Work:
        WORK[name], ASKED_BY[name], LIMIT_S[name] = work, roles, limit_s
        return work

    return put_down
