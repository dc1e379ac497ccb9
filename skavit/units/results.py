"""Results of a unit's year: computed for its page, kept by content hash for lists."""

from dataclasses import dataclass
from datetime import date
from functools import lru_cache
from importlib.metadata import version

import numpy as np

from skavit.charts.year_sheet import Year, thumbnail
from skavit.core.findings import Finding, audit
from skavit.core.formats.results import finding_json
from skavit.core.plan import Plan
from skavit.core.replay import Replay, replay
from skavit.core.wording import Words
from skavit.units.models import YearResult

# Raise with every change to a computed result, together with a "calculation" line in the CHANGELOG.
CORE_RELEASE = "1"
CALCULATION = f"core {CORE_RELEASE}, tzdata {version('tzdata')}"


@dataclass(frozen=True, slots=True, kw_only=True)
class UnitYear:
    """A plan replayed over a calendar year, and its picture's replay, which goes on to noon of 1 January."""

    replay: Replay
    picture: Replay
    findings: tuple[Finding, ...]

    def year_of(self, channel: int) -> Year:
        """One channel (from 0) for the year sheet."""
        shown = self.picture.channels[channel]
        return Year(
            site=self.picture.plan.site,
            clock=self.picture.site_clock,
            first=self.replay.first,
            count=self.replay.last - self.replay.first + 1,
            wanted=shown.wanted,
            actual=shown.actual,
        )


def replay_year(plan: Plan, year: int) -> Replay:
    """The calendar year."""
    return replay(plan, date(year, 1, 1), date(year, 12, 31))


@lru_cache(maxsize=64)
def unit_year(plan: Plan, year: int, words: Words) -> UnitYear:
    """Replay and audit a calendar year; the last few are kept, since a page is looked at more often than changed."""
    result = replay_year(plan, year)
    return UnitYear(
        replay=result,
        picture=replay(plan, date(year, 1, 1), date(year + 1, 1, 1)),
        findings=audit(result, words=words),
    )


def year_result(plan: Plan, year: int) -> YearResult:
    """The kept result of a plan's year; made where there is none yet."""
    content_hash = plan.content_hash()
    kept = YearResult.objects.filter(content_hash=content_hash, year=year, calculation=CALCULATION).first()
    if kept is not None:
        return kept
    found = unit_year(plan, year, Words())
    worst = _worst_channel(found)
    made, _ = YearResult.objects.get_or_create(
        content_hash=content_hash,
        year=year,
        calculation=CALCULATION,
        defaults={
            "findings": [finding_json(finding) for finding in found.findings],
            "thumbnail": thumbnail(found.year_of(worst), f"thumb-{content_hash[:12]}"),
        },
    )
    return made


def _worst_channel(found: UnitYear) -> int:
    """The channel with the most wrong hours, from 0: the one that stands for the unit."""
    wrong = [channel.extra_h + channel.missing_h for channel in found.replay.channels]
    return int(np.argmax(wrong))
