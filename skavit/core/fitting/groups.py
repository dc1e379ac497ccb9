"""Weekday sets written in the day groups that a unit has: the fewest groups whose union is a set, exactly."""

from functools import lru_cache

UNREACHABLE = 99


@lru_cache(maxsize=256)
def _shortest(groups: frozenset[int]) -> tuple[tuple[int, ...] | None, ...]:
    """For each of the 128 sets, the fewest groups whose union it is; None where there are none.

    A breadth-first walk over unions: each level adds one group, so the first way found is the shortest.
    """
    found: list[tuple[int, ...] | None] = [None] * 128
    found[0] = ()
    level: list[int] = [0]
    while level:
        following = []
        for mask in level:
            for group in sorted(groups, key=lambda g: (-g.bit_count(), g)):
                joined = mask | group
                if found[joined] is None:
                    found[joined] = (*(found[mask] or ()), group)
                    following.append(joined)
        level = following
    return tuple(found)


def cover(mask: int, groups: frozenset[int]) -> tuple[int, ...] | None:
    """The fewest groups whose union is just ``mask``, or None."""
    return _shortest(groups)[mask]


def cost(mask: int, groups: frozenset[int]) -> int:
    """How many entries the weekday set takes; :data:`UNREACHABLE` where no groups make it."""
    found = cover(mask, groups)
    return UNREACHABLE if found is None else len(found)


def supersets(mask: int, groups: frozenset[int]) -> list[int]:
    """The sets that hold ``mask`` and can be covered, cheapest first, then smallest."""
    wider = [other for other in range(1, 128) if other & mask == mask and cost(other, groups) < UNREACHABLE]
    return sorted(wider, key=lambda other: (cost(other, groups), other.bit_count(), other))
