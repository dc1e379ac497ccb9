"""What is done by hand or by the mains: `not-in-auto` and `reserve-short`."""

from collections.abc import Iterator

from skavit.core.findings.finding import Case, ChannelCase, Finding, Rule
from skavit.core.ground.spans import Spans, intersection, unite
from skavit.core.plan.overrides import Mode
from skavit.core.simulation.output import Patch, patched
from skavit.core.text.wording import duration_text


class NotInAuto(Rule):
    """A unit left in a mode in which its program does not run, or in automatic without its state."""

    slug = "not-in-auto"

    def find(self, case: Case) -> Iterator[Finding]:
        """One finding a channel."""
        unit = case.plan.unit
        for channel in case.channels:
            if unit.operating == "manual" and case.entries and len(channel.missing):
                why = "The unit's operating mode is manual: none of its entries acts."
                yield case.make(self.slug, channel, case.dark(channel.missing), why, missing=channel.missing)
            patches = [p for p in channel.replay.hand.patches if isinstance(p.by, Mode)]
            left = patched(patches)
            extra, missing = intersection(channel.extra, left), intersection(channel.missing, left)
            if len(extra) or len(missing):
                yield self._finding(case, channel, patches, extra, missing)

    def _finding(self, case: Case, channel: ChannelCase, patches: list[Patch], extra: Spans, missing: Spans) -> Finding:
        words = {p.by.word for p in patches if isinstance(p.by, Mode) and p.by_hand}
        if words:
            why = f"It was set to {' and '.join(sorted(words))} by hand; its entries do not act until it is in automatic again."
        else:
            why = "Back in automatic it keeps its output until its next entry acts."
        headline = case.burning(channel, extra) if len(extra) else case.dark(missing)
        return case.make(self.slug, channel, headline, why, extra=extra, missing=missing)


class ReserveShort(Rule):
    """The clock's reserve is shorter than a power cut."""

    slug = "reserve-short"

    def find(self, case: Case) -> Iterator[Finding]:
        """One finding for the unit: from the cut on nothing acts until somebody sets the clock."""
        patches = [p for p in case.channels[0].replay.hand.patches if p.flashing]
        dead = patched(patches).cut(case.replay.start, case.replay.end)
        if not len(dead):
            return
        missing = {c.index: intersection(c.missing, dead) for c in case.channels}
        reserve = duration_text((case.plan.unit.reserve_h or 0) * 3600)
        yield case.make(
            self.slug,
            None,
            f"The clock's reserve of {reserve} is shorter than a power cut: it stands flashing for "
            f"{duration_text(dead.total_s)}",
            "Nothing acts until somebody sets the clock.",
            missing=unite(list(missing.values())),
            dates=case.dates_of(dead),
            explains=missing,
        )
