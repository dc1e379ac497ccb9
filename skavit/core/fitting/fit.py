"""From what is wanted to what is keyed in: entries for a plan's windows within its unit's limits, proven by replay.

Order of preference, in this order and without chance: the fewest wrong hours over two years; the fewest slots; the
entries nearest to the windows as written; windows in the order in which they are written, ON before OFF.
"""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace
from datetime import date

import numpy as np

from skavit.core.banks import place
from skavit.core.days import Weekdays
from skavit.core.entry import Entry
from skavit.core.fitting.correction import common_offsets, without_offset
from skavit.core.fitting.covering import Covering, Keyed
from skavit.core.fitting.fewest_wrong import FewestWrong
from skavit.core.fitting.groups import UNREACHABLE, cost, cover, supersets
from skavit.core.fitting.trains import key_trains, without_trains
from skavit.core.fitting.trial import PROOF_YEARS, Draft, Drafts, Trial
from skavit.core.fitting.ways import Keyer, Way
from skavit.core.limits import Limits
from skavit.core.plan import Plan
from skavit.core.replay import Replay, replay
from skavit.core.spans import unite
from skavit.core.sun import DAY_S
from skavit.core.sun_settings import Adjust
from skavit.core.values import day_of
from skavit.core.wording import PLAIN, days_text

ROUNDS = 3
BEAM = 4
OTHERS = 2


@dataclass(frozen=True, slots=True, kw_only=True)
class Loss:
    """What of a channel could not be held: why, from when to when, how much, and what comes nearest."""

    channel: int  # from 1
    reason: str
    first: date
    last: date
    hours_a_year: float
    nearest: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Other:
    """Other entries that the unit could hold, and what they lose."""

    entries: tuple[Entry, ...]
    hours_a_year: float
    lost: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Fit:
    """A plan whose entries were made from its windows; ``losses`` is empty exactly when nothing is lost."""

    plan: Plan
    losses: tuple[Loss, ...]
    others: tuple[Other, ...] = ()  # what else the unit could hold, the least wrong first


@dataclass(frozen=True, slots=True, kw_only=True)
class _Keyed:
    """One channel's entries so far, with the reasons of what is bent."""

    drafts: Drafts
    reasons: tuple[str, ...] = ()


