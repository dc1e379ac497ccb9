"""What the unit's limits cannot hold: `over-capacity`, `no-such-days`, `too-fine`, `offset-too-large`.

The replay ignores limits: it runs the entries as if they could be keyed.
"""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from skavit.core.findings.acts import FitAnew
from skavit.core.findings.case import Case, Rule
from skavit.core.findings.facts import SAID, SLOTS, WHOLE, Facts, SlotFact, slots_text
from skavit.core.findings.finding import Finding, Severity
from skavit.core.findings.heating_limits import (
    FinerPoints,
    NoZoneDays,
    TooManyPeriods,
    finer_points,
    no_zone_days,
    too_many_periods,
)
from skavit.core.findings.remedy import Remedy, WithEntries
from skavit.core.ground.arrays import Ints
from skavit.core.ground.records import member
from skavit.core.memory import place
from skavit.core.plan.entry import Entry
from skavit.core.plan.times import ClockTime, LimitedTime, sun_time_of
from skavit.core.text.wording import Words, capital, count, days_text, duration_text


@dataclass(frozen=True, slots=True, kw_only=True)
class Beyond(Facts):
    """What a limit is, and which entries it does not hold."""

    slots: tuple[SlotFact, ...] = member(SLOTS, default=())

    def cannot(self, words: Words, tail: str = "") -> str:
        """The entries cannot be keyed."""
        return f"{capital(slots_text(self.slots, words))} cannot be keyed{tail}."

    def why(self, words: Words) -> str:
        """Which entries."""
        return self.cannot(words)


@dataclass(frozen=True, slots=True, kw_only=True)
class TooMany(Beyond):
    """More entries than slots."""

    most: int = member(WHOLE)
    used: int = member(WHOLE)

    def headline(self, words: Words) -> str:
        """The limit."""
        return f"The unit holds {count(self.most, 'entry', 'entries')}"

    def why(self, words: Words) -> str:
        """How many stand here, and which are too many."""
        return f"{count(self.used, 'entry', 'entries')} stand here. {self.cannot(words)}"


@dataclass(frozen=True, slots=True, kw_only=True)
class NoSlot(Beyond):
    """Entries that the banks of the memory have no slot for; halves of pairs among them."""

    pairs_only: bool = False

    def headline(self, words: Words) -> str:
        """How many."""
        return f"The memory has no slot for {count(len(self.slots), 'entry', 'entries')}"

    def why(self, words: Words) -> str:
        """Which."""
        tail = " Its slots hold an ON and the OFF that follows it: half a pair is none." if self.pairs_only else ""
        return self.cannot(words) + tail


@dataclass(frozen=True, slots=True, kw_only=True)
class Unknown(Beyond):
    """A sun time or an action that the unit does not have."""

    event: str = member(SAID, default="")
    action: str = member(SAID, default="")

    def headline(self, words: Words) -> str:
        """What it does not have."""
        return (
            f"The unit does not know {self.event}" if self.event else f"The unit has no {self.action.upper()} entries"
        )


@dataclass(frozen=True, slots=True, kw_only=True)
class TooManyHolidays(Facts):
    """More holidays than the unit holds, or a longer one."""

    most: int = member(WHOLE)
    there: int = member(WHOLE)
    long: bool = False  # days of one holiday, not holidays

    def headline(self, words: Words) -> str:
        """The limit."""
        if self.long:
            return f"A holiday of the unit lasts {count(self.most, 'day')} at most"
        return f"The unit holds {count(self.most, 'holiday')}"

    def why(self, words: Words) -> str:
        """What is here."""
        return (
            f"One of {count(self.there, 'day')} stands here."
            if self.long
            else f"{count(self.there, 'holiday')} stand here."
        )


@dataclass(frozen=True, slots=True, kw_only=True)
class WrongDays(Beyond):
    """Days that no day group is."""

    def headline(self, words: Words) -> str:
        """Which days."""
        told = ", ".join(dict.fromkeys(days_text(slot.days) for slot in self.slots))
        return f"The unit's day groups do not hold {told}"

    def why(self, words: Words) -> str:
        """Which entries."""
        return self.cannot(words, " for them in one slot")


@dataclass(frozen=True, slots=True, kw_only=True)
class Finer(Beyond):
    """Times between the steps."""

    step_s: int = member(WHOLE)

    def headline(self, words: Words) -> str:
        """The step."""
        return f"The unit's clock times go in steps of {duration_text(self.step_s)}"

    def why(self, words: Words) -> str:
        """Which entries."""
        return self.cannot(words, " to the second")


@dataclass(frozen=True, slots=True, kw_only=True)
class Further(Beyond):
    """Offsets that are too large, or that go into the correction only."""

    most_min: int | None = member(WHOLE, default=None)

    def headline(self, words: Words) -> str:
        """The limit."""
        if self.most_min is None:
            return "The unit takes offsets as a correction only"
        return f"The unit's sun offsets reach {self.most_min} min"

    def why(self, words: Words) -> str:
        """Which entries."""
        return self.cannot(words, " with its offset")


