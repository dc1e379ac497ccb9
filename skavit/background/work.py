"""The kinds of background work. An app names its own in its ``ready``; each is a function of a job that gives an outcome."""

from collections.abc import Callable
from dataclasses import dataclass

from skavit.background.models import Job


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


def does(name: str) -> Callable[[Work], Work]:
    """Put a function down as what does a kind of work."""

    def put_down(work: Work) -> Work:
        WORK[name] = work
        return work

    return put_down
