"""The fewest slots that do just what is wanted, exactly: a cover of all switchings by entries that never do harm.

An ON is harmless on a date if the channel is wanted on from that moment; an OFF if it is not wanted on. Entries of
which every act is harmless do just what is wanted if and only if each start of what is wanted is met by an ON and each
end by an OFF. So the fewest slots are the smallest set of harmless entries (or pairs of them) that meets all starts
and ends: a set cover, solved by branch and bound, within the counts of the memory's banks.
"""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace
from functools import cached_property
from itertools import product

import numpy as np

from skavit.core.fitting.covers import Option, solve
from skavit.core.fitting.layouts import WindowLayouts
from skavit.core.fitting.trial import Draft, Trial
from skavit.core.ground.arrays import DAY_S, Bools, Ints
from skavit.core.ground.budget import Budget
from skavit.core.memory import Bucket, banks_of, buckets, holds_pair, holds_single
from skavit.core.plan.days import DAILY, Days, Weekdays, holiday_mask
from skavit.core.plan.document import Plan
from skavit.core.plan.limits import Limits

MOST_OPTIONS = 3000
STEPS_A_WINDOW, STEPS_A_DRAFT = 3_000, 100


@dataclass(frozen=True, slots=True, kw_only=True)
class Keyed:
    """Drafts in one slot, on the channels (from 0) on which they act."""

    drafts: tuple[Draft, ...]
    channels: tuple[int, ...]
    bank: int = 0


@dataclass(frozen=True, slots=True)
class _Side:
    """The starts, or the ends, of what is wanted of a channel."""

    at: Ints  # instants, rising
    slack_s: int = 0  # how far from one an instant may lie and still meet it

    def met(self, instants: Ints) -> Bools:
        """Which of them the instants meet."""
        if not instants.size:
            return np.zeros(self.at.shape, dtype=bool)
        instants = np.sort(instants, kind="stable")
        row = np.minimum(np.searchsorted(instants, self.at - self.slack_s), instants.size - 1)
        found: Bools = np.abs(instants[row] - self.at) <= self.slack_s
        return found