def fit(plan: Plan, first_year: int) -> Fit:
    """Entries for all windows of ``plan`` within ``plan.unit.limits``; one set for the whole year.

    They are proven by replaying two calendar years from ``first_year``; what is lost is the difference of that
    replay, by the unit's own clock, if nobody touches it.
    """
    trains = key_trains(plan)
    limits = plan.unit.limits
    if limits.entries is not None:
        limits = replace(limits, entries=max(limits.entries - len(trains.entries), 0))
    trial = Trial(without_trains(plan), first_year)
    found = _exact(trial, limits) or _bent(trial, limits)
    for number, reason in trains.reasons.items():
        found.reasons[number].append(reason)
    channels = plan.channels
    if found.adjusts:
        pairs = zip(plan.channels, found.adjusts, strict=True)
        channels = tuple(replace(channel, adjust=adjust) for channel, adjust in pairs)
    bare = replace(plan, unit=replace(plan.unit, keyings=()), channels=channels)
    choices = [bare.with_entries((*entries, *trains.entries)) for entries in (found.entries, *found.others)]
    return Fit(
        plan=choices[0],
        losses=_losses(choices[0], first_year, found.reasons),
        others=tuple(_other(choice, first_year) for choice in choices[1:]),
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class _Found:
    """Entries, the reasons of what is bent, and other entries that come near."""

    entries: tuple[Entry, ...]
    reasons: list[list[str]]
    adjusts: tuple[Adjust, ...] = ()  # the channels' corrections, where offsets are keyed as those
    others: tuple[tuple[Entry, ...], ...] = ()


def _exact(trial: Trial, limits: Limits) -> _Found | None:
    """The fewest slots that do just what is wanted, or None where nothing does."""
    if limits.offset_by == "correction":
        return None
    for order in (order for slots in Covering(trial, limits).fewest() for order in _slot_orders(slots)):
        entries = tuple(draft.entry(tuple(c + 1 for c in slot.channels)) for slot in order for draft in slot.drafts)
        own = [
            tuple(draft for slot in order if channel in slot.channels for draft in slot.drafts)
            for channel in range(len(trial.plan.channels))
        ]
        if not any(trial.wrong_s(channel, drafts) for channel, drafts in enumerate(own)):
            return _Found(entries=entries, reasons=[[] for _ in own])
    return None


def _slot_orders(slots: list[Keyed]) -> Iterator[list[Keyed]]:
    """Orders to try; they differ only where ON and OFF stand at one instant."""
    yield slots
    yield sorted(slots, key=lambda slot: slot.drafts[0].on)
    yield sorted(slots, key=lambda slot: not slot.drafts[0].on)


def _bent(trial: Trial, limits: Limits) -> _Found:
    """Entries that come nearest to what is wanted, where none do just that."""
    keyed = [_key_channel(trial, number, limits) for number in range(len(trial.plan.channels))]
    drafts = [channel.drafts for channel in keyed]
    reasons = [list(channel.reasons) for channel in keyed]
    if limits.offset_by == "correction":
        return _by_correction(trial, limits, drafts, reasons)
    entries = _joined(trial, drafts, limits)
    others: tuple[tuple[Entry, ...], ...] = ()
    if not _held(entries, limits):
        entries, others = _least_wrong(trial, drafts, limits)
        for number, own in enumerate(drafts):
            if trial.wrong_s(number, _of_channel(entries, number)) > trial.wrong_s(number, own):
                reasons[number].append(_too_small(limits, drafts, trial))
    elif limits.day_groups is not None and trial.plan.unit.sun.is_true:
        wrong = sum(trial.wrong_s(number, own) for number, own in enumerate(drafts))
        choices = FewestWrong(trial, limits, at_most=len(entries)).search() or [] if wrong else []
        if choices and choices[0].wrong_s < wrong:
            entries = choices[0].entries
        others = tuple(_unlike(entries, [c.entries for c in choices if c.wrong_s > wrong])[:OTHERS])
    return _Found(entries=entries, reasons=reasons, others=others)


def _by_correction(trial: Trial, limits: Limits, drafts: list[Drafts], reasons: list[list[str]]) -> _Found:
    """The same with the offsets moved into the channels' corrections."""
    adjusts: list[Adjust] = []
    for number, own in enumerate(drafts):
        drafts[number], adjust = common_offsets(trial, number, own)
        adjusts.append(adjust)
        if drafts[number] != own:
            reasons[number].append("the unit has one correction for its mornings and one for its evenings")
    entries = _joined(trial, drafts, limits)
    if not _held(entries, limits):
        before = list(drafts)
        drafts = _shrink(trial, drafts, limits)
        for number, own in enumerate(before):
            if own != drafts[number]:
                reasons[number].append(_too_small(limits, before, trial))
        entries = _joined(trial, drafts, limits)
    keyed = tuple(without_offset(entry) for entry in entries)
    return _Found(entries=keyed, reasons=reasons, adjusts=tuple(adjusts))


def _held(entries: tuple[Entry, ...], limits: Limits) -> bool:
    """Whether the memory has a slot for each of the entries."""
    return (limits.entries is None or len(entries) <= limits.entries) and not place(entries, limits).left


def _too_small(limits: Limits, drafts: list[Drafts], trial: Trial) -> str:
    needed = len(_joined(trial, drafts, limits))
    if limits.slots is not None:
        return f"the unit's memory does not hold the {needed} entries that are needed"
    return f"the unit holds {limits.entries} entries, {needed} are needed"


def _least_wrong(
    trial: Trial, drafts: list[Drafts], limits: Limits
) -> tuple[tuple[Entry, ...], tuple[tuple[Entry, ...], ...]]:
    """The least wrong entries that the memory holds, and two that come next."""
    choices = FewestWrong(trial, limits).search()
    if choices is None:
        shrunk = _joined(trial, _shrink(trial, drafts, limits), limits)
        left = place(shrunk, limits).left
        return tuple(entry for index, entry in enumerate(shrunk) if index not in left), ()
    others = [choice.entries for choice in choices if choice.wrong_s > choices[0].wrong_s]
    return choices[0].entries, tuple(_unlike(choices[0].entries, others)[:OTHERS])


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


def _other(plan: Plan, first_year: int) -> Other:
    proof = _proof(plan, first_year)
    told = [
        f"{channel.name}: {channel.missing_h / PROOF_YEARS:.0f} h dark, {channel.extra_h / PROOF_YEARS:.0f} h on unwanted"
        for channel in proof.channels
        if channel.missing_h + channel.extra_h > 0
    ]
    hours = sum(channel.missing_h + channel.extra_h for channel in proof.channels) / PROOF_YEARS
    return Other(entries=plan.unit.entries, hours_a_year=hours, lost="; ".join(told))


# ---------------------------------------------------------------------------------------------------- one channel


def _key_channel(trial: Trial, channel: int, limits: Limits) -> _Keyed:
    """The drafts of one channel: each window in its best way, then in as few entries as do the same."""
    windows = trial.plan.channels[channel].windows
    options = [list(Keyer(trial, window, limits, channel).ways()) for window in windows]
    options = [[way for way in ways if _admitted(way, limits)] or [Way(drafts=())] for ways in options]
    chosen = [ways[0] for ways in options]

    def result(ways: list[Way]) -> tuple[tuple[int, int, int], Drafts]:
        drafts = _fewest(trial, channel, _merged(ways, limits), limits)
        # A window is left out only if every other way costs more: that comes before the number of slots.
        return (trial.wrong_s(channel, drafts), _left_out(ways, drafts), len(drafts)), drafts

    best = result(chosen)
    for _ in range(ROUNDS):
        before = best[0]
        for index, ways in enumerate(options):
            if not best[0][0]:
                break
            for way in ways:
                attempt = [*chosen[:index], way, *chosen[index + 1 :]]
                found = result(attempt)
                if found[0] < best[0]:
                    chosen, best = attempt, found
        if best[0] == before:
            break
    reasons = tuple(dict.fromkeys(way.reason for way in chosen if way.reason))
    return _Keyed(drafts=best[1], reasons=reasons if best[0][0] else ())


def _left_out(ways: list[Way], drafts: Drafts) -> int:
    """How many windows have no ON of theirs left among the drafts."""
    kept = {draft.at for draft in drafts if draft.on}
    return sum(not any(draft.on and draft.at in kept for draft in way.drafts) for way in ways)


def _admitted(way: Way, limits: Limits) -> bool:
    actions = limits.actions
    return actions is None or all(("on" if draft.on else "off") in actions for draft in way.drafts)


def _merged(ways: Iterable[Way], limits: Limits) -> Drafts:
    """All drafts in order, with those of one action and time joined to one set of weekdays."""
    found: dict[tuple[object, ...], Draft] = {}
    for draft in (draft for way in ways for draft in way.drafts):
        plain = isinstance(draft.days, Weekdays)
        key = (draft.on, draft.at, None if plain else draft.days)
        old = found.get(key)
        if old is not None and isinstance(old.days, Weekdays) and isinstance(draft.days, Weekdays):
            draft = replace(draft, days=Weekdays(old.days.mask | draft.days.mask))  # noqa: PLW2901
        found[key] = draft
    return tuple(found.values())


def _fewest(trial: Trial, channel: int, drafts: Drafts, limits: Limits) -> Drafts:
    """The drafts in holdable day groups, in the fewest slots that do no worse."""
    drafts = min(_orders(drafts), key=lambda order: trial.wrong_s(channel, order))
    if trial.wrong_s(channel, drafts):
        drafts = _without_harmful_days(trial, channel, drafts, limits.masks())
    drafts = _without_superfluous(trial, channel, drafts)
    if limits.day_groups is not None:
        drafts = _in_groups(trial, channel, drafts, limits.masks())
        drafts = _without_superfluous(trial, channel, drafts)
    return drafts


def _orders(drafts: Drafts) -> Iterator[Drafts]:
    """Slot orders to try; they differ only where ON and OFF stand at one instant."""
    yield drafts
    yield tuple(sorted(drafts, key=lambda draft: draft.at.nominal_s))
    yield tuple(sorted(drafts, key=lambda draft: draft.on))
    yield tuple(sorted(drafts, key=lambda draft: not draft.on))


def _without_superfluous(trial: Trial, channel: int, drafts: Drafts) -> Drafts:
    """Drop every draft without which the channel does the same or better, and every OFF without which it does no worse.

    An ON that does no worse left out than kept is kept all the same: somebody wanted it.
    """
    dropped = True
    while dropped:
        dropped = False
        for index in range(len(drafts) - 1, -1, -1):
            fewer = drafts[:index] + drafts[index + 1 :]
            change = trial.wrong_s(channel, fewer) - trial.wrong_s(channel, drafts)
            if change < 0 or (
                change == 0 and (not drafts[index].on or trial.output(channel, fewer) == trial.output(channel, drafts))
            ):
                drafts, dropped = fewer, True
    return drafts


def _without_harmful_days(trial: Trial, channel: int, drafts: Drafts, groups: frozenset[int]) -> Drafts:
    """Take out weekdays on which an entry does harm, as an OFF that cuts another window short."""
    for index, draft in enumerate(drafts):
        for bit in range(7):
            days = drafts[index].days
            if not isinstance(days, Weekdays) or not days.mask >> bit & 1 or days.mask == 1 << bit:
                continue
            mask = days.mask & ~(1 << bit)
            if cost(mask, groups) == UNREACHABLE:
                continue
            narrower = replace(draft, days=Weekdays(mask))
            attempt = (*drafts[:index], narrower, *drafts[index + 1 :])
            if trial.wrong_s(channel, attempt) < trial.wrong_s(channel, drafts):
                drafts = attempt
    return drafts


def _in_groups(trial: Trial, channel: int, drafts: Drafts, groups: frozenset[int]) -> Drafts:
    """Write each draft's weekdays in the unit's day groups, wider where that does no harm and takes fewer slots."""
    wrong = trial.wrong_s(channel, drafts)
    chosen = list(drafts)
    for index, draft in enumerate(drafts):
        if not isinstance(draft.days, Weekdays) or cost(draft.days.mask, groups) == 1:
            continue
        chosen[index] = _best_mask(trial, channel, tuple(chosen), index, groups, wrong)
    written: list[Draft] = []
    for draft in chosen:
        masks = cover(draft.days.mask, groups) if isinstance(draft.days, Weekdays) else None
        written += [draft] if masks is None else [replace(draft, days=Weekdays(mask)) for mask in masks]
    return tuple(written)


def _best_mask(trial: Trial, channel: int, drafts: Drafts, index: int, groups: frozenset[int], wrong: int) -> Draft:
    """The draft at ``index`` with the cheapest weekdays that do no harm, or else the least harm."""
    draft = drafts[index]
    mask = draft.days.mask if isinstance(draft.days, Weekdays) else 0
    own = cost(mask, groups)
    wider = [other for other in supersets(mask, groups) if cost(other, groups) < own or other == mask]
    if own == UNREACHABLE:  # the set itself cannot be written: any that can be comes into question
        wider = supersets(mask, groups) + [other for other in range(1, 128) if cost(other, groups) < UNREACHABLE]
    tried = []
    for other in dict.fromkeys(wider):
        attempt = replace(draft, days=Weekdays(other))
        result = trial.wrong_s(channel, (*drafts[:index], attempt, *drafts[index + 1 :]))
        tried.append((result, cost(other, groups), attempt))
        if result <= wrong:
            return attempt
    return min(tried, key=lambda found: found[:2])[2] if tried else draft


# ------------------------------------------------------------------------------------------------- all channels


def _joined(trial: Trial, channels: list[Drafts], limits: Limits) -> tuple[Entry, ...]:
    """All channels' drafts as entries, those that are equal (or may be, at no harm) in one slot."""
    channels = _alike(trial, channels, limits)
    shared: dict[Draft, tuple[int, ...]] = {}
    for number, drafts in enumerate(channels, start=1):
        for draft in drafts:
            shared[draft] = (*shared.get(draft, ()), number)
    slots = list(shared.items())
    for number, drafts in enumerate(channels):
        order = tuple(draft for draft, numbers in slots if number + 1 in numbers)
        if trial.wrong_s(number, order) > trial.wrong_s(number, drafts):
            # Two entries at one instant would change places: such channels keep slots of their own.
            slots = [(d, (n,)) for n, own in enumerate(channels, start=1) for d in own]
            break
    return tuple(draft.entry(numbers) for draft, numbers in slots)


def _alike(trial: Trial, channels: list[Drafts], limits: Limits) -> list[Drafts]:
    """Give one action and time of several channels the same weekdays where none of them takes harm."""
    groups = limits.masks()
    found = list(channels)
    keys = {(d.on, d.at): None for drafts in channels for d in drafts if isinstance(d.days, Weekdays)}
    for on, at in keys:
        holders = [n for n, drafts in enumerate(found) if _masks(drafts, on, at)]
        union = 0
        for number in holders:
            for mask in _masks(found[number], on, at):
                union |= mask
        written = cover(union, groups)
        single = {mask for number in holders for mask in _masks(found[number], on, at)}
        if len(holders) < 2 or written is None or len(written) >= len(single):
            continue
        attempt = {n: _with_masks(found[n], on, at, written) for n in holders}
        if all(trial.wrong_s(n, drafts) <= trial.wrong_s(n, found[n]) for n, drafts in attempt.items()):
            for number, drafts in attempt.items():
                found[number] = drafts
    return found


def _masks(drafts: Drafts, on: bool, at: object) -> list[int]:
    return [d.days.mask for d in drafts if d.on == on and d.at == at and isinstance(d.days, Weekdays)]


def _with_masks(drafts: Drafts, on: bool, at: object, masks: tuple[int, ...]) -> Drafts:
    """The drafts with one action and time written anew in ``masks``, at the place of the first."""
    written: list[Draft] = []
    done = False
    for draft in drafts:
        if draft.on != on or draft.at != at or not isinstance(draft.days, Weekdays):
            written.append(draft)
        elif not done:
            done = True
            written += [replace(draft, days=Weekdays(mask)) for mask in masks]
    return tuple(written)


def _shrink(trial: Trial, channels: list[Drafts], limits: Limits) -> list[Drafts]:
    """The least wrong drafts that fit the number of entries, by single steps from several best at a time."""
    groups = limits.masks()
    capacity = limits.entries or 0

    def wrong(state: Iterable[Drafts]) -> int:
        return sum(trial.wrong_s(number, drafts) for number, drafts in enumerate(state))

    def used(state: Iterable[Drafts]) -> int:
        return len(_joined(trial, list(state), limits))

    beam: list[tuple[Drafts, ...]] = [tuple(channels)]
    done: list[tuple[Drafts, ...]] = []
    while beam:
        following: dict[tuple[Drafts, ...], None] = {}
        for state in beam:
            for step in _smaller(state, groups):
                following[step] = None
        ranked = sorted(following, key=lambda state: (wrong(state), used(state)))
        done += [state for state in ranked[: BEAM * 4] if used(state) <= capacity][:BEAM]
        bound = min((wrong(state) for state in done), default=None)
        beam = [s for s in ranked if (bound is None or wrong(s) < bound) and used(s) > capacity][:BEAM]
    empty: tuple[Drafts, ...] = tuple(() for _ in channels)
    done.append(empty)
    # Of states that are equally wrong the one that keeps more is taken: a window is left out only if it must be.
    return list(min(done, key=lambda state: (wrong(state), -used(state))))


def _smaller(state: tuple[Drafts, ...], groups: frozenset[int]) -> Iterator[tuple[Drafts, ...]]:
    """States one slot smaller: a draft dropped, an ON and an OFF dropped, or two of one action made one."""
    for number, drafts in enumerate(state):

        def changed(new: Drafts, number: int = number) -> tuple[Drafts, ...]:
            return (*state[:number], new, *state[number + 1 :])

        for i in range(len(drafts)):
            yield changed(drafts[:i] + drafts[i + 1 :])
            for j in range(len(drafts)):
                if i < j and drafts[i].on != drafts[j].on:
                    yield changed(drafts[:i] + drafts[i + 1 : j] + drafts[j + 1 :])
                if i != j and drafts[i].on == drafts[j].on:
                    yield from map(changed, _as_one(drafts, i, j, groups))


def _as_one(drafts: Drafts, keep: int, drop: int, groups: frozenset[int]) -> Iterator[Drafts]:
    """``drop`` left out and ``keep`` on the days of both, in any one group that holds them."""
    a, b = drafts[keep].days, drafts[drop].days
    if not isinstance(a, Weekdays) or not isinstance(b, Weekdays):
        return
    for mask in sorted(groups):
        if mask & (a.mask | b.mask) == a.mask | b.mask:
            kept = replace(drafts[keep], days=Weekdays(mask))
            yield tuple(kept if i == keep else d for i, d in enumerate(drafts) if i != drop)


# -------------------------------------------------------------------------------------------------------- losses


def _proof(plan: Plan, first_year: int) -> Replay:
    """The years over which entries are proven, if nobody touches the unit."""
    return replay(replace(plan, overrides=()), date(first_year, 1, 1), date(first_year + PROOF_YEARS - 1, 12, 31))


def _losses(plan: Plan, first_year: int, reasons: list[list[str]]) -> tuple[Loss, ...]:
    proof = _proof(plan, first_year)
    return tuple(loss for number, why in enumerate(reasons) if (loss := _loss(plan, proof, number, why)) is not None)


def _loss(plan: Plan, proof: Replay, number: int, reasons: list[str]) -> Loss | None:
    channel = proof.channels[number]
    wrong = unite([channel.extra, channel.missing])
    if not wrong.total_s:
        return None
    if not plan.unit.clock.is_right or proof.unit_clock.right is not proof.site_clock:
        differs = not np.array_equal(proof.unit_clock.shows(wrong.on), proof.site_clock.digits(wrong.on))
        if differs:
            reasons = [*reasons, "the unit's clock differs from the site's"]
    if not plan.unit.sun.is_true:
        reasons = [*reasons, "the unit's sun differs from the site's"]
    if plan.unit.holidays and not reasons:
        reasons = ["no entry acts on the unit's holidays"]
    days = proof.site_clock.digits(np.array([wrong.on[0], wrong.off[-1] - 1])) // DAY_S
    entries = [e for e in plan.unit.entries if number + 1 in e.channels]
    return Loss(
        channel=number + 1,
        reason="; ".join(reasons) or "no entries do just what is wanted",
        first=day_of(int(days[0])),
        last=day_of(int(days[1])),
        hours_a_year=wrong.total_s / 3600 / PROOF_YEARS,
        nearest="; ".join(f"{e.action.upper()} {PLAIN.time(e.at)} {days_text(e.days)}" for e in entries) or "nothing",
    )
