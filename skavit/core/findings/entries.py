"""Single entries that are wrong in themselves: `no-effect` and `same-instant`."""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from skavit.core.findings import remedies
from skavit.core.findings.acts import ClearSlot
from skavit.core.findings.case import Case, ChannelCase, Rule, next_after, within
from skavit.core.findings.facts import RUNS, SLOT, WHOLE, Facts, Runs, SlotFact, days_in, runs_of
from skavit.core.findings.finding import Finding, Severity
from skavit.core.findings.remedy import Remedy, WithEntries
from skavit.core.ground.arrays import DAY_S
from skavit.core.ground.records import member
from skavit.core.ground.spans import EMPTY
from skavit.core.memory import place
from skavit.core.simulation.events import channels_of
from skavit.core.text.wording import Words, capital, count, dates_text


@dataclass(frozen=True, slots=True, kw_only=True)
class Idle(Facts):
    """An entry that acts and changes nothing."""

    slot: SlotFact = member(SLOT)
    acts: int = member(WHOLE)

    def headline(self, words: Words) -> str:
        """Which slot."""
        return f"{capital(words.slot(self.slot.number))} changes nothing all year"

    def why(self, words: Words) -> str:
        """What it holds, and how often that acts."""
        entry = f"{self.slot.action.upper()} {words.time(self.slot.at)}"
        return f"{entry} acts on {count(self.acts, 'day')} and never alters the output."


@dataclass(frozen=True, slots=True, kw_only=True)
class Contradiction(Facts):
    """Two slots at one instant."""

    first: int = member(WHOLE)
    wins: SlotFact = member(SLOT)
    at_s: int = member(WHOLE)
    dates: Runs = member(RUNS)

    def headline(self, words: Words) -> str:
        """Which, at what time and when."""
        days = days_in(self.dates)
        return (
            f"{capital(words.both_slots(self.first, self.wins.number))} contradict each other at {words.minute(self.at_s)} on "
            f"{count(days.size, 'day')}, {dates_text(days)}"
        )

    def why(self, words: Words) -> str:
        """Which wins."""
        return (
            f"{capital(self.wins.text(words))} stands later and wins. Units differ in this: keep them a minute apart."
        )


class _Acting:
    """The events of a channel whose entries are kept so far, in their order."""

    def __init__(self, channel: ChannelCase, until: int) -> None:
        self.events, self.until = channel.events, until

    def changed_by(self, slot: int) -> bool:
        """Whether an entry alters the output at any of its events.

        It does where it is the last one at its instant and the one before it leaves another state. Until it first does
        so, the output is the same with it and without it, so the state before is that of either.
        """
        instant, on = self.events.instant, self.events.turns_on
        here = np.nonzero(self.events.slot == slot)[0]
        before = np.where(here > 0, on[here - 1], False) if here.size else on[:0]
        last = here == len(self.events) - 1
        wins = last | (instant[np.minimum(here + 1, len(self.events) - 1)] != instant[here])
        # What is switched on by the very last event, after the range, is not looked at any more.
        beyond = last & on[here] & (instant[here] >= self.until)
        return bool((wins & (before != on[here]) & ~beyond).any())

    def leave_out(self, slot: int) -> None:
        """Go on without an entry."""
        self.events = self.events.where(self.events.slot != slot)


class NoEffect(Rule):
    """An entry that changes nothing all year: stray, left over, or doubled."""

    slug = "no-effect"
    description = "an entry that changes nothing all year: stray, left over or doubled"
    facts = (Idle,)

    def find(self, case: Case) -> Iterator[Finding]:
        """One finding an entry; of doubled ones the later is told, since the other then has an effect."""
        acting = [_Acting(channel, case.replay.end) for channel in case.channels]
        idle = []
        for slot in range(len(case.entries) - 1, -1, -1):
            mine = [acting[number - 1] for number in channels_of(case.plan, case.entries[slot])]
            if not any(channel.changed_by(slot) for channel in mine):
                for channel in mine:
                    channel.leave_out(slot)
                idle.append(slot)
        # A slot that must hold a pair has a half to spare where the other half acts.
        limits = case.plan.unit.limits
        held = place(case.entries, limits).slots if idle and limits.slots is not None else ()
        spare = {slot for pair in held if not set(pair.entries) <= set(idle) for slot in pair.entries}
        yield from (self._finding(case, slot) for slot in idle if slot not in spare and not case.entries[slot].disabled)

    def _finding(self, case: Case, slot: int) -> Finding:
        acts = case.replay.events.day[case.replay.events.slot == slot]
        acts = acts[(acts >= case.replay.first) & (acts <= case.replay.last)]
        dates = np.unique(acts) if acts.size else np.array([case.replay.first])
        entry = case.entries[slot]
        facts = Idle(slot=case.slot(slot), acts=int(acts.size))
        channel = case.channels[entry.channels[0] - 1] if len(entry.channels) == 1 else None
        return case.make(
            self.slug,
            channel,
            facts,
            dates=dates,
            slots=(slot,),
            severity=Severity.NOTE,
            remedy=Remedy(act=ClearSlot(slot + 1), change=WithEntries(remedies.without(case.entries, slot))),
        )


class SameInstant(Rule):
    """Two entries contradict each other at the same instant; the higher slot wins."""

    slug = "same-instant"
    description = "two entries contradict each other at one instant; the later slot wins"
    facts = (Contradiction,)

    def find(self, case: Case) -> Iterator[Finding]:
        """One finding for each pair of slots."""
        for channel in case.channels:
            events = channel.events
            same = np.nonzero(
                (events.instant[1:] == events.instant[:-1])
                & (events.turns_on[1:] != events.turns_on[:-1])
                & (events.instant[1:] >= case.replay.start)
                & (events.instant[1:] < case.replay.end)
            )[0]
            if same.size:
                found = np.unique(np.stack([events.slot[same], events.slot[same + 1]]), axis=1)
                for a, b in found.T:
                    here = same[(events.slot[same] == a) & (events.slot[same + 1] == b)]
                    yield self._finding(case, channel, int(a), int(b), here)

    def _finding(self, case: Case, channel: ChannelCase, a: int, b: int, rows: np.ndarray) -> Finding:
        at = channel.events.instant[rows]
        on = case.entries[b].on
        hurts = (channel.extra if on else channel.missing).at(at)
        at = at[hurts] if hurts.any() else at
        # The dates named are those of the instants: what is wrong more than a day later is told where it happens.
        until = np.minimum(next_after(at, channel.events.instant, case.replay.end), at + DAY_S)
        wrong = within(channel.extra if on else channel.missing, at, until)
        dates = np.unique(case.replay.site_clock.digits(at) // DAY_S)
        return case.make(
            self.slug,
            channel,
            Contradiction(first=a + 1, wins=case.slot(b), at_s=case.local_time_s(at), dates=runs_of(dates)),
            extra=wrong if on else EMPTY,
            missing=EMPTY if on else wrong,
            dates=dates,
            slots=(a, b),
        )
