"""Dates that rooms above know of a unit: each gives, for some units, the day on which something of theirs ends."""

from collections.abc import Callable, Sequence

from skavit.units.models import Unit

# For some units, by their keys: the day number of the first that ends; those of which nothing ends are left out.
ENDS: list[Callable[[Sequence[Unit], int], dict[int, int]]] = []


def ends_of(units: Sequence[Unit], now: int) -> dict[int, int]:
    """The first day on which something of each unit ends."""
    found: dict[int, int] = {}
    for ends in ENDS:
        for pk, day in ends(units, now).items():
            found[pk] = min(day, found.get(pk, day))
    return found
