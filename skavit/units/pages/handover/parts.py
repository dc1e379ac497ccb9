"""What the page of the moment of leaving is put together from; the rows are a trade's."""

from dataclasses import dataclass

from skavit.core.ground.arrays import DAY_S
from skavit.core.plan.document import Plan
from skavit.core.text.wording import Words, weekday_date
from skavit.server.now import local_digits


@dataclass(frozen=True, slots=True, kw_only=True)
class Means:
    """What a mode would mean now."""

    mode: str
    text: str


@dataclass(frozen=True, slots=True, kw_only=True)
class HandoverRow:
    """A channel at the moment of leaving."""

    name: str
    state: str
    leave: str
    back: str  # what to do where the cover or a test has switched it
    differs: str  # what its entries do instead; empty where they do what is wanted
    next: list[tuple[str, str, str]]  # when, ON or OFF, by which slot
    prospects: list[Means]


@dataclass(frozen=True, slots=True, kw_only=True)
class Leaving:
    """What of the moment of leaving is a trade's: its outputs, programs or zones, what to test, what to look out for."""

    rows: list[HandoverRow]
    test: tuple[str, ...]
    warnings: tuple[str, ...]


def when_text(plan: Plan, instant: int, words: Words) -> str:
    """An instant by the site's clock; with its seconds where the unit gives pulses."""
    digits = local_digits(plan, instant)
    pulsing = any(entry.ends_itself for entry in plan.unit.all_entries)
    shown = words.clock(digits % DAY_S) if pulsing else words.minute(digits % DAY_S)
    return f"{weekday_date(digits // DAY_S)} {shown}"
