"""Findings of a repair: one for each change that mends the unit, named by what it is, with its own slot and hours.

Each change is looked at by itself: with all others made, what is wrong then is its own, and the rules name it.
"""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import replace

import numpy as np

from skavit.core.findings.acts import MakeChanges
from skavit.core.findings.case import Budgets, Case, Rule
from skavit.core.findings.entries import SameInstant
from skavit.core.findings.facts import Facts, SlotFact
from skavit.core.findings.finding import Finding, Severity, joined
from skavit.core.findings.leftover import Extra, Missing
from skavit.core.findings.miskeyed import AlsoNeeded, Miskeyed
from skavit.core.findings.order import OrderFlips
from skavit.core.findings.periods import DaysUncovered, NeverOff
from skavit.core.findings.remedy import Remedy, WithEntries
from skavit.core.findings.slips import HalfDaySlip, Slipped, SunSwapped
from skavit.core.findings.strays import CutsShort, PauseForCycle
from skavit.core.ground.arrays import HALF_DAY_S
from skavit.core.ground.spans import EMPTY, Spans, difference, intersection, unite
from skavit.core.plan.entry import Entry
from skavit.core.plan.times import ClockTime, SunTime
from skavit.core.repair import Edit, Search, changed_fields, edited
from skavit.core.simulation.replay import Replay

# Of more changes the entries would better be fitted anew: then each is not told.
MOST_TOLD = 6
# A rule names a change where it explains this part of what the change mends.
MOSTLY = 0.5
BY_DAYS: tuple[type[Rule], ...] = (OrderFlips, DaysUncovered, NeverOff)
BY_ADDING: tuple[type[Rule], ...] = (SameInstant, OrderFlips, NeverOff, DaysUncovered)
BY_REMOVING: tuple[type[Rule], ...] = (SameInstant, OrderFlips, CutsShort, NeverOff)
BY_CHANGING: tuple[type[Rule], ...] = (SameInstant, PauseForCycle, OrderFlips, NeverOff)


def of_changes(case: Case, found: Search) -> Iterator[Finding]:
    """One finding for each change: on the channels that it mends, in the order of a repair."""
    orders = [(), *found.in_order()]
    states = [_wrong(found.after(made)) for made in orders]
    for n, made in enumerate(orders[1:], start=1):
        mended = [
            difference(before, after) for before, after in zip(_later(states[n - 1 :]), _later(states[n:]), strict=True)
        ]
        yield _finding(case, found, made, mended)


def and_left(mends: Iterable[Finding], left: Iterable[Finding]) -> list[Finding]:
    """The findings of changes, and those of what they leave: what one leaves of its own is not told a second time.

    A remedy of what is left would be one of entries that are not keyed yet: it comes once the changes are made.
    """
    found, rest = list(mends), []
    for finding in left:
        same = (n for n, m in enumerate(found) if (m.code, m.channel) == (finding.code, finding.channel))
        n = next((n for n in same if set(found[n].slots) & set(finding.slots)), None)
        if n is not None:
            own = found[n]
            found[n] = replace(joined(own, finding), facts=own.facts, slots=own.slots, remedy=own.remedy)
        else:
            rest.append(replace(finding, remedy=None) if found and finding.slots else finding)
    return found + rest


def residual(case: Case, found: Search) -> Case:
    """The case as it is judged, with all changes made: what is told of it is no fault of theirs."""
    if not found.edits and found.judged is case.replay:
        return case
    return Case(found.after(found.edits), tolerance_s=case.tolerance_s, budgets=case.budgets)


def _later(states: Sequence[tuple[Spans, ...]]) -> list[Spans]:
    """What is wrong of each channel in any of some states."""
    return [unite(spans) for spans in zip(*states, strict=True)]


def _wrong(run: Replay) -> tuple[Spans, ...]:
    return tuple(unite([channel.extra, channel.missing]) for channel in run.channels)


def _finding(case: Case, found: Search, made: tuple[Edit, ...], mended: list[Spans]) -> Finding:
    """The finding of the last of some changes, on the stretches that it mends of what is really wrong."""
    edit = made[-1]
    extra = [intersection(channel.extra, own) for channel, own in zip(case.channels, mended, strict=True)]
    missing = [intersection(channel.missing, own) for channel, own in zip(case.channels, mended, strict=True)]
    hurt = [n for n in range(len(mended)) if len(extra[n]) or len(missing[n])]
    every_extra, every_missing = unite(extra), unite(missing)
    remedy = _remedy(case, found, made)
    if not hurt:
        return _also_needed(case, edit, remedy)
    code, facts, slots = _named(case, found, edit, every_extra, every_missing)
    told = case.make(
        code,
        case.channels[hurt[0]] if len(hurt) == 1 else None,
        facts,
        extra=every_extra,
        missing=every_missing,
        slots=slots,
        remedy=remedy,
        explains={n: unite([extra[n], missing[n]]) for n in hurt},
    )
    hours = sum(extra[n].total_s + missing[n].total_s for n in hurt) / 3600
    return replace(told, hours=hours)


