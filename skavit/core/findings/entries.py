"""Single entries that are wrong in themselves: `no-effect` and `same-instant`."""

from collections.abc import Iterator

import numpy as np

from skavit.core.findings import remedies
from skavit.core.findings.finding import Case, ChannelCase, Finding, Remedy, Rule, Severity, next_after, within
from skavit.core.ground.spans import EMPTY
from skavit.core.simulation.events import channels_of
from skavit.core.text.wording import capital, count, dates_text


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

    def find(self, case: Case) -> Iterator[Finding]:
        """One finding an entry; of doubled ones the later is told, since the other then has an effect."""
        acting = [_Acting(channel, case.replay.end) for channel in case.channels]
        for slot in range(len(case.entries) - 1, -1, -1):
            mine = [acting[number - 1] for number in channels_of(case.plan, case.entries[slot])]
            if not any(channel.changed_by(slot) for channel in mine):
                for channel in mine:
                    channel.leave_out(slot)
                yield self._finding(case, slot)

    def _finding(self, case: Case, slot: int) -> Finding:
        acts = case.replay.events.day[case.replay.events.slot == slot]
        acts = acts[(acts >= case.replay.first) & (acts <= case.replay.last)]
        dates = np.unique(acts) if acts.size else np.array([case.replay.first])
        entry = case.entries[slot]
        channel = case.channels[entry.channels[0] - 1] if len(entry.channels) == 1 else None
        return case.make(
            self.slug,
            channel,
            f"Slot {slot + 1} changes nothing all year",
            f"{entry.action.upper()} {case.words.time(entry.at)} acts on {count(acts.size, 'day')} "
            "and never alters the output.",
            dates=dates,
            slots=(slot,),
            severity=Severity.NOTE,
            remedy=Remedy(label=f"Clear slot {slot + 1}", entries=remedies.without(case.entries, slot)),
        )


class SameInstant(Rule):
    """Two entries contradict each other at the same instant; the higher slot wins."""

    slug = "same-instant"

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
        until = np.minimum(next_after(at, channel.events.instant, case.replay.end), case.replay.end)
        on = case.entries[b].on
        wrong = within(channel.extra if on else channel.missing, at, until)
        hurts = (channel.extra if on else channel.missing).at(at)
        at = at[hurts] if hurts.any() else at
        dates = np.unique(case.replay.site_clock.digits(at) // 86400)
        return case.make(
            self.slug,
            channel,
            f"Slots {a + 1} and {b + 1} contradict each other at {case.local_time(at)} on {count(dates.size, 'day')}, "
            f"{dates_text(dates)}",
            f"{capital(case.slot(b))} stands later and wins. Units differ in this: keep them a minute apart.",
            extra=wrong if on else EMPTY,
            missing=EMPTY if on else wrong,
            dates=dates,
            slots=(a, b),
        )
