"""Slips of the hand: `half-day-slip` and `sun-swapped`, in entries and in the clock."""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from skavit.core.findings.case import Case, Described, Rule
from skavit.core.findings.facts import NUMBER, SLOTS, Facts, SlotFact
from skavit.core.findings.finding import Finding, Severity
from skavit.core.ground.arrays import HALF_DAY_S
from skavit.core.ground.records import listed, member
from skavit.core.plan.times import TIME, Time
from skavit.core.text.wording import Words, capital, duration_text

# An AM/PM slip of the clock itself leaves it out by twelve hours and what it drifts.
NEAR_HALF_DAY_S = 1800


@dataclass(frozen=True, slots=True, kw_only=True)
class Slipped(Facts):
    """The entries that a slip made, and the times that would match."""

    slots: tuple[SlotFact, ...] = member(SLOTS)
    meant: tuple[Time, ...] = member(listed(TIME))
    half_day: bool  # AM for PM; else sunrise for sunset

    def headline(self, words: Words) -> str:
        """What would match."""
        told = [
            f"{capital(slot.text(words))}: {words.time(at)}" for slot, at in zip(self.slots, self.meant, strict=True)
        ]
        return f"{'; '.join(told)} would match what is wanted"

    def why(self, words: Words) -> str:
        """What was probably done."""
        a, b = ("AM", "PM") if self.half_day else ("Sunrise", "sunset")
        return f"{a} was probably keyed for {b}, or the other way round."


@dataclass(frozen=True, slots=True, kw_only=True)
class ClockSlipped(Facts):
    """A clock set to the other half of the day."""

    ahead_s: float = member(NUMBER)

    def headline(self, words: Words) -> str:
        """By how much it is out."""
        return f"The unit's clock is out by {duration_text(self.ahead_s)}: AM was probably set for PM"

    def why(self, words: Words) -> str:
        """What to do."""
        return "Set the other half of the day; its dates and its sun times follow."


class HalfDaySlip(Rule):
    """AM for PM: twelve hours more or less would match what is wanted."""

    slug = "half-day-slip"
    description = "twelve hours more or less would match: AM was keyed for PM, in an entry or in the clock"
    facts = (Slipped, ClockSlipped)

    def find(self, case: Case) -> Iterator[Finding]:
        """The clock itself; those of entries follow the changes that mend them."""
        ahead = case.replay.unit_clock.ahead_s(np.array([case.replay.start]))[0]
        if abs(abs(ahead) - HALF_DAY_S) <= NEAR_HALF_DAY_S:
            yield case.make(
                self.slug,
                None,
                ClockSlipped(ahead_s=float(ahead)),
                dates=np.arange(case.replay.first, case.replay.last + 1),
                severity=Severity.NOTE,
            )


class SunSwapped(Described):
    """Sunrise where sunset would match what is wanted, or the other way round."""

    slug = "sun-swapped"
    description = "sunrise where sunset would match, or the other way round"
    facts = (Slipped,)
