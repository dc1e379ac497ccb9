"""Which OFF ends an ON: the one place that says so, for placing, keying, reading back and explaining.

Where entries are only read, the nominal clock of docs/plan-file.md ("Windows") tells it: a sun time stands for a usual
one. Where a year was replayed, what then really ended the ON tells it (:func:`usual_end`).
"""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from functools import lru_cache

import numpy as np

from skavit.core.ground.arrays import DAY_S, Bools, Ints
from skavit.core.plan.days import Calendar, Days
from skavit.core.plan.entry import Entry
from skavit.core.plan.times import day_number

# An OFF ends an ON's period where it acts on at least this share of the ON's days; else it cuts in on some.
MOSTLY = 0.5
# Four years of dates, by which the days of two rules are compared.
_DATES = np.arange(day_number(date(2025, 1, 1)), day_number(date(2029, 1, 1)))


@dataclass(frozen=True, slots=True, kw_only=True)
class Pairs:
    """Entries by their places: each ON with its OFF, and those that find none."""

    pairs: tuple[tuple[int, int], ...]
    alone: tuple[int, ...]  # ON entries first


def after_s(on: Entry, off: Entry) -> int:
    """Seconds from an ON to an OFF on the nominal clock; a whole day where they stand together."""
    return (off.at.nominal_s - on.at.nominal_s) % DAY_S or DAY_S


def ends_next_day(on: Entry, off: Entry) -> bool:
    """Whether the OFF that ends an ON acts on the date after it, by the nominal clock."""
    return off.at.nominal_s <= on.at.nominal_s


def next_off(on: Entry, offs: Iterable[Entry]) -> Entry | None:
    """The OFF that follows an ON soonest on the nominal clock; None where there is none."""
    return min(offs, key=lambda off: (after_s(on, off), off.at.nominal_s), default=None)


def mostly_ends(on: Entry, off: Entry) -> bool:
    """Whether an OFF acts on most of the days on which it would end the ON."""
    return _mostly_meet(on.days, off.days, int(ends_next_day(on, off)))


# Entries share few rules of days, and are asked of in pairs: 99 with 99 of one channel.
@lru_cache(maxsize=2048)
def _mostly_meet(on: Days, off: Days, later: int) -> bool:
    """Whether a rule holds, ``later`` days on, after most of the dates on which another does."""
    begins, ends = _acts(on, 0), _acts(off, later)
    return bool((begins & ends).sum() >= MOSTLY * max(begins.sum(), 1))


@lru_cache(maxsize=512)
def _acts(days: Days, later: int) -> Bools:
    """On which of the dates, each so many days on, a rule holds."""
    return days.matches(Calendar(_DATES + later))


def paired(entries: tuple[Entry, ...]) -> Pairs:
    """Each ON with the next OFF of its own channels and days, as a slot that holds both takes them."""
    free = {place: entry for place, entry in enumerate(entries) if not entry.on}
    pairs, alone = [], []
    for place, entry in enumerate(entries):
        if not entry.on:
            continue
        own = [off for off in free.values() if off.channels == entry.channels and off.days == entry.days]
        off = next_off(entry, own)
        if off is None:
            alone.append(place)
            continue
        partner = next(number for number, other in free.items() if other is off)
        del free[partner]
        pairs.append((place, partner))
    return Pairs(pairs=tuple(pairs), alone=(*alone, *free))


def usual_end(slots: Ints, days_later: Ints) -> tuple[int, int]:
    """The OFF that most often ended an ON in a replay, and how many dates later; the nearest of equals.

    ``slots`` (n,) are the entries that ended it each time, ``days_later`` (n,) by how many dates.
    """
    ends, counts = np.unique(np.stack([days_later, slots]), axis=1, return_counts=True)
    best = int(np.argmax(counts))  # the first of the greatest: columns rise by dates later
    return int(ends[1, best]), int(ends[0, best])
