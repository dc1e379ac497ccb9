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
from skavit.core.findings.mending import MOST_TOLD, and_left, of_changes, residual, settled
from skavit.core.findings.order import CloseCall, OrderFlips
from skavit.core.findings.periods import DaysUncovered, NeverOff
from skavit.core.findings.remedy import Remedy
from skavit.core.findings.slips import HalfDaySlip, SunSwapped
from skavit.core.findings.strays import CutsShort, PauseForCycle
from skavit.core.findings.suntable import SunDiffers, SunIsNear
from skavit.core.ground.errors import RangeError
from skavit.core.plan.seasonal import stretches
from skavit.core.plan.times import day_of
from skavit.core.plan.trade import trades, trades_in
from skavit.core.repair import Search, changes
from skavit.core.simulation.replay import Replay, replay
from skavit.core.text.wording import Words

# What is not the entries' fault: hands, the mains, the clock and the sun. They are told first, with all that they explain.
AROUND: tuple[type[Rule], ...] = (NotInAuto, ReserveShort, DstDiffers, ClockOut, HalfDaySlip, SunDiffers, SunIsNear)
# What entries do wrong, where no change of a few of them mends it.
OF_ENTRIES: tuple[type[Rule], ...] = (
    HeldThroughHoliday,
    OrderFlips,
    NeverOff,
    DaysUncovered,
    CutsShort,
    PauseForCycle,
)
# What explains no hours of its own: entries that do nothing or stand against each other, limits, dates to know.
NOTES: tuple[type[Rule], ...] = (NoEffect, SameInstant, CloseCall)
OF_UNIT: tuple[type[Rule], ...] = (
    OverCapacity,
    NoSuchDays,
    TooFine,
    OffsetTooLarge,
    ByDay,
    ClockJump,
    NoSun,
    HolidayMoves,
)
RULES = (*AROUND, *OF_ENTRIES, *NOTES, *OF_UNIT)
LEFTOVERS = (Extra, Missing)


@dataclass(frozen=True, slots=True, kw_only=True)
class Untried(Facts):
    """That not all was tried that might mend it."""

    def headline(self, words: Words) -> str:
        """What was left."""
        return "Not every change that might mend it was tried"

    def why(self, words: Words) -> str:
        """Why."""
        return "The search for them ended before. What the unit does all year is told in full."


class NotAllTried(Described):
    """A note on the audit itself."""

    slug = "not-all-tried"
    description = "changes that might mend the unit were tried in part only"
    facts = (Untried,)


@cache
def described() -> tuple[type[Described], ...]:
    """All kinds of finding, as the guide lists them."""
    own = (rule for trade in trades() for rule in trade.rules)
    return (*RULES, SunSwapped, NotAllTried, *LEFTOVERS, *LOAD_RULES, *own)


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
    found = _by_keying(result, tolerance_s, budgets) if result.plan.unit.keyings else _of_switching(case)
    for rule in LEFTOVERS:
        found += rule().find(case, found)
    found += [finding for rule in LOAD_RULES for finding in rule().find(case)]
    found += [finding for trade in trades_in(result.plan) for finding in trade.findings(case)]
    if budgets.ended:
        found.append(_not_all_tried(case))
    return tuple(sorted(found, key=_worst_first))


def _of_switching(case: Case) -> list[Finding]:
    """What is found of one set of entries; the hours of those that explain any are their own.

    First what lies around the entries, then a finding for each change that mends them, then what no change mends.
    """
    mended = Search(judged=case.replay)
    if case.budgets.repairs.left and case.entries and any(channel.windows for channel in case.plan.channels):
        mended = changes(case.replay, case.tolerance_s, case.budgets.repairs, at_once=case.budgets.at_once)
        case.budgets.repairs.ended |= mended.ended
    if len(mended.edits) > MOST_TOLD:
        mended = replace(mended, edits=())
    rest = residual(case, mended)
    left = [finding for rule in OF_ENTRIES for finding in rule().find(rest)]
    notes = [finding for rule in NOTES for finding in rule().find(rest)]
    if rest is not case:
        notes = _still_so(case, mended, notes)
    around = [finding for rule in AROUND for finding in rule().find(case)]
    of_unit = [finding for rule in OF_UNIT for finding in rule().find(case)]
    return [*settled(case, [*around, *and_left(of_changes(case, mended), left), *notes]), *of_unit]


def _still_so(case: Case, mended: Search, notes: list[Finding]) -> list[Finding]:
    """The notes on entries that no change touches; one that does nothing does nothing in the unit as it is, too."""
    changed = {edit.slot + 1 for edit in mended.edits if edit.slot is not None}
    idle = {finding.slots for finding in NoEffect().find(case)}
    there = set(range(1, len(case.entries) + 1)) - changed
    return [f for f in notes if set(f.slots) <= there and (f.code != NoEffect.slug or f.slots in idle)]


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
        for finding in _of_switching(case):
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
