"""What the unit's limits cannot hold: `over-capacity`, `no-such-days`, `too-fine`, `offset-too-large`.

The replay ignores limits: it runs the entries as if they could be keyed.
"""

from collections.abc import Iterator

import numpy as np

from skavit.core.findings.finding import Case, Finding, Remedy, Rule, Severity
from skavit.core.ground.arrays import Ints
from skavit.core.memory.banks import place
from skavit.core.plan.entry import Entry
from skavit.core.plan.times import ClockTime, LimitedTime, sun_time_of
from skavit.core.text.wording import capital, count, days_text, duration_text


class _Limit(Rule):
    """Shared by the rules on limits: one finding for all entries that a limit does not hold."""

    def report(self, case: Case, slots: list[int], headline: str, why: str) -> Finding:
        """A warning on the dates on which the entries act; fitting anew mends it where it needs no correction."""
        by_entry = case.plan.unit.limits.offset_by == "entry"
        return case.make(
            self.slug,
            None,
            headline,
            why,
            dates=_dates(case, slots),
            slots=tuple(slots),
            severity=Severity.WARNING,
            remedy=Remedy(label="Fit within its limits", entries=case.fitted) if by_entry and slots else None,
        )

    def named(self, case: Case, slots: list[int]) -> str:
        """The entries as a person names them."""
        return capital(", ".join(case.slot(slot) for slot in slots))


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

    def find(self, case: Case) -> Iterator[Finding]:
        """One finding a limit that is exceeded."""
        limits, unit = case.plan.unit.limits, case.plan.unit
        used, most = len(case.entries), limits.entries
        if most is not None and used > most:
            beyond = list(range(most, used))
            why = f"{count(used, 'entry', 'entries')} stand here. {self.named(case, beyond)} cannot be keyed."
            yield self.report(case, beyond, f"The unit holds {count(most, 'entry', 'entries')}", why)
        if limits.slots is not None:
            yield from self._without_slot(case)
        for slot, entry in enumerate(case.entries):
            sun = sun_time_of(entry.at)
            if sun is not None and limits.sun_events is not None and sun.event not in limits.sun_events:
                headline = f"The unit does not know {sun.event.name.lower()}"
                yield self.report(case, [slot], headline, f"{self.named(case, [slot])} cannot be keyed.")
            if limits.actions is not None and entry.action not in limits.actions:
                headline = f"The unit has no {entry.action.upper()} entries"
                yield self.report(case, [slot], headline, f"{self.named(case, [slot])} cannot be keyed.")
        if limits.holidays is not None and len(unit.holidays) > limits.holidays:
            why = f"{count(len(unit.holidays), 'holiday')} stand here."
            yield self.report(case, [], f"The unit holds {count(limits.holidays, 'holiday')}", why)
        longest = max((holiday.days for holiday in unit.holidays), default=0)
        if limits.holiday_days_max is not None and longest > limits.holiday_days_max:
            headline = f"A holiday of the unit lasts {count(limits.holiday_days_max, 'day')} at most"
            yield self.report(case, [], headline, f"One of {count(longest, 'day')} stands here.")

    def _without_slot(self, case: Case) -> Iterator[Finding]:
        """Entries that the banks of the memory have no slot for; halves of pairs among them."""
        left = list(place(case.entries, case.plan.unit.limits).left)
        if left:
            pairs_only = all(bank.is_pair for bank in case.plan.unit.limits.slots or ())
            why = f"{self.named(case, left)} cannot be keyed."
            if pairs_only:
                why += " Its slots hold an ON and the OFF that follows it: half a pair is none."
            yield self.report(case, left, f"The memory has no slot for {count(len(left), 'entry', 'entries')}", why)


class NoSuchDays(_Limit):
    """Days that no day group of the unit is."""

    slug = "no-such-days"

    def find(self, case: Case) -> Iterator[Finding]:
        """One finding for all entries with such days."""
        limits = case.plan.unit.limits
        slots = [slot for slot, entry in enumerate(case.entries) if not limits.holds_days(entry.days)]
        if slots:
            told = ", ".join(dict.fromkeys(days_text(case.entries[slot].days) for slot in slots))
            why = f"{self.named(case, slots)} cannot be keyed for them in one slot."
            yield self.report(case, slots, f"The unit's day groups do not hold {told}", why)


class TooFine(_Limit):
    """Clock times between the unit's steps."""

    slug = "too-fine"

    def find(self, case: Case) -> Iterator[Finding]:
        """One finding for all entries with such times."""
        step = case.plan.unit.limits.clock_step_s
        if step is None:
            return
        slots = [slot for slot, entry in enumerate(case.entries) if any(t.seconds % step for t in _clock_times(entry))]
        if slots:
            headline = f"The unit's clock times go in steps of {duration_text(step)}"
            yield self.report(case, slots, headline, f"{self.named(case, slots)} cannot be keyed to the second.")


class OffsetTooLarge(_Limit):
    """Sun offsets beyond the unit's, or where it takes none with an entry."""

    slug = "offset-too-large"

    def find(self, case: Case) -> Iterator[Finding]:
        """One finding for all entries with such offsets."""
        limits = case.plan.unit.limits
        by_correction = limits.offset_by == "correction"
        most = 0 if by_correction else limits.sun_offset_max_min
        if most is None:
            return
        slots = [s for s, e in enumerate(case.entries) if (sun := sun_time_of(e.at)) and abs(sun.offset_min) > most]
        if slots:
            headline = (
                "The unit takes offsets as a correction only"
                if by_correction
                else f"The unit's sun offsets reach {most} min"
            )
            yield self.report(case, slots, headline, f"{self.named(case, slots)} cannot be keyed with its offset.")
