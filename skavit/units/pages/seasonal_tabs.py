"""The sets of entries of a plan by the dates from which they are keyed."""

from dataclasses import dataclass

from skavit.core.plan.days import Yearly
from skavit.core.plan.document import Plan
from skavit.core.plan.seasonal import SeasonalProgram
from skavit.core.text.wording import capital, start_words


@dataclass(frozen=True, slots=True, kw_only=True)
class SeasonalTab:
    """One of the sets of entries that stand in a unit in turn."""

    number: int
    label: str
    here: bool


def seasonal_tabs(plan: Plan, here: int) -> list[SeasonalTab]:
    """The sets of entries by the dates from which they are keyed."""
    labels = ["before any date", *(seasonal_label(keying) for keying in plan.unit.keyings)]
    return [SeasonalTab(number=n, label=label, here=n == here) for n, label in enumerate(labels)]


def seasonal_label(keying: SeasonalProgram) -> str:
    """A keying by its name and its date: Winter, from 5 Apr each year."""
    start = f"from {start_words(keying.start)}" + (" each year" if isinstance(keying.start, Yearly) else "")
    return f"{keying.name}, {start}" if keying.name else capital(start)
