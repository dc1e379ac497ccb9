"""Each channel in its best way where nothing does just what is wanted: windows bent, then as few entries as do the same."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace

from skavit.core.fitting.groups import UNREACHABLE, cost, cover, supersets
from skavit.core.fitting.layouts import Layout, WindowLayouts
from skavit.core.fitting.thinning import thinned
from skavit.core.fitting.trial import Draft, Drafts, Trial
from skavit.core.plan.days import Weekdays
from skavit.core.plan.entry import Entry
from skavit.core.plan.limits import Limits
from skavit.core.plan.times import Time

ROUNDS = 3
BEAM = 4
# Up to so many drafts no one is dropped unlooked at.
LEAST_THINNED = 20
# What joining takes for each draft, and weighing a state for each channel, in the steps of a budget (measured).
STEPS_A_JOINED, STEPS_A_CHANNEL = 120, 15


@dataclass(frozen=True, slots=True, kw_only=True)
class ChannelKeyed:
    """One channel's entries so far, with the reasons of what is bent."""

    drafts: Drafts
    reasons: tuple[str, ...] = ()


# ---------------------------------------------------------------------------------------------------- one channel


def key_channel(trial: Trial, channel: int, limits: Limits) -> ChannelKeyed:
    """The drafts of one channel: each window in its best way, then in as few entries as do the same."""
    windows = trial.plan.channels[channel].windows
    options = [list(WindowLayouts(trial, window, limits, channel).layouts()) for window in windows]
    options = [
        [layout for layout in layouts if _admitted(layout, limits)] or [Layout(drafts=())] for layouts in options
    ]
    chosen = [layouts[0] for layouts in options]

    def result(layouts: list[Layout]) -> tuple[tuple[int, int, int], Drafts]:
        drafts = _fewest(trial, channel, _merged(layouts, limits), limits)
        # A window is left out only if every other way costs more: that comes before the number of slots.
        return (trial.wrong_s(channel, drafts), _left_out(layouts, drafts), len(drafts)), drafts

    best = result(chosen)
    for _ in range(ROUNDS):
        before = best[0]
        for index, layouts in enumerate(options):
            if not best[0][0]:
                break
            for layout in layouts if not trial.budget.ended else ():
                attempt = [*chosen[:index], layout, *chosen[index + 1 :]]
                found = result(attempt)
                if found[0] < best[0]:
                    chosen, best = attempt, found
        if best[0] == before:
            break
    # A window keyed just as wanted may have lost its entries since: then the next way to key it says why.
    told = [layout for layout in chosen if layout.reason] or [layout for layouts in options for layout in layouts[1:2]]
    reasons = tuple(dict.fromkeys(layout.reason for layout in told if layout.reason))
    return ChannelKeyed(drafts=best[1], reasons=reasons if best[0][0] else ())


def _left_out(layouts: list[Layout], drafts: Drafts) -> int:
    """How many windows have no ON of theirs left among the drafts."""
    kept = {draft.at for draft in drafts if draft.on}
    return sum(not any(draft.on and draft.at in kept for draft in layout.drafts) for layout in layouts)


def _admitted(layout: Layout, limits: Limits) -> bool:
    actions = limits.actions
    return actions is None or all(("on" if draft.on else "off") in actions for draft in layout.drafts)


def _merged(layouts: Iterable[Layout], limits: Limits) -> Drafts:
    """All drafts in order, with those of one action and time joined to one set of weekdays."""
    found: dict[tuple[object, ...], Draft] = {}
    for draft in (draft for layout in layouts for draft in layout.drafts):
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
            if trial.budget.ended:
                break
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
            if trial.budget.ended or not isinstance(days, Weekdays):
                break
            if not days.mask >> bit & 1 or days.mask == 1 << bit:
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
        if trial.budget.ended:
            break
    return min(tried, key=lambda found: found[:2])[2] if tried else draft


# ------------------------------------------------------------------------------------------------- all channels


def join(trial: Trial, channels: list[Drafts], limits: Limits) -> tuple[Entry, ...]:
    """All channels' drafts as entries, those that are equal (or may be, at no harm) in one slot where it has room."""
    if limits.one_channel:
        return tuple(d.entry((n,)) for n, own in enumerate(channels, start=1) for d in dict.fromkeys(own))
    trial.budget.take(STEPS_A_JOINED * sum(len(drafts) for drafts in channels))
    channels = _alike(trial, channels, limits)
    shared: dict[Draft, tuple[int, ...]] = {}
    for number, drafts in enumerate(channels, start=1):
        for draft in dict.fromkeys(drafts):  # two windows of a channel may end in the same draft
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
    holders_of: dict[tuple[bool, Time], dict[int, None]] = {}
    for number, drafts in enumerate(channels):
        for draft in drafts:
            if isinstance(draft.days, Weekdays):
                holders_of.setdefault((draft.on, draft.at), {})[number] = None
    for (on, at), holders in holders_of.items():
        union = 0
        if trial.budget.ended:
            break
        if len(holders) < 2:
            continue
        for number in holders:
            for mask in _masks(found[number], on, at):
                union |= mask
        written = cover(union, groups)
        single = {mask for number in holders for mask in _masks(found[number], on, at)}
        if written is None or len(written) >= len(single):
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


def shrink(trial: Trial, channels: list[Drafts], limits: Limits) -> list[Drafts]:
    """The least wrong drafts that fit the number of entries, by single steps from several best at a time.

    Of far too many those that do the least harm are dropped first, and where the budget ends, all that are too many.
    """
    groups = limits.masks()
    capacity = capacity_of(limits)

    def wrong(state: Iterable[Drafts]) -> int:
        trial.budget.take(STEPS_A_CHANNEL * len(channels))
        return sum(trial.wrong_s(number, drafts) for number, drafts in enumerate(state))

    def used(state: Iterable[Drafts]) -> int:
        return len(join(trial, list(state), limits))

    beam: list[tuple[Drafts, ...]] = [tuple(thinned(trial, channels, max(capacity * 3 // 2, LEAST_THINNED)))]
    done: list[tuple[Drafts, ...]] = []
    while beam and not trial.budget.ended:
        following: dict[tuple[Drafts, ...], None] = {}
        for state in beam:
            for step in _smaller(state, groups):
                following[step] = None
        # How many slots a state takes is slow to say: only the least wrong are asked.
        least = sorted(following, key=wrong)[: BEAM * 8]
        ranked = sorted(least, key=lambda state: (wrong(state), used(state)))
        done += [state for state in ranked[: BEAM * 4] if used(state) <= capacity][:BEAM]
        bound = min((wrong(state) for state in done), default=None)
        beam = [s for s in ranked if (bound is None or wrong(s) < bound) and used(s) > capacity][:BEAM]
    empty: tuple[Drafts, ...] = tuple(() for _ in channels)
    done += [empty, *(tuple(thinned(trial, list(state), capacity)) for state in beam)]
    # Of states that are equally wrong the one that keeps more is taken: a window is left out only if it must be.
    return list(min(done, key=lambda state: (wrong(state), -used(state))))


def capacity_of(limits: Limits) -> int:
    """How many entries a memory holds at most; a bank that counts for each channel is taken to be one of each."""
    per = [2 * bank.count if bank.is_pair else bank.count for bank in limits.slots or () if bank.count is not None]
    banked = sum(per) if limits.slots is not None and len(per) == len(limits.slots) else None
    known = [most for most in (limits.entries, banked) if most is not None]
    return min(known, default=0)


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
