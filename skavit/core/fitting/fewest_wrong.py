"""The least wrong that a memory too small can hold: all sets of slots tried, as far as that is possible.

Every set of so many drafts of a channel is measured on weeks spread over a year; the best are measured again by
replay over all of the years. Channels share the slots of the memory, and one slot may serve several of them.
"""

import heapq
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from itertools import combinations, islice, product
from math import comb, inf

import numpy as np

from skavit.core.fitting.groups import cost
from skavit.core.fitting.layouts import WindowLayouts
from skavit.core.fitting.trial import Draft, Drafts, Trial
from skavit.core.ground.arrays import DAY_S, Bools, Ints
from skavit.core.ground.spans import Spans, intersection, seconds_before
from skavit.core.memory import Bucket, banks_of, buckets, holds_all, holds_pair, holds_single
from skavit.core.plan.days import DAILY, Weekdays
from skavit.core.plan.entry import Entry
from skavit.core.plan.limits import Limits

MOST_SETS = 24_000  # of all channels together, but at least LEAST_SETS of each
LEAST_SETS = 8_000
MOST_MASKS = 8
# Beyond these there are too many sets whatever else holds.
MOST_DRAFTS, MOST_WINDOWS, MOST_CHANNELS = 400, 40, 24
STEPS_A_JOIN, EVENTS_A_STEP = 10, 20
KEPT = 400
MEASURED = 120
CHUNK_EVENTS = 250_000  # what a batch looks at stays within the processor's cache
SAMPLE_EVERY_DAYS = 52  # seven weeks over the year
CARRY_DAYS = 8

Slots = tuple[Drafts, ...]  # each slot holds one draft, or an ON and its OFF


@dataclass(frozen=True, slots=True, kw_only=True)
class Choice:
    """Entries that the memory holds, and the seconds in the two years in which they are wrong."""

    entries: tuple[Entry, ...]
    wrong_s: int