class _Limit(Rule):
    """Shared by the rules on limits: one finding for all entries that a limit does not hold."""

    def report(self, case: Case, slots: list[int], facts: Facts) -> Finding:
        """A warning on the dates on which the entries act; fitting anew mends it where it needs no correction."""
        by_entry = case.plan.unit.limits.offset_by == "entry"
        return case.make(
            self.slug,
            None,
            facts,
            dates=_dates(case, slots),
            slots=tuple(slots),
            severity=Severity.WARNING,
            remedy=Remedy(act=FitAnew(within_limits=True), change=WithEntries(case.fitted))
            if by_entry and slots
            else None,
        )

    def named(self, case: Case, slots: list[int]) -> tuple[SlotFact, ...]:
        """The entries as a person names them."""
        return tuple(case.slot(slot) for slot in slots)


def _dates(case: Case, slots: list[int]) -> Ints:
    acts = case.replay.events.day[np.isin(case.replay.events.slot, slots)]
    acts = np.unique(acts[(acts >= case.replay.first) & (acts <= case.replay.last)])
    return acts if acts.size else np.array([case.replay.first])


def _clock_times(entry: Entry) -> list[ClockTime]:
    """All clock times that stand in an entry."""
    at = entry.at
    times = [at.at, at.not_before, at.not_after] if isinstance(at, LimitedTime) else [at]
    return [time for time in times if isinstance(time, ClockTime)]


class OverCapacity(_Limit):
    """More entries or holidays than the memory has, or of a sort that it has no place for."""

    slug = "over-capacity"
    description = "more entries or holidays than the memory has, or of a sort that it has no place for"
    facts = (TooMany, NoSlot, Unknown, TooManyHolidays, TooManyPeriods)

    def find(self, case: Case) -> Iterator[Finding]:
        """One finding a limit that is exceeded."""
        limits, unit = case.plan.unit.limits, case.plan.unit
        used, most = len(case.entries), limits.entries
        if most is not None and used > most:
            beyond = list(range(most, used))
            yield self.report(case, beyond, TooMany(slots=self.named(case, beyond), most=most, used=used))
        if limits.slots is not None:
            yield from self._without_slot(case)
        for slot, entry in enumerate(case.entries):
            sun = sun_time_of(entry.at)
            if sun is not None and limits.sun_events is not None and sun.event not in limits.sun_events:
                event = sun.event.name.lower()
                yield self.report(case, [slot], Unknown(slots=self.named(case, [slot]), event=event))
            if limits.actions is not None and entry.action not in limits.actions:
                yield self.report(case, [slot], Unknown(slots=self.named(case, [slot]), action=entry.action))
        if limits.holidays is not None and len(unit.holidays) > limits.holidays:
            yield self.report(case, [], TooManyHolidays(most=limits.holidays, there=len(unit.holidays)))
        longest = max((holiday.days for holiday in unit.holidays), default=0)
        if limits.holiday_days_max is not None and longest > limits.holiday_days_max:
            yield self.report(case, [], TooManyHolidays(most=limits.holiday_days_max, there=longest, long=True))
        yield from too_many_periods(case)

    def _without_slot(self, case: Case) -> Iterator[Finding]:
        """Entries that the banks of the memory have no slot for; halves of pairs among them."""
        left = list(place(case.entries, case.plan.unit.limits).left)
        if left:
            only_pairs = case.plan.unit.limits.only_pairs
            yield self.report(case, left, NoSlot(slots=self.named(case, left), pairs_only=only_pairs))


class NoSuchDays(_Limit):
    """Days that no day group of the unit is."""

    slug = "no-such-days"
    description = "days that no day group of the unit is"
    facts = (WrongDays, NoZoneDays)

    def find(self, case: Case) -> Iterator[Finding]:
        """One finding for all entries with such days."""
        limits = case.plan.unit.limits
        slots = [slot for slot, entry in enumerate(case.entries) if not limits.holds_days(entry.days)]
        if slots:
            yield self.report(case, slots, WrongDays(slots=self.named(case, slots)))
        yield from no_zone_days(case)


class TooFine(_Limit):
    """Clock times between the unit's steps."""

    slug = "too-fine"
    description = "clock times between the unit's steps"
    facts = (Finer, FinerPoints)

    def find(self, case: Case) -> Iterator[Finding]:
        """One finding for all entries with such times."""
        yield from finer_points(case)
        step = case.plan.unit.limits.clock_step_s
        if step is None:
            return
        slots = [slot for slot, entry in enumerate(case.entries) if any(t.seconds % step for t in _clock_times(entry))]
        if slots:
            yield self.report(case, slots, Finer(slots=self.named(case, slots), step_s=step))


class OffsetTooLarge(_Limit):
    """Sun offsets beyond the unit's, or where it takes none with an entry."""

    slug = "offset-too-large"
    description = "sun offsets beyond the unit's, or where it takes none with an entry"
    facts = (Further,)

    def find(self, case: Case) -> Iterator[Finding]:
        """One finding for all entries with such offsets."""
        limits = case.plan.unit.limits
        by_correction = limits.offset_by == "correction"
        most = 0 if by_correction else limits.sun_offset_max_min
        if most is None:
            return
        slots = [s for s, e in enumerate(case.entries) if (sun := sun_time_of(e.at)) and abs(sun.offset_min) > most]
        if slots:
            told = None if by_correction else most
            yield self.report(case, slots, Further(slots=self.named(case, slots), most_min=told))
