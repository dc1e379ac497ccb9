"""From what is wanted to what is keyed in: entries for a plan's windows within its unit's limits, proven by replay.

Order of preference, in this order and without chance: the fewest wrong hours; the fewest slots; entries without a
weekday or a channel that nothing needs; windows in the order in which they are written, ON before OFF.
"""

from collections.abc import Iterator
from dataclasses import dataclass, replace

from skavit.core.fitting.bent import capacity_of, join, key_channel, shrink
from skavit.core.fitting.correction import common_offsets, without_offset
from skavit.core.fitting.covering import Covering, Keyed
from skavit.core.fitting.fewest_wrong import FewestWrong
from skavit.core.fitting.lasting import by_clock, without_briefs, without_slots
from skavit.core.fitting.proof import Loss, Other, losses, other, proof
from skavit.core.fitting.thinning import pairs_of, thinned
from skavit.core.fitting.trains import key_trains, without_trains
from skavit.core.fitting.trial import Draft, Drafts, Range, Trial
from skavit.core.ground.budget import Budget
from skavit.core.ground.errors import RangeError
from skavit.core.memory import holds_all, place
from skavit.core.plan.clock_settings import ClockSettings
from skavit.core.plan.document import Plan
from skavit.core.plan.entry import Entry
from skavit.core.plan.limits import Limits
from skavit.core.plan.sun_settings import Adjust
from skavit.core.site.lawful import as_keyed

OTHERS = 2
# What a fit looks at, at most: its windows, and its channels.
MOST_WINDOWS, MOST_CHANNELS = 400, 200


@dataclass(frozen=True, slots=True, kw_only=True)
class Fit:
    """A plan whose entries were made from its windows; ``losses`` is empty exactly when nothing is lost."""

    plan: Plan
    losses: tuple[Loss, ...]
    others: tuple[Other, ...] = ()  # what else the unit could hold, the least wrong first
    ended: bool = False  # the search ended at its budget: this is the best of what was tried, there may be better


def fit(plan: Plan, first_year: int, budget: Budget | None = None, dates: Range | None = None) -> Fit:
    """Entries for all windows of ``plan`` within ``plan.unit.limits``; one set for the whole year, or for ``dates``.

    They are proven by replay from ``first_year`` on (:mod:`skavit.core.fitting.proof`); what is lost is the difference
    of that replay, by the unit's own clock, if nobody touches it. The search keeps to a budget, and
    takes the best so far where it ends. Raises :class:`RangeError` for more windows and channels than it can look at.
    """
    check_size(plan)
    trains = key_trains(plan)
    limits = plan.unit.limits
    if limits.entries is not None:
        limits = replace(limits, entries=max(limits.entries - len(trains.entries), 0))
    trial = Trial(without_trains(plan), first_year, budget, dates)
    exact = _exact(trial, limits)
    found = exact if exact and not _wrong_s(trial, exact) else _better(trial, exact, _bent(trial, limits))
    if trial.budget.ended:
        for own in found.reasons:
            own.append(f"the best of the first {trial.budget.steps / 1e6:.0f} million steps of the search")
    for number, reason in trains.reasons.items():
        found.reasons[number].append(reason)
    channels = plan.channels
    if found.adjusts and plan.unit.sun.source not in ("photocell", "none"):
        pairs = zip(plan.channels, found.adjusts, strict=True)
        channels = tuple(replace(channel, adjust=adjust) for channel, adjust in pairs)
    bare = replace(plan, unit=replace(plan.unit, keyings=()), channels=channels)
    choices = [
        bare.with_entries(placeable((*entries, *trains.entries), plan.unit.limits))
        for entries in (found.entries, *found.others)
    ]
    for entry in set(trains.entries) - set(choices[0].unit.entries):
        found.reasons[entry.channels[0] - 1].append("the memory has no slot left for an entry that repeats")
    proven = without_briefs(choices[0], first_year, dates)
    # A foreign rule for daylight saving is never keyed: a fit is not left out for what it would do.
    keyed = as_keyed(plan.unit.clock, plan.site.timezone, first_year)
    judged = proven if keyed == plan.unit.clock else proof(by_clock(proven.plan, keyed), first_year, dates)
    if worse := judged.worse_than_nothing:
        best = proven.plan
        for number in worse if plan.unit.clock != ClockSettings() else ():
            found.reasons[number - 1].append(
                "by the unit's clock nothing keyed is less wrong: set its clock first, then fit"
            )
        every = range(len(best.unit.entries))
        proven = without_briefs(best.with_entries(tuple(without_slots(best, every, worse))), first_year, dates)
    others = [proof(choice, first_year, dates) for choice in choices[1:]]
    return Fit(
        plan=proven.plan,
        losses=losses(proven, found.reasons),
        others=tuple(map(other, (choice for choice in others if not choice.brief_count))),
        ended=trial.budget.ended,
    )


