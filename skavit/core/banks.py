"""Which slot of a memory each entry takes, where the memory has banks of single, pair, ON or OFF slots.

An entry of a bank that counts per channel takes a slot in each of its channels' own.
"""

from collections.abc import Iterator
from dataclasses import dataclass

from skavit.core.entry import Entry
from skavit.core.limits import Bank, Limits
from skavit.core.values import sun_time_of

MOST_TRIED = 20_000

Bucket = tuple[int, object]  # the bank, and a channel, a day rule or nothing


@dataclass(frozen=True, slots=True, kw_only=True)
class Slot:
    """One slot in use: its bank, and the entries in it (indices from 0): one, or a pair's two."""

    bank: int
    entries: tuple[int, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Placing:
    """Entries in their slots, in order; ``left`` are the entries that find none."""

    slots: tuple[Slot, ...]
    left: tuple[int, ...]


def banks_of(limits: Limits) -> tuple[Bank, ...]:
    """The banks of a memory; one of single slots where it has no shape."""
    return limits.slots if limits.slots is not None else (Bank(shape="single", count=limits.entries),)


def holds_single(bank: Bank, entry: Entry) -> bool:
    """Whether one slot of the bank can hold the entry by itself."""
    by_sun = sun_time_of(entry.at) is not None
    return not bank.is_pair and bank.holds_action(on=entry.on) and bank.holds_time(by_sun=by_sun)


def holds_pair(bank: Bank, on: Entry, off: Entry) -> bool:
    """Whether one slot of the bank can hold the two as an ON and its OFF."""
    if not bank.is_pair or not on.on or off.on or on.ends_itself or on.channels != off.channels:
        return False
    if not all(bank.holds_time(by_sun=sun_time_of(entry.at) is not None) for entry in (on, off)):
        return False
    if bank.off_days == "same" and on.days != off.days:
        return False
    return bank.over_midnight or off.at.nominal_s > on.at.nominal_s


def buckets(number: int, bank: Bank, on: Entry) -> list[Bucket]:
    """Where a slot that holds an entry counts: in the bank, or in its part for each channel or day group."""
    if bank.per == "channel":
        return [(number, channel) for channel in on.channels]
    if bank.per == "day-group":
        return [(number, on.days)]
    return [(number, None)]


class _Search:
    """Tries slots in the order of the banks, and goes back where that leaves an entry without one."""

    def __init__(self, entries: tuple[Entry, ...], banks: tuple[Bank, ...]) -> None:
        self.entries, self.banks = entries, banks
        self.used: dict[Bucket, int] = {}
        self.tried = 0
        self.best: Placing | None = None

    def _ways(self, index: int) -> Iterator[Slot]:
        """The slots that the entry at ``index`` may take, as the first of a pair or by itself."""
        entry = self.entries[index]
        for number, bank in enumerate(self.banks):
            following = self.entries[index + 1] if index + 1 < len(self.entries) else None
            if following is not None and holds_pair(bank, entry, following):
                yield Slot(bank=number, entries=(index, index + 1))
            if holds_single(bank, entry):
                yield Slot(bank=number, entries=(index,))

    def run(self, index: int, slots: tuple[Slot, ...], left: tuple[int, ...]) -> bool:
        """Go on from an entry; true where all have found a slot."""
        self.tried += 1
        if self.best is not None and len(left) >= len(self.best.left):
            return False
        if index == len(self.entries):
            self.best = Placing(slots=slots, left=left)
            return not left
        for slot in self._ways(index):
            keys = buckets(slot.bank, self.banks[slot.bank], self.entries[index])
            most = self.banks[slot.bank].count
            if most is not None and any(self.used.get(key, 0) >= most for key in keys):
                continue
            for key in keys:
                self.used[key] = self.used.get(key, 0) + 1
            if self.run(slot.entries[-1] + 1, (*slots, slot), left):
                return True
            for key in keys:
                self.used[key] -= 1
            if self.tried > MOST_TRIED:
                return False
        return self.run(index + 1, slots, (*left, index))


def holds_all(entries: tuple[Entry, ...], limits: Limits) -> bool:
    """Whether the memory has a slot for each of the entries."""
    return (limits.entries is None or len(entries) <= limits.entries) and not place(entries, limits).left


def place(entries: tuple[Entry, ...], limits: Limits) -> Placing:
    """The slots that entries take, in the order in which they stand; as few as may be are left without one."""
    banks = banks_of(limits)
    if len(banks) == 1 and not banks[0].is_pair and banks[0].per == "unit" and len(entries) > 300:
        fits = [i for i, entry in enumerate(entries) if holds_single(banks[0], entry)][: banks[0].count]
        kept = set(fits)
        left = tuple(i for i in range(len(entries)) if i not in kept)
        return Placing(slots=tuple(Slot(bank=0, entries=(i,)) for i in fits), left=left)
    search = _Search(entries, banks)
    search.run(0, (), ())
    if search.best is None:
        return Placing(slots=(), left=tuple(range(len(entries))))
    return search.best
