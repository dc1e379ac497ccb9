"""Which visits a unit needs, and by when."""

from skavit.core.due.due import Known, Shows, Sort, due_of
from skavit.core.due.learning import FoundFault, Learned, Seen, learned
from skavit.core.due.texts import due_text

__all__ = [
    "FoundFault",
    "Known",
    "Learned",
    "Seen",
    "Shows",
    "Sort",
    "due_of",
    "due_text",
    "learned",
]
