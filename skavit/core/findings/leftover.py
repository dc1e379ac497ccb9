"""What no other finding explains: `extra` and `missing`."""

from collections.abc import Iterable, Iterator

import numpy as np

from skavit.core.findings.finding import Case, ChannelCase, Finding
from skavit.core.ground.spans import Spans, difference, unite
from skavit.core.plan.holidays import holiday_mask


class Extra:
    """On and not wanted, and nothing explains it."""

    slug = "extra"

    def find(self, case: Case, found: Iterable[Finding]) -> Iterator[Finding]:
        """One finding a channel."""
        found = list(found)
        for channel in case.channels:
            spans = unexplained(case, channel, channel.extra, found)
            if len(spans):
                headline = case.burning(channel, spans)
                yield case.make(self.slug, channel, headline, "No window asks for it.", extra=spans)


class Missing:
    """Wanted and not on, and nothing explains it."""

    slug = "missing"

    def find(self, case: Case, found: Iterable[Finding]) -> Iterator[Finding]:
        """One finding a channel."""
        found = list(found)
        for channel in case.channels:
            spans = unexplained(case, channel, channel.missing, found)
            if len(spans):
                headline = case.dark(spans)
                yield case.make(self.slug, channel, headline, self._why(case, channel, spans), missing=spans)

    def _why(self, case: Case, channel: ChannelCase, spans: Spans) -> str:
        if not len(difference(spans, channel.replay.hand.without_mains)):
            return "The mains are off then."
        dates = case.dates_of(spans)
        if holiday_mask(case.plan.unit.holidays, np.arange(dates[0], dates[-1] + 1))[dates - dates[0]].all():
            return "No entry acts on the unit's holidays."
        return "No entry switches it on then."


def unexplained(case: Case, channel: ChannelCase, spans: Spans, found: list[Finding]) -> Spans:
    """What of the spans no finding explains, less what lasts no longer than the tolerance."""
    told = [finding.explains[channel.index] for finding in found if channel.index in finding.explains]
    return difference(spans, unite(told)).longer_than(channel.tolerance_s)
