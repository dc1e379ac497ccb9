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
from skavit.core.memory import usual_end
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
        """By the OFF that usually ends it; where that leaves no period open, by another that ends some and sooner."""
        periods = _Periods.of(channel, slot, case.replay.end)
        for partner, apart in periods.ends():
            found = self._left_open(case, channel, periods, slot, partner, apart)
            if found is not None:
                return found
        return None

    def _left_open(
        self, case: Case, channel: ChannelCase, periods: "_Periods", slot: int, partner: int, apart: int
    ) -> Finding | None:
        covered = np.isin(periods.day + apart, channel.events.day[channel.events.slot == partner])
        if covered.all() or not (covered & periods.ended).any():
            return None
        days = periods.day[~covered] + apart
        unmended = difference(channel.extra, case.mended_by_clock[channel.index][0])
        due = _from_its_start(unmended, periods.due(covered), periods.on[~covered])
        spans = within(unmended, due, periods.off[~covered])
        if spans.total_s <= HOUR_S or not self._by_its_days(case, partner, days):
            return None
        needed = int(np.bitwise_or.reduce(1 << np.unique((days + 3) % 7)))
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

    def _by_its_days(self, case: Case, partner: int, days: Ints) -> bool:
        """Whether it is the OFF's days, and not a holiday or the end of the range, that leave the periods open."""
        acts: Bools = case.entries[partner].days.matches(Calendar(days))
        return not acts.all()


@dataclass(frozen=True, slots=True)
class _Periods:
    """The periods that one ON begins: when, on which of the unit's dates, when they end, and by which OFF."""

    on: Ints  # (n,) instants, rising
    day: Ints  # (n,)
    off: Ints  # (n,) instants; the range's end where none follows
    by: Ints  # (n,) slots; -1 where none follows
    later: Ints  # (n,) dates from the ON to its OFF
    ended: Bools  # (n,)

    @classmethod
    def of(cls, channel: ChannelCase, slot: int, until: int) -> "_Periods":
        """Those of an entry on a channel that begin before the range's end."""
        events = channel.events
        rows = np.nonzero((events.slot == slot) & (events.instant < until))[0]
        off_rows = np.nonzero(~events.turns_on)[0]
        following = np.searchsorted(off_rows, rows)
        ended = following < off_rows.size
        off = off_rows[np.minimum(following, off_rows.size - 1)] if off_rows.size else rows
        return cls(
            on=events.instant[rows],
            day=events.day[rows],
            off=np.where(ended, np.minimum(events.instant[off], until), until),
            by=np.where(ended, events.slot[off], -1),
            later=np.where(ended, events.day[off] - events.day[rows], 0),
            ended=ended,
        )

    def ends(self) -> Iterator[tuple[int, int]]:
        """(the OFF, how many dates later) that end some: the usual one first, then the others, the soonest first."""
        if not self.ended.any():
            return
        usual = usual_end(self.by[self.ended], self.later[self.ended])
        yield usual
        every = {(int(a), int(b)) for a, b in zip(self.by[self.ended], self.later[self.ended], strict=True)} - {usual}
        length = self.off - self.on
        yield from sorted(every, key=lambda end: float(np.median(length[(self.by == end[0]) & (self.later == end[1])])))

    def due(self, covered: Bools) -> Ints:
        """When the OFF would have been due on the open dates: after as long as on the covered dates around them."""
        rows = np.arange(self.on.size)
        known = covered & self.ended
        length = np.interp(rows[~covered], rows[known], (self.off - self.on)[known])
        found: Ints = self.on[~covered] + length.astype(np.int64)
        return found


def _from_its_start(extra: Spans, due: Ints, on: Ints) -> Ints:
    """Where burning has begun already when an OFF is due by a guess: its beginning, after the ON."""
    if not len(extra):
        return due
    place = np.maximum(np.searchsorted(extra.on, due, side="right") - 1, 0)
    burning = (extra.on[place] <= due) & (extra.off[place] > due)
    found: Ints = np.where(burning, np.maximum(extra.on[place], on), due)
    return found
