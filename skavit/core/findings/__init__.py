"""Findings: what a user should know about a plan, worst first."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import cache
from typing import Any

import numpy as np

from skavit.core.findings.by_hand import NotInAuto, ReserveShort
from skavit.core.findings.capacity import NoSuchDays, OffsetTooLarge, OverCapacity, TooFine
from skavit.core.findings.case import TOLERANCE_S, Budgets, Case, Described, Rule
from skavit.core.findings.clocks import ClockJump, ClockOut, DstDiffers
from skavit.core.findings.daylight import ByDay, NoSun
from skavit.core.findings.entries import NoEffect, SameInstant
from skavit.core.findings.facts import Facts
from skavit.core.findings.finding import Finding, Severity, joined
from skavit.core.findings.finding import read_kept as _read_kept
from skavit.core.findings.holidays import HeldThroughHoliday, HolidayMoves
from skavit.core.findings.leftover import Extra, Missing
from skavit.core.findings.loads import LOAD_RULES
from skavit.core.findings.order import CloseCall, OrderFlips
from skavit.core.findings.periods import DaysUncovered, NeverOff
from skavit.core.findings.slips import HalfDaySlip, SunSwapped
from skavit.core.findings.strays import CutsShort, PauseForCycle
from skavit.core.findings.suntable import SunDiffers
from skavit.core.ground.errors import RangeError
from skavit.core.plan.seasonal import stretches
from skavit.core.plan.times import day_of
from skavit.core.plan.trade import trades, trades_in
from skavit.core.simulation.replay import Replay, replay
from skavit.core.text.wording import Words

RULES: tuple[type[Rule], ...] = (
    OrderFlips,
    NeverOff,
    DaysUncovered,
    HeldThroughHoliday,
    NotInAuto,
    ReserveShort,
    CutsShort,
    PauseForCycle,
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
    HolidayMoves,
)
LEFTOVERS = (Extra, Missing)


@dataclass(frozen=True, slots=True, kw_only=True)
class Untried(Facts):
    """That the budget of what is tried has ended."""

    def headline(self, words: Words) -> str:
        """What was left."""
        return "Not every remedy and slip of the hand was tried"

    def why(self, words: Words) -> str:
        """Why."""
        return "The unit holds so much that the search for them ended before. What it does all year is told in full."


class NotAllTried(Described):
    """A note on the audit itself."""

    slug = "not-all-tried"
    description = "the unit holds so much that remedies and slips of the hand were tried in part only"
    facts = (Untried,)


@cache
def described() -> tuple[type[Described], ...]:
    """All kinds of finding, as the guide lists them."""
    own = (rule for trade in trades() for rule in trade.rules)
    return (*RULES, NotAllTried, *LEFTOVERS, *LOAD_RULES, *own)


# The entries of each channel by its events, added up; 800 entries on one channel take 250 million and half a second.
MOST_WORK = 2_500_000_000
_RANK = {Severity.DANGER: 0, Severity.WARNING: 1, Severity.NOTE: 2}


def _worst_first(finding: Finding) -> tuple[int, bool, float, str, int]:
    """Causes stand before `by-day`, which says what and not why."""
    says_what_only = finding.code == ByDay.slug
    return _RANK[finding.severity], says_what_only, -finding.hours, finding.code, finding.channel or 0


def audit(result: Replay, *, tolerance_s: int = TOLERANCE_S, budgets: Budgets | None = None) -> tuple[Finding, ...]:
    """All findings of a replay, worst first and then by the hours they explain.

    ``tolerance_s`` is how long a difference may last and still be none, in seconds. Where several keyings stand in
    the unit in turn, each is looked at on its own dates. ``budgets`` is what may be tried. Raises :class:`RangeError` for
    more entries than it can look at.
    """
    budgets = budgets or Budgets()
    case = Case(result, tolerance_s=tolerance_s, budgets=budgets)
    _check_work(case)
    if result.plan.unit.keyings:
        found = _by_keying(result, tolerance_s, budgets)
    else:
        found = [finding for rule in RULES for finding in rule().find(case)]
    found += [finding for rule in LEFTOVERS for finding in rule().find(case, found)]
    found += [finding for rule in LOAD_RULES for finding in rule().find(case)]
    found += [finding for trade in trades_in(result.plan) for finding in trade.findings(case)]
    if budgets.ended:
        found.append(_not_all_tried(case))
    return tuple(sorted(found, key=_worst_first))


def _check_work(case: Case) -> None:
    """Refuse what would take long: rules look at each entry among the events of its channels."""
    entries = case.plan.unit.all_entries
    sizes = [len(channel.events) for channel in case.channels]
    if sum(sizes[number - 1] for entry in entries for number in entry.channels) > MOST_WORK:
        raise RangeError(
            f"{len(entries)} entries over this range are too many to audit; "
            "accepted: some 2,000 on one channel in a year, or a shorter range"
        )


def _not_all_tried(case: Case) -> Finding:
    """A note that the budget of what is tried has ended."""
    return case.make(
        NotAllTried.slug,
        None,
        Untried(),
        dates=np.array([case.replay.first]),
        severity=Severity.NOTE,
    )


def _by_keying(result: Replay, tolerance_s: int, budgets: Budgets) -> list[Finding]:
    """The findings of each set of entries on the dates on which the unit holds it, each once."""
    merged: dict[tuple[object, ...], Finding] = {}
    for stretch in stretches(result.plan.unit.keyings, result.first, result.last):
        plan = result.plan.with_only_set(stretch.keying)
        part = replay(plan, day_of(stretch.first), day_of(stretch.last))
        case = Case(part, tolerance_s=tolerance_s, budgets=budgets)
        for finding in (finding for rule in RULES for finding in rule().find(case)):
            keying = stretch.keying if finding.slots else 0
            remedy = finding.remedy and finding.remedy.in_keying(stretch.keying)
            key = (finding.code, finding.channel, finding.slots, keying)
            new = replace(finding, keying=keying, remedy=remedy)
            merged[key] = joined(merged[key], new) if key in merged else new
    return list(merged.values())


def read_kept(raw: Mapping[str, Any]) -> Finding:
    """A finding as :meth:`Finding.kept` gave it; raises :class:`PlanError`."""
    return _read_kept(raw, {facts.__name__: facts for rule in described() for facts in rule.facts})


__all__ = ["TOLERANCE_S", "Finding", "Remedy", "Severity", "audit", "described", "read_kept"]
