"""What is wrong: single faults put into a unit, replayed, and compared with what somebody saw."""

from skavit.core.causes.fault import Cause
from skavit.core.causes.looks import BLANK, MAX_LOOKS, Bed, Blank, Happened, Look, read_looks
from skavit.core.causes.ranking import Causes, Likely, Pair, find_causes
from skavit.core.causes.texts import cause_text, check_text
from skavit.core.causes.things import Thing, first_of, spans_of, things_of
from skavit.core.causes.what_no_replay_shows import Beyond, beyond

__all__ = [
    "BLANK",
    "MAX_LOOKS",
    "Bed",
    "Beyond",
    "Blank",
    "Cause",
    "Causes",
    "Happened",
    "Likely",
    "Look",
    "Pair",
    "Thing",
    "beyond",
    "cause_text",
    "check_text",
    "find_causes",
    "first_of",
    "read_looks",
    "spans_of",
    "things_of",
]
