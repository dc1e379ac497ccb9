"""What a record teaches of a kind: how fast its clocks go, and how long its batteries last.

Each unit is told by what was seen of it at its visits, in order of time; a median over all units is what is believed.
"""

from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from enum import StrEnum
from statistics import median

from skavit.core.ground.arrays import DAY_S
from skavit.core.text.wording import ahead_text, count

# A clock that is out by more was set wrong, or not moved with the law: that is no drift.
MOST_DRIFT_S = 1800
MOST_OUT_S = 300  # a clock that is out by more is a fault that was found
LEAST_DAYS = 7  # between two readings: the minute of reading is too much of less
YEAR_DAYS, MONTH_DAYS = 365.25, 30.4375


class FoundFault(StrEnum):
    """What was wrong with a unit as somebody found it, in words."""

    CLOCK = "a clock out by more than five minutes"
    MODE = "left out of automatic"
    BATTERY = "a low battery"
    ENTRIES = "other entries than were keyed"


@dataclass(frozen=True, slots=True, kw_only=True)
class Seen:
    """What a visit says of a unit's clock and battery."""

    at: int  # instant
    ahead_s: float | None = None  # of the clock as it was found
    was_set: bool = False  # whether the clock was right when they left
    battery_new: int | None = None  # the day number of a new battery
    battery_low: bool = False
    left_out_of_automatic: bool = False
    other_entries: bool = False  # than were keyed at the visit before

    @property
    def faults(self) -> list[FoundFault]:
        """What was wrong."""
        wrong = {
            FoundFault.CLOCK: self.ahead_s is not None and abs(self.ahead_s) > MOST_OUT_S,
            FoundFault.MODE: self.left_out_of_automatic,
            FoundFault.BATTERY: self.battery_low,
            FoundFault.ENTRIES: self.other_entries,
        }
        return [fault for fault, there in wrong.items() if there]


@dataclass(frozen=True, slots=True, kw_only=True)
class Learned:
    """What the units of a kind have in common, with the number of readings that each rests on."""

    units: int
    fast_s_a_year: float | None = None  # slow is negative
    drifts: int = 0
    battery_months: int | None = None
    batteries: int = 0
    visits: int = 0
    faults: tuple[tuple[FoundFault, int], ...] = ()  # at how many visits each was found, the most frequent first

    def lines(self) -> list[str]:
        """The same in words; nothing where nothing is known."""
        found = []
        if self.fast_s_a_year is not None:
            found.append(
                f"{count(self.units, 'unit')}: after a year a clock is {ahead_text(self.fast_s_a_year)} "
                f"({count(self.drifts, 'reading')})"
            )
        if self.battery_months is not None:
            found.append(
                f"Batteries last {count(self.battery_months, 'month')} ({count(self.batteries, 'battery', 'batteries')})"
            )
        if self.faults:
            told = ", ".join(f"{fault} {count(times, 'time')}" for fault, times in self.faults)
            found.append(f"Found at {count(self.visits, 'visit')}: {told}")
        return found


def learned(units: Iterable[Sequence[Seen]]) -> Learned:
    """What visits teach; two readings of a clock are enough, and a battery that was changed or seen low."""
    rows = [sorted(visits, key=lambda seen: seen.at) for visits in units]
    drifts = [rate for visits in rows for rate in _drifts(visits)]
    months = [lasted for visits in rows for lasted in _lasted(visits)]
    return Learned(
        units=len(rows),
        fast_s_a_year=median(drifts) if drifts else None,
        drifts=len(drifts),
        battery_months=max(round(median(months)), 1) if months else None,
        batteries=len(months),
        visits=sum(map(len, rows)),
        faults=tuple(Counter(fault for visits in rows for seen in visits for fault in seen.faults).most_common()),
    )


def _drifts(visits: Sequence[Seen]) -> Iterable[float]:
    """Seconds a year by which a clock gained, from each visit to the next at which it was read."""
    before: tuple[int, float] | None = None
    for seen in visits:
        days = (seen.at - before[0]) / DAY_S if before else 0.0
        if seen.ahead_s is not None and before is not None and days >= LEAST_DAYS:
            gained = seen.ahead_s - before[1]
            if abs(gained) <= MOST_DRIFT_S:
                yield gained / days * YEAR_DAYS
        if seen.was_set:
            before = seen.at, 0.0
        elif seen.ahead_s is not None:
            before = seen.at, seen.ahead_s


def _lasted(visits: Sequence[Seen]) -> Iterable[float]:
    """Months from a new battery until it was seen low, or until the next one."""
    since: int | None = None
    for seen in visits:
        day = seen.at // DAY_S
        if since is not None and (seen.battery_low or (seen.battery_new is not None and seen.battery_new > since)):
            until = day if seen.battery_low else (seen.battery_new or day)
            yield (until - since) / MONTH_DAYS
            since = None
        since = seen.battery_new if seen.battery_new is not None else since
