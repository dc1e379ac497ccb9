"""Single entries that are wrong in themselves: `no-effect` and `same-instant`."""

from collections.abc import Iterator

import numpy as np

from skavit.core.findings import remedies
from skavit.core.findings.finding import Case, ChannelCase, Finding, Remedy, Rule, Severity, next_after, within
from skavit.core.spans import EMPTY
from skavit.core.unit import output_spans
from skavit.core.wording import capital, count, dates_text


class NoEffect(Rule):
    """An entry that changes nothing all year: stray, left over, or doubled."""

    slug = "no-effect"

    def find(self, case: Case) -> Iterator[Finding]:
        """One finding an entry; of doubled ones the later is told, since the other then has an effect."""
        kept = np.ones(len(case.entries), dtype=bool)
        for slot in range(len(case.entries) - 1, -1, -1):
            kept[slot] = False
            if self._same_without(case, slot, kept):
                yield self._finding(case, slot)
            else:
                kept[slot] = True

    def _same_without(self, case: Case, slot: int, kept: np.ndarray) -> bool:
        """Whether the channels of an entry do the same under the entries kept, run-up included."""
        for channel in case.channels:
            if channel.number not in case.entries[slot].channels:
                continue
            events = channel.events
            fewer = output_spans(events.where(kept[events.slot]), case.replay.end)
            here = kept.copy()
            here[slot] = True
            if fewer != output_spans(events.where(here[events.slot]), case.replay.end):
                return False
        return True

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
