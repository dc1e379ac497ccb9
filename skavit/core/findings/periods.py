"""Periods that nothing ends: `never-off` and `days-uncovered`."""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from skavit.core.findings import remedies
from skavit.core.findings.case import Case, ChannelCase, Rule, next_after, within
from skavit.core.findings.facts import SLOT, PeriodFacts, SlotFact
from skavit.core.findings.finding import Finding
from skavit.core.ground.arrays import DAY_S, HOUR_S, Bools, Ints
from skavit.core.ground.records import member
from skavit.core.ground.spans import Spans, difference
from skavit.core.memory.pairing import usual_end
from skavit.core.plan.days import Calendar
from skavit.core.text.wording import Words, capital, days_text


@dataclass(frozen=True, slots=True, kw_only=True)
class Standing(PeriodFacts):
    """The ON that nothing ends."""

    slot: SlotFact = member(SLOT)

    def why(self, words: Words) -> str:
        """Which."""
        return f"No OFF follows {self.slot.text(words)} within 24 hours."


@dataclass(frozen=True, slots=True, kw_only=True)
class Uncovered(PeriodFacts):
    """An ON, and the OFF that leaves some of its periods open."""

    on: SlotFact = member(SLOT)
    off: SlotFact = member(SLOT)
    over_midnight: bool

    def why(self, words: Words) -> str:
        """The days of both."""
        moved = " of the day before" if self.over_midnight else ""
        return (
            f"{capital(self.on.text(words))} acts {days_text(self.on.days)}; {self.off.text(words)} that ends it acts "
            f"{days_text(self.off.days)}, and so leaves some periods{moved} open until its next day."
        )


class NeverOff(Rule):
    """An ON that no OFF follows within 24 hours, and that burns on unwanted."""

    slug = "never-off"
    description = "an ON that no OFF follows within 24 hours, and that burns on"
    facts = (Standing,)

    def find(self, case: Case) -> Iterator[Finding]:
        """One finding for each entry that is left standing."""
        for channel in case.channels:
            events = channel.events
            offs = events.instant[~events.turns_on]
            far = case.replay.end + 3 * DAY_S
            for slot in np.unique(events.slot[events.turns_on]):
                on = events.instant[events.slot == slot]
                off = next_after(on, offs, far)
                # Two days of events follow the range: an ON of its last hours is judged by what really follows.
                left = (off - on > DAY_S) & (on < case.replay.end)
                spans = within(channel.extra, on[left], np.minimum(off[left], case.replay.end))
                if spans.total_s > HOUR_S and self._soon(spans, on[left], channel):
                    yield self._finding(case, channel, int(slot), spans)

    def _soon(self, spans: Spans, on: Ints, channel: ChannelCase) -> bool:
        """Whether the unwanted part begins within 24 hours of such an ON: else a long period was wanted."""
        starts = next_after(on - 1, spans.on, int(spans.on[-1]) + 10 * DAY_S)
        return bool(((starts - on <= DAY_S) & (starts >= on)).any() or channel.extra.at(on).any())

    def _finding(self, case: Case, channel: ChannelCase, slot: int, spans: Spans) -> Finding:
        return case.make(
            self.slug,
            channel,
            Standing(period=case.burning(channel, spans), slot=case.slot(slot)),
            extra=spans,
            slots=(slot,),
            remedy=remedies.best(case, spans, remedies.missing_off(case, channel.number, slot)),
        )


class DaysUncovered(Rule):
    """An ON acts on days on which its OFF does not."""

    slug = "days-uncovered"
    description = "an ON acts on days on which the OFF that ends it does not"
    facts = (Uncovered,)

    def find(self, case: Case) -> Iterator[Finding]:
        """One finding for each ON entry whose usual OFF leaves some of its periods open."""
        for channel in case.channels:
            if not len(channel.extra):
                continue
            for slot in np.unique(channel.events.slot[channel.events.turns_on]):
                if case.entries[slot].ends_itself:
                    continue
                found = self._uncovered(case, channel, int(slot))
                if found:
                    yield found

    def _uncovered(self, case: Case, channel: ChannelCase, slot: int) -> Finding | None:
        events = channel.events
        rows = np.nonzero(events.slot == slot)[0]
        off_rows = np.nonzero(~events.turns_on)[0]
        following = np.searchsorted(off_rows, rows)
        rows, following = rows[following < off_rows.size], following[following < off_rows.size]
        if not rows.size:
            return None
        off = off_rows[following]
        partner, apart = usual_end(events.slot[off], events.day[off] - events.day[rows])
        covered = np.isin(events.day[rows] + apart, events.day[events.slot == partner])
        open_rows, ends = rows[~covered], events.instant[off[~covered]]
        due = self._due(events.instant[rows], events.instant[off], covered)
        unmended = difference(channel.extra, case.mended_by_clock[channel.index][0])
        spans = within(unmended, due, np.minimum(ends, case.replay.end))
        if spans.total_s <= HOUR_S or not self._by_its_days(case, partner, events.day[open_rows] + apart):
            return None
        weekdays = (events.day[open_rows] + apart + 3) % 7
        needed = int(np.bitwise_or.reduce(1 << np.unique(weekdays)))
        facts = Uncovered(
            period=case.burning(channel, spans),
            on=case.slot(slot),
            off=case.slot(partner),
            over_midnight=bool(apart),
        )
        return case.make(
            self.slug,
            channel,
            facts,
            extra=spans,
            slots=(slot, partner),
            remedy=remedies.best(case, spans, remedies.widen(case, partner, needed)),
        )

    def _due(self, on: Ints, off: Ints, covered: Bools) -> Ints:
        """When the OFF would have been due on the open dates: after as long as on the covered dates around them."""
        rows = np.arange(on.size)
        length = np.interp(rows[~covered], rows[covered], (off - on)[covered])
        return on[~covered] + length.astype(np.int64)

    def _by_its_days(self, case: Case, partner: int, days: Ints) -> bool:
        """Whether it is the OFF's days, and not a holiday or the end of the range, that leave the periods open."""
        acts: Bools = case.entries[partner].days.matches(Calendar(days))
        return not acts.all()
