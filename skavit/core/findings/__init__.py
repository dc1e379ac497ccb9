"""Findings: what a user should know about a valid plan, worst first."""

from skavit.core.findings.capacity import NoSuchDays, OffsetTooLarge, OverCapacity, TooFine
from skavit.core.findings.clocks import ClockJump, ClockOut, DstDiffers
from skavit.core.findings.daylight import ByDay, NoSun
from skavit.core.findings.entries import NoEffect, SameInstant
from skavit.core.findings.finding import TOLERANCE_S, Case, Finding, Remedy, Rule, Severity
from skavit.core.findings.leftover import Extra, Missing
from skavit.core.findings.order import CloseCall, OrderFlips
from skavit.core.findings.periods import DaysUncovered, NeverOff
from skavit.core.findings.slips import HalfDaySlip, SunSwapped
from skavit.core.findings.suntable import SunDiffers
from skavit.core.replay import Replay
from skavit.core.wording import PLAIN, Words

RULES: tuple[type[Rule], ...] = (
    OrderFlips,
    NeverOff,
    DaysUncovered,
    NoEffect,
    SameInstant,
    DstDiffers,
    ClockOut,
    SunDiffers,
    HalfDaySlip,
    SunSwapped,
    OverCapacity,
    NoSuchDays,
    TooFine,
    OffsetTooLarge,
    ByDay,
    ClockJump,
    NoSun,
    CloseCall,
)
LEFTOVERS = (Extra, Missing)
_RANK = {Severity.DANGER: 0, Severity.WARNING: 1, Severity.NOTE: 2}


def _worst_first(finding: Finding) -> tuple[int, bool, float, str, int]:
    """Causes stand before `by-day`, which says what and not why."""
    says_what_only = finding.code == ByDay.slug
    return _RANK[finding.severity], says_what_only, -finding.hours, finding.code, finding.channel or 0


def audit(result: Replay, *, tolerance_s: int = TOLERANCE_S, words: Words = PLAIN) -> tuple[Finding, ...]:
    """All findings of a replay, worst first and then by the hours they explain.

    ``tolerance_s`` is how long a difference may last and still be none, in seconds.
    """
    case = Case(result, tolerance_s=tolerance_s, words=words)
    found = [finding for rule in RULES for finding in rule().find(case)]
    found += [finding for rule in LEFTOVERS for finding in rule().find(case, found)]
    return tuple(sorted(found, key=_worst_first))


__all__ = ["TOLERANCE_S", "Finding", "Remedy", "Severity", "audit"]
