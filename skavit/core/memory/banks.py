"""Which slot of a memory each entry takes, where the memory has banks of single, pair, ON or OFF slots.

An entry of a bank that counts per channel takes a slot in each of its channels' own.
"""

from collections.abc import Iterator
from dataclasses import dataclass

from skavit.core.memory.pairing import ends_next_day
from skavit.core.plan.entry import Entry
from skavit.core.plan.limits import Bank, Limits
from skavit.core.plan.times import sun_time_of

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
    if bank.is_pair:
        return bank.repeats and entry.repeat is not None and bank.holds_time(by_sun=by_sun)
    return bank.holds_action(on=entry.on) and bank.holds_time(by_sun=by_sun)


def holds_pair(bank: Bank, on: Entry, off: Entry) -> bool:
    """Whether one slot of the bank can hold the two as an ON and its OFF."""
    if not bank.is_pair or not on.on or off.on or on.ends_itself or on.channels != off.channels:
        return False
    if not all(bank.holds_time(by_sun=sun_time_of(entry.at) is not None) for entry in (on, off)):
        return False
    if bank.off_days == "same" and on.days != off.days:
        return False
    return bank.over_midnight or not ends_next_day(on, off)


def buckets(number: int, bank: Bank, on: Entry) -> list[Bucket]:
    """Where a slot that holds an entry counts: in the bank, or in its part for each channel or day group."""
    if bank.per == "channel":
        return [(number, channel) for channel in on.channels]
    if bank.per == "day-group":
        return [(number, on.days)]
    return [(number, None)]


class _Search:
    """Tries slots in the order of the banks, and goes back where that leaves an entry without one.

    It keeps its own stack: a memory may hold more entries than Python lets functions call one another.
    """

    def __init__(self, entries: tuple[Entry, ...], banks: tuple[Bank, ...]) -> None:
        self.entries, self.banks = entries, banks
        self.used: dict[Bucket, int] = {}
        self.left: list[int] = []
        self.slots: list[Slot] = []
        self.best: Placing | None = None

    def _ways(self, index: int) -> Iterator[Slot | None]:
        """The slots that the entry at ``index`` may take, as the first of a pair or by itself; at last none."""
        entry = self.entries[index]
        for number, bank in enumerate(self.banks):
            following = self.entries[index + 1] if index + 1 < len(self.entries) else None
            if following is not None and holds_pair(bank, entry, following):
                yield Slot(bank=number, entries=(index, index + 1))
            if holds_single(bank, entry):
                yield Slot(bank=number, entries=(index,))
        yield None

    def _keys(self, slot: Slot) -> list[Bucket]:
        return buckets(slot.bank, self.banks[slot.bank], self.entries[slot.entries[0]])

    def _has_room(self, slot: Slot) -> bool:
        most = self.banks[slot.bank].count
        return most is None or all(self.used.get(key, 0) < most for key in self._keys(slot))

    def _take(self, index: int, slot: Slot | None) -> int:
        """Put an entry into a slot, or leave it out; gives the next entry to place."""
        if slot is None:
            self.left.append(index)
            return index + 1
        for key in self._keys(slot):
            self.used[key] = self.used.get(key, 0) + 1
        self.slots.append(slot)
        return slot.entries[-1] + 1

    def _take_back(self, slot: Slot | None) -> None:
        if slot is None:
            self.left.pop()
            return
        for key in self._keys(self.slots.pop()):
            self.used[key] -= 1

    def run(self) -> None:
        """Place all entries; the best way found within :data:`MOST_TRIED` is in ``best``."""
        stack: list[tuple[int, Iterator[Slot | None], Slot | None]] = []
        index, tried, forward = 0, 0, True
        while True:
            if forward:
                tried += 1
                worse = self.best is not None and len(self.left) >= len(self.best.left)
                if index == len(self.entries) and not worse:
                    self.best = Placing(slots=tuple(self.slots), left=tuple(self.left))
                    if not self.left:
                        return
                    worse = True
                ways: Iterator[Slot | None] = iter(()) if worse else self._ways(index)
            else:
                if not stack or (tried > MOST_TRIED and self.best is not None):
                    return
                index, ways, taken = stack.pop()
                self._take_back(taken)
            slot = next((way for way in ways if way is None or self._has_room(way)), NOWHERE)
            forward = not isinstance(slot, _Nowhere)
            if not isinstance(slot, _Nowhere):
                stack.append((index, ways, slot))
                index = self._take(index, slot)


class _Nowhere:
    """Nothing is left to try for an entry."""


NOWHERE = _Nowhere()


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
    search.run()
    if search.best is None:
        return Placing(slots=(), left=tuple(range(len(entries))))
    return search.best
