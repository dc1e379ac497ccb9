"""Entries that get in the way of what others do: `cuts-short` and `pause-for-cycle`."""

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from skavit.core.findings import remedies
from skavit.core.findings.acts import ChangePause
from skavit.core.findings.case import Case, ChannelCase, Rule, next_after, within
from skavit.core.findings.facts import SLOT, WHOLE, Facts, PeriodFacts, SlotFact
from skavit.core.findings.finding import Finding, Severity
from skavit.core.findings.remedy import Remedy, WithEntries
from skavit.core.ground.records import member
from skavit.core.ground.spans import EMPTY, Spans
from skavit.core.plan.entry import Pulses
from skavit.core.simulation.purpose import purposes
from skavit.core.text.wording import Words, capital, count, days_text


@dataclass(frozen=True, slots=True, kw_only=True)
class Stray(PeriodFacts):
    """The entry that gets in the way."""

    slot: SlotFact = member(SLOT)

    def why(self, words: Words) -> str:
        """What it does."""
        does = "ends a period that another began" if self.slot.action == "off" else "starts a period too early"
        days = f"acts {days_text(self.slot.days)}"
        return f"{capital(self.slot.text(words))} {days}, begins or ends no window, and {does}."


@dataclass(frozen=True, slots=True, kw_only=True)
class Pause(Facts):
    """Pulses done and wanted a day, and the pauses that make them."""

    slot: SlotFact = member(SLOT)
    done: int = member(WHOLE)
    wanted: int = member(WHOLE)
    pause_s: int = member(WHOLE)
    cycle_s: int = member(WHOLE)
    right_pause_s: int = member(WHOLE)
    right_cycle_s: int = member(WHOLE)

    def headline(self, words: Words) -> str:
        """How many pulses."""
        return f"{self.done} pulses a day in place of {self.wanted}"

    def why(self, words: Words) -> str:
        """Which pause it has, and which it needs."""
        return (
            f"{capital(self.slot.text(words))} pauses {count(self.pause_s, 'second')}, so a pulse comes every "
            f"{count(self.cycle_s, 'second')}. One every {count(self.right_cycle_s, 'second')} takes a pause of "
            f"{self.right_pause_s}."
        )


class CutsShort(Rule):
    """An entry that serves no window of its own ends or starts the period of another."""

    slug = "cuts-short"
    description = "an entry that serves no window of its own ends or starts the period of another"
    facts = (Stray,)

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
        period = case.burning(channel, spans) if on else case.dark(spans)
        return case.make(
            self.slug,
            channel,
            Stray(period=period, slot=case.slot(slot)),
            extra=spans if on else EMPTY,
            missing=EMPTY if on else spans,
            slots=(slot,),
            remedy=remedies.best(case, spans, remedies.clear(case, slot)),
        )


class PauseForCycle(Rule):
    """A pulsing entry whose pause is the whole cycle that is wanted."""

    slug = "pause-for-cycle"
    description = "the pause of a pulsing entry is the whole cycle that is wanted"
    facts = (Pause,)

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
        facts = Pause(
            slot=case.slot(slot),
            done=done_a_day,
            wanted=wanted_a_day,
            pause_s=pulses.off_s,
            cycle_s=pulses.cycle_s,
            right_pause_s=right.off_s,
            right_cycle_s=right.cycle_s,
        )
        return case.make(
            self.slug,
            channel,
            facts,
            extra=channel.extra,
            missing=channel.missing,
            slots=(slot,),
            severity=Severity.WARNING,
            remedy=Remedy(act=ChangePause(slot + 1, right.off_s), change=WithEntries(entries)),
        )
