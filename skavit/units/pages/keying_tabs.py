"""The sets of entries of a plan by the dates from which they are keyed."""

from dataclasses import dataclass

from skavit.core.plan.days import Yearly
from skavit.core.plan.document import Plan
from skavit.core.plan.keyings import Keying
from skavit.core.text.wording import capital, start_words


@dataclass(frozen=True, slots=True, kw_only=True)
class KeyingTab:
    """One of the sets of entries that stand in a unit in turn."""

    number: int
    label: str
    here: bool


def keying_tabs(plan: Plan, here: int) -> list[KeyingTab]:
    """The sets of entries by the dates from which they are keyed."""
    labels = ["before any date", *(keying_label(keying) for keying in plan.unit.keyings)]
    return [KeyingTab(number=n, label=label, here=n == here) for n, label in enumerate(labels)]


def keying_label(keying: Keying) -> str:
    """A keying by its name and its date: Winter, from 5 Apr each year."""
    start = f"from {start_words(keying.start)}" + (" each year" if isinstance(keying.start, Yearly) else "")
    return f"{keying.name}, {start}" if keying.name else capital(start)
