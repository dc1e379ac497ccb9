"""Slips of the hand: `half-day-slip` and `sun-swapped`. Each is tried by replay: what was meant would match."""

from abc import abstractmethod
from collections.abc import Iterator
from dataclasses import dataclass, replace
from itertools import combinations, islice
from typing import ClassVar

import numpy as np

from skavit.core.findings import remedies
from skavit.core.findings.acts import ChangeTimes, times_text
from skavit.core.findings.case import Case, ChannelCase, Rule
from skavit.core.findings.facts import NUMBER, SLOTS, Facts, SlotFact, slots_text
from skavit.core.findings.finding import Finding, Severity
from skavit.core.findings.remedy import Remedy, WithEntries
from skavit.core.ground.arrays import DAY_S, HALF_DAY_S
from skavit.core.ground.records import listed, member
from skavit.core.ground.spans import EMPTY, Spans, difference
from skavit.core.plan.entry import Entry
from skavit.core.plan.times import TIME, ClockTime, SunTime, Time
from skavit.core.text.wording import Words, capital, duration_text

# An AM/PM slip of the clock itself leaves it out by twelve hours and what it drifts.
NEAR_HALF_DAY_S = 1800
# What was meant must leave less than this share of the channel's wrong hours.
LEFT = 0.1
MOST_TRIED = 8

Entries = tuple[Entry, ...]


def _left(case: Case, channel: ChannelCase, entries: Entries) -> tuple[Spans, Spans]:
    """What of a channel's extra and missing the entries would take away, or nothing where they do not match."""
    tried = case.tried(case.plan.with_entries(entries), (channel.number,), case.budgets.slips)
    if tried is None:
        return EMPTY, EMPTY
    other = tried[0]
    if other.wrong_s > LEFT * channel.replay.wrong_s:
        return EMPTY, EMPTY
    return difference(channel.extra, other.extra), difference(channel.missing, other.missing)


@dataclass(frozen=True, slots=True, kw_only=True)
class Slipped(Facts):
    """The entries that a slip made, and the times that would match."""

    slots: tuple[SlotFact, ...] = member(SLOTS)
    meant: tuple[Time, ...] = member(listed(TIME))
    half_day: bool  # AM for PM; else sunrise for sunset

    def headline(self, words: Words) -> str:
        """What would match."""
        told = times_text(((slot.number, at) for slot, at in zip(self.slots, self.meant, strict=True)), words)
        return f"{capital(slots_text(self.slots, words, ' and '))}: {told} would match what is wanted"

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


class _Slip(Rule):
    """Shared by both: times of a channel's entries changed as they may have been meant."""

    half_day: ClassVar[bool]

    @abstractmethod
    def meant(self, time: Time) -> ClockTime | SunTime | None:
        """What may have been meant for a time; None where the slip does not apply."""

    def find(self, case: Case) -> Iterator[Finding]:
        """At most one finding a channel: the first change of one entry, or of two, that matches what is wanted."""
        for channel in case.channels:
            if channel.replay.wrong_s / 3600 / case.years > 1:
                yield from islice(self._matching(case, channel), 1)

    def _matching(self, case: Case, channel: ChannelCase) -> Iterator[Finding]:
        others = {
            slot: other
            for slot, entry in enumerate(case.entries)
            if channel.number in entry.channels and (other := self.meant(entry.at))
        }
        mine = list(others)[:MOST_TRIED]
        for slots in [(slot,) for slot in mine] + list(combinations(mine, 2)):
            entries = case.entries
            for slot in slots:
                entries = remedies.changed(entries, slot, replace(entries[slot], at=others[slot]))
            extra, missing = _left(case, channel, entries)
            if not len(extra) and not len(missing):
                continue
            # What matches as well without the entries is no slip of theirs: they are stray.
            fewer = tuple(entry for slot, entry in enumerate(case.entries) if slot not in slots)
            if any(len(spans) for spans in _left(case, channel, fewer)):
                continue
            meant = tuple(others[slot] for slot in slots)
            yield case.make(
                self.slug,
                channel,
                Slipped(slots=tuple(map(case.slot, slots)), meant=meant, half_day=self.half_day),
                extra=extra,
                missing=missing,
                slots=slots,
                remedy=Remedy(
                    act=ChangeTimes(tuple((slot + 1, others[slot]) for slot in slots)), change=WithEntries(entries)
                ),
            )


class HalfDaySlip(_Slip):
    """AM for PM: twelve hours more or less would match what is wanted."""

    slug = "half-day-slip"
    description = "twelve hours more or less would match: AM was keyed for PM, in an entry or in the clock"
    facts = (Slipped, ClockSlipped)
    half_day = True

    def meant(self, time: Time) -> ClockTime | SunTime | None:
        """A clock time in the other half of the day."""
        return ClockTime((time.seconds + HALF_DAY_S) % DAY_S) if isinstance(time, ClockTime) else None

    def find(self, case: Case) -> Iterator[Finding]:
        """The clock itself first: then no entry is to blame."""
        ahead = case.replay.unit_clock.ahead_s(np.array([case.replay.start]))[0]
        if abs(abs(ahead) - HALF_DAY_S) > NEAR_HALF_DAY_S:
            yield from super().find(case)
            return
        yield case.make(
            self.slug,
            None,
            ClockSlipped(ahead_s=float(ahead)),
            dates=np.arange(case.replay.first, case.replay.last + 1),
            severity=Severity.NOTE,
        )


class SunSwapped(_Slip):
    """Sunrise where sunset would match what is wanted, or the other way round."""

    slug = "sun-swapped"
    description = "sunrise where sunset would match, or the other way round"
    facts = (Slipped,)
    half_day = False

    def meant(self, time: Time) -> ClockTime | SunTime | None:
        """The sun time of the other half of the day."""
        return replace(time, event=time.event.swapped) if isinstance(time, SunTime) else None
