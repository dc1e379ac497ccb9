"""Remedies that can be applied in one step: candidates tried by replay, the one with the fewest wrong hours kept."""

from collections.abc import Iterable, Iterator
from dataclasses import replace

from skavit.core.findings.acts import Act, AddDays, AddEntry, ChangeDays, ClearSlot, FitAnew, Limit
from skavit.core.findings.case import Case
from skavit.core.findings.remedy import Remedy, WithEntries
from skavit.core.fitting import cover
from skavit.core.ground.spans import Spans
from skavit.core.plan.days import DAILY, Weekdays
from skavit.core.plan.entry import Entry
from skavit.core.plan.limits import Limits
from skavit.core.plan.times import ClockTime, LimitedTime, SunTime

# A candidate that takes away this share of what a finding explains is taken before any that changes more.
MOST = 0.9

Entries = tuple[Entry, ...]
Candidate = tuple[Act, Entries]


def best(case: Case, explained: Spans, candidates: Iterable[Candidate]) -> Remedy | None:
    """The first candidate that takes away nearly all that a finding explains, or else the one that helps most."""
    enough = case.wrong_now_s - MOST * explained.total_s
    tried: list[tuple[int, Act, tuple[Entry, ...]]] = []
    for act, entries in candidates:
        wrong = case.wrong_s(entries)
        if wrong is None:
            break
        if wrong <= enough:
            return Remedy(act=act, change=WithEntries(entries), left_s=_left_s(case, explained, wrong))
        tried.append((wrong, act, entries))
    helpful = [found for found in tried if found[0] < case.wrong_now_s]
    if not helpful:
        return None
    wrong, act, entries = min(helpful, key=lambda found: found[0])
    return Remedy(act=act, change=WithEntries(entries), left_s=_left_s(case, explained, wrong))


def _left_s(case: Case, explained: Spans, wrong_s: int) -> int:
    """What a candidate leaves of the seconds that a finding explains."""
    return max(explained.total_s - (case.wrong_now_s - wrong_s), 0)


def without(entries: tuple[Entry, ...], index: int) -> tuple[Entry, ...]:
    """The entries less one."""
    return entries[:index] + entries[index + 1 :]


def changed(entries: tuple[Entry, ...], index: int, entry: Entry) -> tuple[Entry, ...]:
    """The entries with one of them changed."""
    return (*entries[:index], entry, *entries[index + 1 :])


def keep_order(case: Case, first: int, second: int) -> Iterator[Candidate]:
    """Make entry ``first`` act before entry ``second`` all year: a limit on the sun time, or what `fit` would key."""
    entries, limits = case.entries, case.plan.unit.limits
    a, b = entries[first], entries[second]
    if limits.limited_times and first < second:
        if isinstance(a.at, ClockTime) and isinstance(b.at, SunTime):
            limited = replace(b, at=LimitedTime(at=b.at, not_before=a.at))
            yield Limit(second + 1, a.at, before=True), changed(entries, second, limited)
        if isinstance(a.at, SunTime) and isinstance(b.at, ClockTime):
            limited = replace(a, at=LimitedTime(at=a.at, not_after=b.at))
            yield Limit(first + 1, b.at, before=False), changed(entries, first, limited)
    yield from as_fitted(case, first)
    yield from anew(case)
    yield from clear(case, first)


def as_fitted(case: Case, index: int) -> Iterator[Candidate]:
    """An entry with the days that `fit` would give one of its action and time."""
    old = case.entries[index]
    twins = [e for e in case.fitted if e.on == old.on and e.at == old.at and set(old.channels) <= set(e.channels)]
    if len(twins) == 1 and twins[0].days != old.days:
        yield ChangeDays(index + 1, twins[0].days), changed(case.entries, index, replace(old, days=twins[0].days))


def anew(case: Case) -> Iterator[Candidate]:
    """All entries as `fit` would make them."""
    yield FitAnew(), case.fitted


def clear(case: Case, index: int) -> Iterator[Candidate]:
    """An entry left out."""
    yield ClearSlot(index + 1), without(case.entries, index)


def missing_off(case: Case, channel: int, on: int) -> Iterator[Candidate]:
    """Add the OFF that `fit` would give the channel (from 1), or clear an ON that serves no window."""
    limit = case.plan.unit.limits.entries
    room = limit is None or len(case.entries) < limit
    for entry in case.fitted:
        if not entry.on and channel in entry.channels and room:
            added = replace(entry, channels=(channel,))
            yield AddEntry("off", entry.at, entry.days), (*case.entries, added)
    yield from clear(case, on)
    yield from anew(case)


def widen(case: Case, index: int, needed: int) -> Iterator[Candidate]:
    """Let an entry act on the weekdays ``needed`` too: in its own slot, or in slots added."""
    entries, limits = case.entries, case.plan.unit.limits
    entry = entries[index]
    yield from as_fitted(case, index)
    own = entry.days.mask if isinstance(entry.days, Weekdays) else 0
    for days in (Weekdays(own | needed), DAILY):
        if limits.holds_days(days):
            yield ChangeDays(index + 1, days), changed(entries, index, replace(entry, days=days))
    yield from _added(entries, entry, needed, limits)
    yield from anew(case)


def _added(entries: tuple[Entry, ...], entry: Entry, needed: int, limits: Limits) -> Iterator[Candidate]:
    masks = cover(needed, limits.masks())
    room = limits.entries is None or len(entries) + len(masks or ()) <= limits.entries
    if masks and room:
        added = tuple(replace(entry, days=Weekdays(mask), id=None) for mask in masks)
        yield AddDays(entry.action, Weekdays(needed)), (*entries, *added)