class Weeks:
    """Measures sets of drafts of one channel on weeks spread over a year; all sets of a batch at once."""

    def __init__(self, trial: Trial, channel: int, drafts: Drafts) -> None:
        until = min(trial.base.start + 364 * DAY_S, trial.base.end - 6 * DAY_S)
        every = min(SAMPLE_EVERY_DAYS, max((until - trial.base.start) // DAY_S // 7, 7))
        starts = np.arange(trial.base.start, until, every * DAY_S)
        weeks = Spans(starts, starts + 7 * DAY_S)
        adjust = trial.adjust_of(channel)
        parts = [trial.instants(draft.at, draft.days, adjust) for draft in drafts]
        around = Spans(weeks.on - CARRY_DAYS * DAY_S, weeks.off)
        near = [part[around.at(part)] for part in parts]
        instant = np.concatenate([np.zeros(0, dtype=np.int64), *near])
        order = np.argsort(instant, kind="stable")
        self.draft = np.repeat(np.arange(len(drafts)), [part.size for part in near])[order]
        self.on = np.array([draft.on for draft in drafts], dtype=bool)[self.draft]
        instant = instant[order]
        turns = np.concatenate([instant, [trial.base.end]])
        wanted = intersection(trial.wanted(channel), weeks)
        all_s, wanted_s = seconds_before(weeks, turns), seconds_before(wanted, turns)
        self.if_off = np.diff(wanted_s)
        self.if_on = np.diff(all_s) - self.if_off
        self.before = int(wanted_s[0])  # nothing has switched yet

    def wrong(self, chosen: Bools) -> Ints:
        """Seconds wrong of each set; ``chosen`` of shape (sets, drafts)."""
        if not self.draft.size:
            return np.full(len(chosen), self.before)
        acts = chosen[:, self.draft]
        last = np.maximum.accumulate(np.where(acts, np.arange(self.draft.size, dtype=np.int32), -1), axis=1)
        on = self.on[last] & (last >= 0)
        found: Ints = np.where(on, self.if_on, self.if_off).sum(axis=1) + self.before
        return found


class FewestWrong:
    """Tries the sets of slots of a memory."""

    def __init__(self, trial: Trial, limits: Limits, *, at_most: int | None = None) -> None:
        self.trial, self.limits = trial, limits
        self.banks = banks_of(limits)
        self.apart = all(bank.per == "channel" for bank in self.banks)
        self.alone = limits.one_channel  # a slot is one channel's, and counts among all
        counts = [bank.count for bank in self.banks]
        self.most = sum(count for count in counts if count is not None) if None not in counts else None
        if any(bank.per == "day-group" for bank in self.banks):
            self.most = None if self.most is None else self.most * len(self._masks(0))
        self.most = min((most for most in (self.most, limits.entries, at_most) if most is not None), default=None)

    # ------------------------------------------------------------------------------------------ what may be keyed

    def _masks(self, channel: int) -> list[int]:
        """The weekday sets to try: the unit's groups; where they are many, those nearest to what is wanted."""
        groups = self.limits.masks()
        if len(groups) <= MOST_MASKS:
            return sorted(groups, key=lambda mask: (-mask.bit_count(), mask))
        wanted: dict[int, None] = {}
        for window in self.trial.plan.channels[channel].windows:
            if isinstance(window.days, Weekdays):
                wanted |= {window.days.mask: None, window.days.shifted(1).mask: None}
        known = [mask for mask in (*wanted, DAILY.mask) if cost(mask, groups) == 1]
        near = sorted(groups, key=lambda g: (min((g ^ w).bit_count() for w in (*wanted, DAILY.mask)), g))
        return list(dict.fromkeys([*known, *near]))[:MOST_MASKS]

    def drafts(self, channel: int, *, bent: bool, both: bool) -> Drafts:
        """All drafts of a channel that come into question, in the order in which they would take their slots.

        ``bent``: with the times that come near to the windows' own; ``both``: each time as ON and as OFF.
        """
        found: dict[Draft, None] = {}
        actions = self.limits.actions
        for window in self.trial.plan.channels[channel].windows:
            keyer = WindowLayouts(self.trial, window, self.limits, channel)
            rows = [draft for layout in keyer.layouts() for draft in layout.drafts] if bent else list(keyer.exact())
            rows = rows or [draft for layout in islice(keyer.layouts(), 2) for draft in layout.drafts]
            if both:
                rows += [replace(draft, on=not draft.on) for draft in rows if draft.pulse_s is None]
            for draft in rows:
                if actions is not None and ("on" if draft.on else "off") not in actions:
                    continue
                if self.limits.day_groups is None and not isinstance(draft.days, Weekdays):
                    found[draft] = None
                found |= {replace(draft, days=Weekdays(mask)): None for mask in self._masks(channel)}
        return tuple(sorted(found, key=lambda draft: not draft.on))

    def _slots(self, drafts: Drafts, most: int) -> Slots | None:
        """What one slot of the memory may hold of the drafts; None where it is more than so many."""
        found: dict[Drafts, None] = {}
        if len(drafts) > MOST_DRAFTS:
            return None
        for bank in self.banks:
            for draft in drafts:
                if holds_single(bank, draft.entry((1,))):
                    found[(draft,)] = None
            if bank.is_pair:
                for on in (d for d in drafts if d.on):
                    for off in (d for d in drafts if not d.on):
                        if holds_pair(bank, on.entry((1,)), off.entry((1,))):
                            found[on, off] = None
        return tuple(found) if len(found) <= most else None

    def possible(self, channel: int) -> Slots | None:
        """The slots of a channel to try; None where they would be too many sets."""
        if len(self.trial.plan.channels[channel].windows) > MOST_WINDOWS:
            return None
        budget = max(MOST_SETS // len(self.trial.plan.channels), LEAST_SETS)
        for bent, both in product((True, False), (True, False)):
            slots = self._slots(self.drafts(channel, bent=bent, both=both), budget)
            if slots is None:
                continue
            most = len(slots) if self.most is None else min(self.most, len(slots))
            if sum(comb(len(slots), size) for size in range(most + 1)) <= budget:
                return slots
        return None

    # ----------------------------------------------------------------------------------------------------- the search

    def _best_of(self, channel: int, slots: Slots) -> list[tuple[int, tuple[Drafts, ...]]]:
        """The best sets of a channel by the weeks, with the seconds wrong there."""
        drafts = tuple(dict.fromkeys(draft for slot in slots for draft in slot))
        place_of = {draft: index for index, draft in enumerate(drafts)}
        weeks = Weeks(self.trial, channel, drafts)
        most = len(slots) if self.most is None else min(self.most, len(slots))
        fits = self._hall(slots)
        sets: list[tuple[int, ...]] = [
            c for size in range(most + 1) for c in combinations(range(len(slots)), size) if fits(c)
        ]
        member = np.zeros((len(slots), len(drafts)), dtype=bool)
        for index, slot in enumerate(slots):
            member[index, [place_of[draft] for draft in slot]] = True
        wrong = np.zeros(len(sets), dtype=np.int64)
        self.trial.budget.take(len(sets) * weeks.draft.size // EVENTS_A_STEP)
        batch = max(CHUNK_EVENTS // max(weeks.draft.size, 1), 1)
        for low in range(0, len(sets), batch):
            chosen = np.array([member[list(c)].any(axis=0) for c in sets[low : low + batch]])
            wrong[low : low + batch] = weeks.wrong(chosen)
        order = np.lexsort((np.arange(len(sets)), wrong))[:KEPT]
        return [(int(wrong[index]), tuple(slots[i] for i in sets[index])) for index in order]

    def _hall(self, slots: Slots) -> Callable[[tuple[int, ...]], bool]:
        """Whether a set of slots finds room in the banks: for no sort of them are there more than its banks hold.

        A sort is the parts of the memory that a slot may stand in (Hall's condition on matchings).
        """
        sorts = [frozenset(self._buckets(slot)) for slot in slots]
        room: dict[frozenset[Bucket], float] = {
            sort: sum(inf if (most := self.banks[bucket[0]].count) is None else most for bucket in sort)
            for sort in sorts
        }
        bound = [sort for sort, most in room.items() if most < inf]

        def fits(chosen: tuple[int, ...]) -> bool:
            return all(sum(sorts[index] <= sort for index in chosen) <= room[sort] for sort in bound)

        return fits

    def _buckets(self, slot: Drafts) -> Iterator[Bucket]:
        """The parts of the memory that a slot of one channel may stand in."""
        entries = [draft.entry((1,)) for draft in slot]
        for number, bank in enumerate(self.banks):
            held = holds_pair(bank, *entries) if len(entries) > 1 else holds_single(bank, entries[0])
            if held:
                yield from buckets(number, bank, entries[0])

    def search(self) -> list[Choice] | None:
        """The best choices, the least wrong first; None where there are too many to try."""
        if len(self.trial.plan.channels) > MOST_CHANNELS:
            return None
        lists = []
        for channel in range(len(self.trial.plan.channels)):
            slots = self.possible(channel)
            if slots is None or self.trial.budget.ended:
                return None
            lists.append(self._best_of(channel, slots))
        choices: list[Choice] = []
        for sets in self._together(lists):
            entries = self._entries(sets)
            if self.trial.budget.ended and choices:
                break
            if holds_all(entries, self.limits):
                choices.append(Choice(entries=entries, wrong_s=self._wrong(sets)))
        if not choices:
            nothing: tuple[Slots, ...] = tuple(() for _ in lists)
            choices.append(Choice(entries=(), wrong_s=self._wrong(nothing)))
        return sorted(choices, key=lambda choice: (choice.wrong_s, len(choice.entries)))

    def _together(self, lists: list[list[tuple[int, Slots]]]) -> Iterator[tuple[Slots, ...]]:
        """The best sets of all channels that share the slots, each as one set a channel."""
        least = [min(wrong for wrong, _ in sets) for sets in lists]
        rest = [sum(least[index + 1 :]) for index in range(len(lists))]
        best: list[tuple[int, int, tuple[Slots, ...]]] = []
        counter = 0

        def go_on(channel: int, wrong: int, used: frozenset[tuple[int, Drafts]], sets: tuple[Slots, ...]) -> None:
            nonlocal counter
            if channel == len(lists):
                counter += 1
                item = (-wrong, -counter, sets)
                (heapq.heappush if len(best) < MEASURED else heapq.heappushpop)(best, item)
                return
            for more, slots in lists[channel]:
                if not self.trial.budget.take(STEPS_A_JOIN) and best:
                    return
                if len(best) == MEASURED and wrong + more + rest[channel] >= -best[0][0]:
                    return
                joined = used | frozenset((channel if self.alone else 0, slot) for slot in slots)
                if self.apart or self.most is None or len(joined) <= self.most:
                    go_on(channel + 1, wrong + more, joined, (*sets, slots))

        go_on(0, 0, frozenset(), ())
        for _, _, sets in sorted(best, key=lambda item: (-item[0], -item[1])):
            yield sets

    def _entries(self, sets: tuple[Slots, ...]) -> tuple[Entry, ...]:
        """One entry or pair a slot, on all channels that hold it."""
        channels: dict[Drafts, tuple[int, ...]] = {}
        for number, slots in enumerate(sets, start=1):
            for slot in slots:
                channels[slot] = (*channels.get(slot, ()), number)
        if self.apart or self.alone:
            return tuple(d.entry((n,)) for n, slots in enumerate(sets, start=1) for slot in slots for d in slot)
        return tuple(draft.entry(numbers) for slot, numbers in channels.items() for draft in slot)

    def _wrong(self, sets: tuple[Slots, ...]) -> int:
        return sum(
            self.trial.wrong_s(channel, tuple(draft for slot in slots for draft in slot))
            for channel, slots in enumerate(sets)
        )