def check_size(plan: Plan) -> None:
    """Raise :class:`RangeError` where a plan has more than a fit looks at."""
    windows = sum(len(channel.windows) for channel in plan.channels)
    if windows > MOST_WINDOWS:
        raise RangeError(f"{windows} windows are too many to fit; accepted: at most {MOST_WINDOWS} in all channels")
    if len(plan.channels) > MOST_CHANNELS:
        raise RangeError(f"{len(plan.channels)} channels are too many to fit; accepted: at most {MOST_CHANNELS}")


@dataclass(frozen=True, slots=True, kw_only=True)
class _Found:
    """Entries, the reasons of what is bent, and other entries that come near."""

    entries: tuple[Entry, ...]
    reasons: list[list[str]]
    adjusts: tuple[Adjust, ...] = ()  # the channels' corrections, where offsets are keyed as those
    others: tuple[tuple[Entry, ...], ...] = ()


def _better(trial: Trial, exact: _Found | None, bent: _Found) -> _Found:
    """Of two the one with fewer wrong hours, then with fewer entries."""
    if exact is None or bent.adjusts:
        return bent
    return min(exact, bent, key=lambda found: (_wrong_s(trial, found), len(found.entries)))


def _wrong_s(trial: Trial, found: _Found) -> int:
    return sum(_wrong_each(trial, found.entries))


def _wrong_each(trial: Trial, entries: tuple[Entry, ...]) -> Iterator[int]:
    """Seconds wrong of each channel under the entries of a unit."""
    for channel in range(len(trial.plan.channels)):
        yield trial.wrong_s(channel, _of_channel(entries, channel))


def _exact(trial: Trial, limits: Limits) -> _Found | None:
    """The fewest slots that do just what is wanted but on holidays, or None where nothing does."""
    if limits.offset_by == "correction":
        return None
    for order in (order for slots in Covering(trial, limits).fewest() for order in _slot_orders(slots)):
        entries = tuple(draft.entry(tuple(c + 1 for c in slot.channels)) for slot in order for draft in slot.drafts)
        found = _Found(entries=entries, reasons=[[] for _ in trial.plan.channels])
        if trial.plan.unit.holidays or not _wrong_s(trial, found):
            return found
    return None


def _slot_orders(slots: list[Keyed]) -> Iterator[list[Keyed]]:
    """Orders to try; they differ only where ON and OFF stand at one instant."""
    yield slots
    yield sorted(slots, key=lambda slot: slot.drafts[0].on)
    yield sorted(slots, key=lambda slot: not slot.drafts[0].on)


def _bent(trial: Trial, limits: Limits) -> _Found:
    """Entries that come nearest to what is wanted, where none do just that."""
    keyed = [key_channel(trial, number, limits) for number in range(len(trial.plan.channels))]
    drafts = [channel.drafts for channel in keyed]
    reasons = [list(channel.reasons) for channel in keyed]
    if limits.offset_by == "correction":
        return _by_correction(trial, limits, drafts, reasons)
    entries = join(trial, drafts, limits)
    others: tuple[tuple[Entry, ...], ...] = ()
    if not holds_all(entries, limits):
        entries, others = _least_wrong(trial, drafts, limits)
        why = _too_small(limits, drafts, trial)
        for number, own in enumerate(drafts):
            if trial.wrong_s(number, _of_channel(entries, number)) > trial.wrong_s(number, own):
                reasons[number].append(why)
    elif limits.day_groups is not None and trial.plan.unit.sun.is_true:
        wrong = sum(trial.wrong_s(number, own) for number, own in enumerate(drafts))
        choices = FewestWrong(trial, limits, at_most=len(entries)).search() or [] if wrong else []
        if choices and choices[0].wrong_s < wrong:
            entries = choices[0].entries
        others = tuple(_unlike(entries, [c.entries for c in choices if c.wrong_s > wrong])[:OTHERS])
    return _Found(entries=entries, reasons=reasons, others=others)


