"""Entries that get in the way of what others do: `cuts-short` and `pause-for-cycle`."""

from collections.abc import Iterator
from dataclasses import replace

import numpy as np

from skavit.core.findings import remedies
from skavit.core.findings.finding import Case, ChannelCase, Finding, Remedy, Rule, Severity, next_after, within
from skavit.core.ground.spans import EMPTY, Spans
from skavit.core.plan.entry import Pulses
from skavit.core.simulation.purpose import purposes
from skavit.core.text.wording import capital, count, days_text


class CutsShort(Rule):
    """An entry that serves no window of its own ends or starts the period of another."""

    slug = "cuts-short"

    def find(self, case: Case) -> Iterator[Finding]:
        """One finding an entry and channel."""
        if not any(len(channel.extra) or len(channel.missing) for channel in case.channels):
            return
        serving = purposes(case.replay)
        for channel in case.channels:
            for slot, entry in enumerate(case.entries):
                if not serving[slot].serves and channel.number in entry.channels and not entry.ends_itself:
                    found = self._cut(case, channel, slot)
                    if found is not None:
                        yield found

    def _cut(self, case: Case, channel: ChannelCase, slot: int) -> Finding | None:
        events = channel.events
        mine = events.slot == slot
        at = events.instant[mine]
        until = np.minimum(next_after(at, events.instant, case.replay.end), case.replay.end)
        on = case.entries[slot].on
        if on:  # it starts a period early: what it lights unwanted runs into what is wanted
            spans = within(channel.extra, at, until)
            joined = channel.replay.wanted_with_run_up.at(spans.off)
            spans = Spans(spans.on[joined], spans.off[joined])
        else:
            spans = within(channel.missing, at, until)
        if not spans.total_s:
            return None
        days = f"acts {days_text(case.entries[slot].days)}"
        return case.make(
            self.slug,
            channel,
            case.burning(channel, spans) if on else case.dark(spans),
            f"{capital(case.slot(slot))} {days}, begins or ends no window, and "
            f"{'starts a period too early' if on else 'ends a period that another began'}.",
            extra=spans if on else EMPTY,
            missing=EMPTY if on else spans,
            slots=(slot,),
            remedy=Remedy(label=f"Clear slot {slot + 1}", entries=remedies.without(case.entries, slot)),
        )


class PauseForCycle(Rule):
    """A pulsing entry whose pause is the whole cycle that is wanted."""

    slug = "pause-for-cycle"

    def find(self, case: Case) -> Iterator[Finding]:
        """One finding for each entry whose off time equals the wanted cycle."""
        for channel in case.channels:
            cycles = [w.repeat for w in case.plan.channels[channel.index].windows if w.repeat]
            for slot, entry in enumerate(case.entries):
                pulses = entry.repeat
                if pulses is None or channel.number not in entry.channels:
                    continue
                meant = [c for c in cycles if c.every_s == pulses.off_s and c.on_s == pulses.on_s]
                if meant and len(channel.extra) + len(channel.missing):
                    right = replace(pulses, off_s=meant[0].every_s - meant[0].on_s)
                    yield self._finding(case, channel, slot, pulses, right)

    def _finding(self, case: Case, channel: ChannelCase, slot: int, pulses: Pulses, right: Pulses) -> Finding:
        entries = remedies.changed(case.entries, slot, replace(case.entries[slot], repeat=right))
        done, wanted = channel.replay.actual, channel.replay.wanted
        done_a_day, wanted_a_day = (round(len(s) / max(case.dates_of(s).size, 1)) for s in (done, wanted))
        return case.make(
            self.slug,
            channel,
            f"{done_a_day} pulses a day in place of {wanted_a_day}",
            f"{capital(case.slot(slot))} pauses {count(pulses.off_s, 'second')}, so a pulse comes every "
            f"{count(pulses.cycle_s, 'second')}. One every {count(right.cycle_s, 'second')} takes a pause of {right.off_s}.",
            extra=channel.extra,
            missing=channel.missing,
            slots=(slot,),
            severity=Severity.WARNING,
            remedy=Remedy(label=f"Slot {slot + 1}: pause {right.off_s} s", entries=entries),
        )
