"""What no other finding explains: `extra` and `missing`."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace

import numpy as np

from skavit.core.findings.acts import NotOnHolidays
from skavit.core.findings.case import Case, ChannelCase, Described
from skavit.core.findings.facts import PeriodFacts
from skavit.core.findings.finding import Finding
from skavit.core.findings.miskeyed import AlsoNeeded, Miskeyed
from skavit.core.findings.remedy import Remedy, WithWindows
from skavit.core.ground.records import member, word
from skavit.core.ground.spans import Spans, difference, unite
from skavit.core.plan.days import Dates, Days, Narrowed, holiday_mask
from skavit.core.plan.holidays import holiday_dates
from skavit.core.text.wording import Words

REASONS = {
    "no-window": "No window asks for it.",
    "no-mains": "The mains are off then.",
    "holiday": "No entry acts on the unit's holidays.",
    "no-entry": "No entry switches it on then.",
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Unexplained(PeriodFacts):
    """A difference that nothing else explains."""

    reason: str = member(word(REASONS))

    def why(self, words: Words) -> str:
        """All that is known of it."""
        return REASONS[self.reason]


class Extra(Described):
    """On and not wanted, and nothing explains it."""

    slug = "extra"
    description = "on and not wanted, and nothing above explains it"
    facts = (Unexplained, Miskeyed, AlsoNeeded)

    def find(self, case: Case, found: Iterable[Finding]) -> Iterator[Finding]:
        """One finding a channel."""
        found = list(found)
        for channel in case.channels:
            spans = unexplained(case, channel, channel.extra, found)
            if len(spans):
                facts = Unexplained(period=case.burning(channel, spans), reason="no-window")
                yield case.make(self.slug, channel, facts, extra=spans)


class Missing(Described):
    """Wanted and not on, and nothing explains it."""

    slug = "missing"
    description = "wanted and not on, and nothing above explains it"
    facts = (Unexplained, Miskeyed, AlsoNeeded)

    def find(self, case: Case, found: Iterable[Finding]) -> Iterator[Finding]:
        """One finding a channel."""
        found = list(found)
        for channel in case.channels:
            spans = unexplained(case, channel, channel.missing, found)
            if len(spans):
                reason = self._reason(case, channel, spans)
                facts = Unexplained(period=case.dark(spans), reason=reason)
                remedy = self._not_on_holidays(case, channel) if reason == "holiday" else None
                yield case.make(self.slug, channel, facts, missing=spans, remedy=remedy)

    def _not_on_holidays(self, case: Case, channel: ChannelCase) -> Remedy | None:
        """The channel's windows without the unit's holidays, where that leaves less wrong."""
        out = holiday_dates(case.plan.unit.holidays)
        windows = case.plan.channels[channel.index].windows
        kept = tuple(replace(window, days=_without(window.days, out)) for window in windows)
        remedy = Remedy(act=NotOnHolidays(), change=WithWindows(channel.number, kept))
        tried = case.tried(remedy.applied(case.plan), [channel.number], case.budgets.remedies, other_windows=True)
        return remedy if tried is not None and tried[0].wrong_s < channel.replay.wrong_s else None

    def _reason(self, case: Case, channel: ChannelCase, spans: Spans) -> str:
        if not len(difference(spans, channel.replay.hand.without_mains)):
            return "no-mains"
        dates = case.dates_of(spans)
        if holiday_mask(case.plan.unit.holidays, np.arange(dates[0], dates[-1] + 1))[dates - dates[0]].all():
            return "holiday"
        return "no-entry"


def _without(days: Days, out: Dates) -> Narrowed:
    """A day rule less some dates."""
    if isinstance(days, Narrowed):
        return replace(days, without=(*days.without, out))
    return Narrowed(days=days, without=(out,))


def unexplained(case: Case, channel: ChannelCase, spans: Spans, found: list[Finding]) -> Spans:
    """What of the spans no finding explains, less what lasts no longer than the tolerance."""
    told = [finding.explains[channel.index] for finding in found if channel.index in finding.explains]
    return difference(spans, unite(told)).longer_than(channel.tolerance_s)
