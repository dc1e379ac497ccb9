"""Set cover with counted slots, by branch and bound: exact while the search stays within its bound."""

from dataclasses import dataclass
from math import inf

from skavit.core.ground.budget import Budget
from skavit.core.memory import Bucket

# A step is an element looked at; a node looks at all of them, at least at so many.
MOST_STEPS, STEPS_A_NODE = 2_400_000, 40


@dataclass(frozen=True, slots=True, kw_only=True)
class Option:
    """One slot's use: the elements it meets, where it counts, and how many entries it holds."""

    bits: int
    buckets: tuple[Bucket, ...]
    entries: int = 1


class _Search:
    def __init__(self, options: list[Option], most: dict[Bucket, int | None], entries: int | None) -> None:
        self.options, self.most, self.most_entries = options, most, entries
        self.best: tuple[int, ...] | None = None
        width = max((option.bits.bit_length() for option in options), default=0)
        self.by_element = [
            [index for index, option in enumerate(options) if option.bits >> element & 1] for element in range(width)
        ]
        self.masks = [sum(1 << index for index in found) for found in self.by_element]
        self.used: dict[Bucket, int] = {}
        self.budget = Budget(MOST_STEPS)
        rooms = [most.get(bucket) for bucket in {key for option in options for key in option.buckets}]
        self.room = inf if None in rooms else sum(room for room in rooms if room is not None)

    def _least(self, left: int) -> int:
        """A lower bound of the slots still needed: elements no two of which share an option."""
        found, taken = 0, 0
        for element, mask in enumerate(self.masks):
            if left >> element & 1 and not taken & mask:
                taken |= mask
                found += 1
        return found

    def _free(self, index: int) -> bool:
        return all(
            (most := self.most.get(key)) is None or self.used.get(key, 0) < most for key in self.options[index].buckets
        )

    def run(self, left: int, chosen: tuple[int, ...], entries: int) -> None:
        """Cover what is left; the best cover found is in ``best``."""
        if self.most_entries is not None and entries > self.most_entries:
            return
        if not left:
            if self.best is None or len(chosen) < len(self.best):
                self.best = chosen
            return
        if not self.budget.take(max(len(self.masks), STEPS_A_NODE)):
            return
        most = self.room if self.best is None else min(self.room, len(self.best) - 1)
        if len(chosen) + self._least(left) > most:
            return
        elements = [element for element in range(len(self.masks)) if left >> element & 1]
        element = min(elements, key=lambda e: (len(self.by_element[e]), e))
        candidates = sorted(self.by_element[element], key=lambda i: (-(self.options[i].bits & left).bit_count(), i))
        for index in candidates:
            if not self._free(index):
                continue
            option = self.options[index]
            for key in option.buckets:
                self.used[key] = self.used.get(key, 0) + 1
            self.run(left & ~option.bits, (*chosen, index), entries + option.entries)
            for key in option.buckets:
                self.used[key] -= 1


def _undominated(options: list[Option]) -> list[int]:
    """The options that no other does better at the same place; of equals the first."""
    kept: list[int] = []
    order = sorted(range(len(options)), key=lambda i: (-options[i].bits.bit_count(), i))
    for index in order:
        one = options[index]
        if not any(
            options[other].buckets == one.buckets
            and options[other].entries <= one.entries
            and one.bits & ~options[other].bits == 0
            for other in kept
        ):
            kept.append(index)
    return sorted(kept)


def solve(
    options: list[Option], everything: int, most: dict[Bucket, int | None], entries: int | None
) -> tuple[int, ...] | None:
    """The indices of the fewest options that meet ``everything``; None where none do.

    ``most``: how many slots each bucket has (None: no end); ``entries``: how many entries there may be in all.
    """
    kept = _undominated(options)
    search = _Search([options[index] for index in kept], most, entries)
    if everything.bit_length() > len(search.masks):
        return None
    search.run(everything, (), 0)
    return None if search.best is None else tuple(kept[index] for index in search.best)