def _by_correction(trial: Trial, limits: Limits, drafts: list[Drafts], reasons: list[list[str]]) -> _Found:
    """The same with the offsets moved into the channels' corrections."""
    adjusts: dict[int, Adjust] = {}
    numbers = range(len(drafts))
    for group in [list(numbers)] if limits.one_correction else [[number] for number in numbers]:
        common, adjust = common_offsets(trial, {number: drafts[number] for number in group})
        for number, own in common.items():
            adjusts[number] = adjust
            if drafts[number] != own:
                reasons[number].append("the unit has one correction for its mornings and one for its evenings")
            drafts[number] = own
    entries = join(trial, drafts, limits)
    if not holds_all(entries, limits):
        before = list(drafts)
        drafts = shrink(trial, drafts, limits)
        for number, own in enumerate(before):
            if own != drafts[number]:
                reasons[number].append(_too_small(limits, before, trial))
        entries = placeable(join(trial, drafts, limits), limits)
    keyed = tuple(without_offset(entry) for entry in entries)
    return _Found(entries=keyed, reasons=reasons, adjusts=tuple(adjusts[number] for number in numbers))


def placeable(entries: tuple[Entry, ...], limits: Limits) -> tuple[Entry, ...]:
    """The entries less those for which the memory has no slot: by its banks, and by how many it holds in all."""
    while True:
        left = set(place(entries, limits).left)
        if not left and limits.entries is not None:
            left = set(range(limits.entries, len(entries)))
        if not left:
            return entries
        entries = tuple(entry for index, entry in enumerate(entries) if index not in left)


def _too_small(limits: Limits, drafts: list[Drafts], trial: Trial) -> str:
    needed = len(join(trial, drafts, limits))
    if limits.slots is not None:
        return f"the unit's memory does not hold the {needed} entries that are needed"
    return f"the unit holds {limits.entries} entries, {needed} are needed"


def _least_wrong(
    trial: Trial, drafts: list[Drafts], limits: Limits
) -> tuple[tuple[Entry, ...], tuple[tuple[Entry, ...], ...]]:
    """The least wrong entries that the memory holds, and two that come next."""
    choices = FewestWrong(trial, limits).search()
    if choices is None:
        tried = [placeable(join(trial, shrink(trial, drafts, limits), limits), limits), _in_pairs(trial, limits), ()]
        return min(tried, key=lambda entries: sum(_wrong_each(trial, entries))), ()
    others = [choice.entries for choice in choices if choice.wrong_s > choices[0].wrong_s]
    return choices[0].entries, tuple(_unlike(choices[0].entries, others)[:OTHERS])


def _in_pairs(trial: Trial, limits: Limits) -> tuple[Entry, ...]:
    """Windows as pairs, as many as the memory holds, those left out that do the least harm."""
    if not any(bank.is_pair for bank in limits.slots or ()):
        return ()
    channels = range(len(trial.plan.channels))
    found = thinned(trial, [pairs_of(trial, c, limits) for c in channels], capacity_of(limits), in_pairs=True)
    shared: dict[tuple[Drafts, int], tuple[int, ...]] = {}
    for number, drafts in enumerate(found, start=1):
        for index in range(0, len(drafts), 2):
            # A slot that names one channel is shared with no other.
            pair = drafts[index : index + 2], number if limits.one_channel else 0
            shared[pair] = (*shared.get(pair, ()), number)
    entries = tuple(draft.entry(numbers) for (pair, _), numbers in shared.items() for draft in pair)
    return placeable(entries, limits)


def _unlike(first: tuple[Entry, ...], others: list[tuple[Entry, ...]]) -> list[tuple[Entry, ...]]:
    """Those whose times are not those of one before: another day group alone is no other way."""
    seen = {frozenset((e.on, e.at, e.channels) for e in first)}
    found = []
    for entries in others:
        times = frozenset((e.on, e.at, e.channels) for e in entries)
        if times not in seen and entries:
            seen.add(times)
            found.append(entries)
    return found


def _of_channel(entries: tuple[Entry, ...], channel: int) -> Drafts:
    return tuple(Draft(on=e.on, at=e.at, days=e.days, pulse_s=e.pulse_s) for e in entries if channel + 1 in e.channels)
