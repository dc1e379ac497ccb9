"""Keyings: a unit holds one set of entries at a time, and people key another with the seasons (`unit.keyings`).

A keying holds from the local midnight that begins its date until another begins. Given with its year it is keyed
once; given as a month and day, each year. Before the first one `unit.entries` is in the unit.
"""

from collections.abc import Iterable
from dataclasses import dataclass

from skavit.core.ground.records import Record, listed, member
from skavit.core.plan.days import DATED, Dated, Once, dated_in
from skavit.core.plan.entry import ENTRY_REF, Entry
from skavit.core.plan.identity import NAME
from skavit.core.plan.times import day_of


@dataclass(frozen=True, slots=True, kw_only=True)
class SeasonalProgram(Record):
    """The entries that stand in the unit from a date on."""

    start: Dated = member(DATED, name="from")
    name: str = member(NAME, default="")
    entries: tuple[Entry, ...] = member(listed(ENTRY_REF, "entries"))


@dataclass(frozen=True, slots=True, kw_only=True)
class Stretch:
    """Dates on which one set of entries is in the unit: ``first`` to ``last``, both included."""

    keying: int  # 0: unit.entries; n: the n-th of unit.keyings
    first: int
    last: int


def stretches(keyings: Iterable[SeasonalProgram], first: int, last: int) -> tuple[Stretch, ...]:
    """Which set is in the unit on the dates ``first`` to ``last`` (days since 1970), in order of time.

    Of two that begin on one date the one given with its year holds.
    """
    years = range(day_of(first).year - 1, day_of(last).year + 1)
    starts: dict[int, int] = {}
    for number, keying in sorted(enumerate(keyings, start=1), key=lambda found: isinstance(found[1].start, Once)):
        starts |= dict.fromkeys(dated_in(keying.start, years), number)
    begun = max((day for day in starts if day <= first), default=None)
    found = [(first, starts[begun] if begun is not None else 0)]
    found += [(day, starts[day]) for day in sorted(starts) if first < day <= last]
    ends = [day - 1 for day, _ in found[1:]] + [last]
    return tuple(Stretch(keying=n, first=day, last=end) for (day, n), end in zip(found, ends, strict=True))