def _remedy(case: Case, found: Search, made: tuple[Edit, ...]) -> Remedy | None:
    """A change by itself; where it does harm before others are made, with those that come before it, or with all."""
    if not case.budgets.wants_remedies:
        return None
    ways = (made[-1:], made, found.edits)
    helps = (way for way in ways if found.after(way).wrong_s < found.judged.wrong_s)
    edits = next(helps, found.edits)
    return Remedy(
        act=MakeChanges(edits=edits, entries=case.entries),
        change=WithEntries(edited(case.entries, edits)),
        left_s=found.left_s if len(found.edits) == 1 else 0,
    )


def _also_needed(case: Case, edit: Edit, remedy: Remedy | None) -> Finding:
    entry = edit.new or case.entries[edit.slot or 0]
    slot = len(case.entries) if edit.slot is None else edit.slot
    dates = [case.dates_of(unite([channel.extra, channel.missing])) for channel in case.channels]
    return case.make(
        Missing.slug,
        case.channels[entry.channels[0] - 1] if len(entry.channels) == 1 else None,
        AlsoNeeded(new=SlotFact.of(slot, entry), added=edit.slot is None),
        dates=np.unique(np.concatenate(dates)),
        slots=() if edit.slot is None else (edit.slot,),
        severity=Severity.NOTE,
        remedy=remedy,
    )


Named = tuple[str, Facts, tuple[int, ...]]


def _named(case: Case, found: Search, edit: Edit, extra: Spans, missing: Spans) -> Named:
    """What a change is called, what is said of it, and the slots (from 0) that are at fault."""
    own = (edit.slot,) if edit.slot is not None else ()
    slipped = _slipped(case, edit)
    if slipped is not None:
        return slipped
    by_rule = _by_rule(found, edit)
    if by_rule is not None:
        return by_rule.code, by_rule.facts, tuple(slot - 1 for slot in by_rule.slots)
    burns = extra.total_s >= missing.total_s
    period = case.period("on", extra) if burns else case.period("off", missing)
    old = case.slot(edit.slot) if edit.slot is not None else None
    new = SlotFact.of(edit.slot or len(case.entries), edit.new) if edit.new is not None else None
    moved = edit.slot is not None and edit.new is not None and edit.new.channels != case.entries[edit.slot].channels
    facts = Miskeyed(period=period, old=old, new=new, channels=edit.new.channels if edit.new and moved else ())
    return (Extra if burns else Missing).slug, facts, own


def _slipped(case: Case, edit: Edit) -> Named | None:
    """A time in the other half of the day, or at the other end of it by the sun, and nothing else changed."""
    if edit.slot is None or edit.new is None:
        return None
    old, new = case.entries[edit.slot], edit.new
    if changed_fields(old, new) != ("at",):
        return None
    half_day = isinstance(old.at, ClockTime) and isinstance(new.at, ClockTime) and old.at.later(HALF_DAY_S) == new.at
    swapped = isinstance(old.at, SunTime) and isinstance(new.at, SunTime) and new.at.event == old.at.event.swapped
    if not half_day and not swapped:
        return None
    facts = Slipped(slots=(case.slot(edit.slot),), meant=(new.at,), half_day=half_day)
    return (HalfDaySlip if half_day else SunSwapped).slug, facts, (edit.slot,)


def _by_rule(found: Search, edit: Edit) -> Finding | None:
    """The rule that explains most of what is wrong where only this change is not made."""
    others = [other for other in found.edits if other is not edit]
    case = Case(found.after(others), budgets=Budgets.while_waited_for(remedies=False))
    mended_s = case.replay.wrong_s - found.left_s
    for rule in _rules(edit, found.judged.plan.unit.entries):
        for named in rule().find(case):
            about = edit.slot is None or edit.slot + 1 in named.slots
            there = max(named.slots, default=0) <= len(found.judged.plan.unit.entries)
            if about and there and named.hours * 3600 > MOSTLY * mended_s:
                return named
    return None


def _rules(edit: Edit, entries: tuple[Entry, ...]) -> tuple[type[Rule], ...]:
    """The rules that may name a change, by what it changes."""
    if edit.slot is None:
        return BY_ADDING
    if edit.new is None:
        return BY_REMOVING
    return BY_DAYS if changed_fields(entries[edit.slot], edit.new) == ("days",) else BY_CHANGING


def settled(case: Case, found: Sequence[Finding]) -> list[Finding]:
    """Findings whose hours are their own: what one has told is not told again by those after it.

    What one of a rule on entries then has not left to say is dropped.
    """
    told: dict[int, Spans] = {channel.index: EMPTY for channel in case.channels}
    kept = []
    for finding in found:
        if not finding.explains:
            kept.append(finding)
            continue
        own = {}
        for index, spans in finding.explains.items():
            channel = case.channels[index]
            wrong = intersection(spans, unite([channel.extra, channel.missing]))
            own[index] = difference(wrong, told[index])
            told[index] = unite([told[index], own[index]])
        left_s = sum(spans.total_s for spans in own.values())
        was_s = sum(spans.total_s for spans in finding.explains.values())
        if left_s == was_s:
            kept.append(finding)
        elif left_s or finding.channel is None:
            elsewhere_h = finding.hours - was_s / 3600  # of zones, which no other finding tells
            kept.append(replace(finding, hours=left_s / 3600 + elsewhere_h, explains=own))
    return kept