class Covering:
    """The harmless entries of a plan, and which starts and ends each meets."""

    def __init__(self, trial: Trial, limits: Limits, slack_s: int = 0, more: Iterable[Draft] = ()) -> None:
        """``slack_s``: how many seconds beside its turn an act does no harm; ``more``: times that no window names."""
        self.trial, self.limits, self.slack_s, self.more = trial, limits, slack_s, tuple(more)
        # What is not covered within a third of the steps is left to the search for what comes nearest.
        self.budget = Budget(trial.budget.left // 3)
        self.plan: Plan = trial.plan
        self.channels = range(len(self.plan.channels))
        self.sides = {(channel, on): self._side(channel, on=on) for channel in self.channels for on in (True, False)}
        self.ranks: dict[tuple[bool, object], tuple[int, int]] = {}
        self.candidates = list(self._candidates())

    @cached_property
    def tables(self) -> dict[tuple[int, bool], Bools]:
        """Of each side which candidates meet which of its instants."""
        return {side: self._table(side) for side in self.sides}

    def _side(self, channel: int, *, on: bool) -> _Side:
        """The starts or ends of what is wanted that entries can meet: not those of a holiday and the night after it."""
        base, spans = self.trial.base, self.trial.wanted(channel)
        at = spans.on[spans.on > base.start] if on else spans.off[spans.off < base.end]
        if self.plan.unit.holidays and at.size:
            days = base.site_clock.digits(at) // DAY_S
            first = int(days[0]) - 1
            held = holiday_mask(self.plan.unit.holidays, np.arange(first, int(days[-1]) + 1))
            at = at[~held[days - first] & ~held[days - first - 1]]
        return _Side(at, self.slack_s)

    # -------------------------------------------------------------------------------------------- harmless entries

    def harmless(self, channel: int, draft: Draft) -> Bools:
        """Which acts of a draft in the two years do a channel no harm."""
        at = self._acts(channel, draft)
        wanted = self.trial.wanted(channel).at(at)
        if draft.pulse_s is None:
            found = wanted == draft.on
            if self.slack_s:
                found |= self.trial.wanted(channel).at(at + self.slack_s) == draft.on
            return found
        spans, ends = self.trial.wanted(channel), at + draft.pulse_s
        row = np.maximum(np.searchsorted(spans.on, at, side="right") - 1, 0)
        within = ends <= spans.off[row] if len(spans) else np.zeros(at.shape, dtype=bool)
        return wanted & within & ~spans.at(ends)

    def _acts(self, channel: int, draft: Draft) -> Ints:
        found = self.trial.instants(draft.at, draft.days, self.trial.adjust_of(channel))
        self.budget.take(found.size + STEPS_A_DRAFT)
        return found[(found >= self.trial.base.start) & (found < self.trial.base.end)]

    def _harmless_mask(self, channel: int, draft: Draft) -> int:
        """The weekdays on which every act of a draft does a channel no harm."""
        found = 0
        for bit in range(7):
            harmless = self.harmless(channel, replace(draft, days=Weekdays(1 << bit)))
            found |= int(harmless.all() and harmless.size > 0) << bit
        return found

    def _times(self) -> dict[tuple[bool, object, int | None], set[Days]]:
        """Each action and time at which a window begins or ends, with the days that the windows name for it."""
        found: dict[tuple[bool, object, int | None], set[Days]] = {}
        for channel in self.channels:
            for index, window in enumerate(self.plan.channels[channel].windows):
                if not self.budget.take(STEPS_A_WINDOW):
                    return found
                for draft in WindowLayouts(self.trial, window, self.limits, channel).exact():
                    found.setdefault((draft.on, draft.at, draft.pulse_s), set()).add(draft.days)
                    self.ranks.setdefault((draft.on, draft.at), (channel, index))
        for draft in self.more:
            found.setdefault((draft.on, draft.at, draft.pulse_s), set()).add(draft.days)
        return found

    def _candidates(self) -> Iterator[Keyed]:
        """Harmless entries, each on all channels on which it is harmless and meets something."""
        for (on, at, pulse_s), named in self._times().items():
            if self.budget.ended:
                return
            draft = Draft(on=on, at=at, days=DAILY, pulse_s=pulse_s)  # type: ignore[arg-type]
            allowed = {channel: self._harmless_mask(channel, draft) for channel in self.channels}
            rules: list[Days] = [Weekdays(mask) for mask in self._masks(allowed.values())]
            rules += [days for days in named if not isinstance(days, Weekdays) and self.limits.holds_days(days)]
            for days in rules:
                one = replace(draft, days=days)
                on_channels = tuple(c for c in self.channels if self._serves(c, one, allowed[c]))
                if self.plan.unit.channel_mode == "together" and on_channels:
                    harms = any(not self.harmless(c, one).all() for c in self.channels)
                    on_channels = () if harms else tuple(self.channels)
                if on_channels:
                    yield Keyed(drafts=(one,), channels=on_channels)

    def _masks(self, allowed: Iterable[int]) -> list[int]:
        """The weekday sets to try: the unit's groups, or where any may be keyed the widest that do no harm."""
        widest = {mask for mask in allowed if mask}
        groups = self.limits.masks()
        if len(groups) == 127:
            return sorted(widest | {a & b for a, b in product(widest, widest) if a & b})
        return [group for group in sorted(groups) if any(group & mask == group for mask in widest)]

    def _serves(self, channel: int, draft: Draft, allowed: int) -> bool:
        if isinstance(draft.days, Weekdays):
            if draft.days.mask & allowed != draft.days.mask:
                return False
        elif not self.harmless(channel, draft).all():
            return False
        return any(met.any() for met in self.met(channel, draft).values())

    def met(self, channel: int, draft: Draft) -> dict[tuple[int, bool], Bools]:
        """Which starts and ends of a channel a draft meets."""
        at = self._acts(channel, draft)
        found = {(channel, draft.on): self.sides[channel, draft.on].met(at)}
        if draft.pulse_s is not None:
            found[channel, False] = self.sides[channel, False].met(at + draft.pulse_s)
        return found

    # --------------------------------------------------------------------------------------------------- the cover

    @cached_property
    def elements(self) -> dict[tuple[int, bool], tuple[Ints, Ints]]:
        """For each side (a representative of each element, their numbers).

        Starts (or ends) of one weekday that are met by the same candidates are one element.
        """
        found = {}
        clock = self.trial.base.site_clock
        number = 0
        for side in self.sides:
            packed = np.packbits(self.tables[side], axis=0).T
            weekday = (clock.digits(self.sides[side].at) // DAY_S % 7).astype(np.uint8)
            _, first = np.unique(np.column_stack([packed, weekday]), axis=0, return_index=True)
            found[side] = (np.sort(first), number + np.arange(first.size))
            number += int(first.size)
        return found

    @property
    def everything(self) -> int:
        """All elements, as bits."""
        return (1 << sum(first.size for first, _ in self.elements.values())) - 1

    def bits(self, keyed: Keyed) -> int:
        """The elements that a slot's drafts meet, as bits."""
        found = 0
        for draft, channel in product(keyed.drafts, keyed.channels):
            for side, met in self.met(channel, draft).items():
                first, numbers = self.elements[side]
                for number in numbers[met[first]]:
                    found |= 1 << int(number)
        return found

    def _slots(self) -> Iterator[tuple[Keyed, list[Bucket]]]:
        """What may stand in a slot of each bank, and where it counts."""
        for number, bank in enumerate(banks_of(self.limits)):
            for keyed in self._in_bank(bank.is_pair):
                alone = bank.per == "channel" or self.limits.one_channel
                parts = [(c,) for c in keyed.channels] if alone else [keyed.channels]
                for channels in parts:
                    entries = [draft.entry(tuple(c + 1 for c in channels)) for draft in keyed.drafts]
                    holds = holds_pair(bank, *entries) if bank.is_pair else holds_single(bank, entries[0])
                    if holds:
                        yield (
                            Keyed(drafts=keyed.drafts, channels=channels, bank=number),
                            buckets(number, bank, entries[0]),
                        )

    def _in_bank(self, pairs: bool) -> Iterator[Keyed]:
        if not pairs:
            yield from self.candidates
            return
        for on, off in product(self.candidates, self.candidates):
            channels = tuple(c for c in on.channels if c in off.channels)
            if on.drafts[0].on and on.drafts[0].pulse_s is None and not off.drafts[0].on and channels:
                yield Keyed(drafts=(*on.drafts, *off.drafts), channels=channels)

    def fewest(self) -> Iterator[list[Keyed]]:
        """The fewest slots that do just what is wanted, in the order of the windows; nothing where there are none.

        First as a person would key them, then with all the days and channels on which they do no harm.
        """
        if self.budget.ended or not all(table.any(axis=0).all() for table in self.tables.values()):
            return
        options, slots = [], []
        for keyed, counts in self._slots():
            options.append(Option(bits=self.bits(keyed), buckets=tuple(counts), entries=len(keyed.drafts)))
            slots.append(keyed)
            if len(options) > MOST_OPTIONS or self.budget.ended:
                return
        banks = banks_of(self.limits)
        most = {bucket: banks[bucket[0]].count for option in options for bucket in option.buckets}
        chosen = solve(options, self.everything, most, self.limits.entries)
        if chosen is not None:
            widest = [slots[index] for index in chosen]
            yield sorted(self._natural(list(widest)), key=self._rank)
            yield sorted(widest, key=self._rank)

    def _table(self, side: tuple[int, bool]) -> Bools:
        """Which starts (or ends) of a side each candidate that acts on its channel meets, a row each."""
        nothing = np.zeros(self.sides[side].at.shape, dtype=bool)
        if not self.budget.take(nothing.size * sum(side[0] in keyed.channels for keyed in self.candidates)):
            return nothing[None, :]
        met = (self.met(side[0], keyed.drafts[0]) for keyed in self.candidates if side[0] in keyed.channels)
        return np.array([nothing, *(found[side] for found in met if side in found)])

    # ----------------------------------------------------------------------------------------------- natural entries

    def _natural(self, chosen: list[Keyed]) -> list[Keyed]:
        """The same slots without channels and weekdays that nothing needs: what a person would key."""
        for index in range(len(chosen)):
            if self.budget.ended:
                break
            others = 0
            for other, keyed in enumerate(chosen):
                others |= self.bits(keyed) if other != index else 0
            needed = self.everything & ~others
            chosen[index] = self._trimmed(chosen[index], needed)
        return chosen

    def _trimmed(self, keyed: Keyed, needed: int) -> Keyed:
        for channel in keyed.channels if not self.budget.ended else ():
            fewer = replace(keyed, channels=tuple(c for c in keyed.channels if c != channel))
            if fewer.channels and self.bits(fewer) & needed == needed:
                keyed = fewer
        bank = banks_of(self.limits)[keyed.bank]
        if bank.per == "day-group" or (bank.is_pair and bank.off_days == "same"):
            return keyed
        for place, draft in enumerate(keyed.drafts):
            if not isinstance(draft.days, Weekdays):
                continue
            for mask in self._narrower(keyed, place, draft.days.mask, needed):
                tried = self._with_days(keyed, place, mask)
                if self.bits(tried) & needed == needed:
                    keyed = tried
                    break
        return keyed

    def _narrower(self, keyed: Keyed, place: int, mask: int, needed: int) -> list[int]:
        """The day groups within a mask that hold the weekdays on which a draft meets something needed, least first."""
        used = 0
        for bit in range(7):
            if mask >> bit & 1 and self.bits(self._with_days(keyed, place, 1 << bit)) & needed:
                used |= 1 << bit
        groups = self.limits.masks()
        found = [used] if used in groups else [m for m in groups if m & mask == m and m & used == used]
        return sorted((m for m in found if m != mask), key=lambda m: (m.bit_count(), m))

    def _with_days(self, keyed: Keyed, place: int, mask: int) -> Keyed:
        own = replace(keyed.drafts[place], days=Weekdays(mask))
        return replace(keyed, drafts=(*keyed.drafts[:place], own, *keyed.drafts[place + 1 :]))

    def _rank(self, keyed: Keyed) -> tuple[object, ...]:
        """The order of slots: as the windows are written, ON before OFF, the fuller weekdays first."""
        first = keyed.drafts[0]
        mask = first.days.mask if isinstance(first.days, Weekdays) else 0
        return (*self.ranks[first.on, first.at], not first.on, -mask.bit_count(), mask, keyed.channels)
