"""Where in the night the cycles of several programs go: none beside another, each after its soak, all within their hours."""

from bisect import insort
from dataclasses import dataclass

import numpy as np

from skavit.core.ground.arrays import DAY_S, MINUTE_S
from skavit.core.plan.times import ClockTime
from skavit.core.plan.water import Water
from skavit.core.site.clock import WallClock
from skavit.core.water.drafting import Draft

LAST_START_S = DAY_S - MINUTE_S


@dataclass(frozen=True, slots=True, kw_only=True)
class Timetable:
    """The start times of each program, and what does not fit into the night."""

    starts: tuple[tuple[ClockTime, ...], ...]
    over_s: int  # by how much the last run ends too late
    after_midnight: tuple[int, ...] = ()  # of each program, the starts that have no place on their own date

    @property
    def fits(self) -> bool:
        """Whether every start has a place and all water flows within its hours."""
        return self.over_s <= 0 and not any(self.after_midnight)


@dataclass(frozen=True, slots=True)
class Skip:
    """The stretch of the day, in seconds after midnight, that the clocks leave out once a year; empty where they never do.

    On that date a start within it comes at its end, and what runs over it ends so much later by the clock.
    """

    low: int = 0
    high: int = 0

    def start(self, begin: int) -> int:
        """The first start at or after ``begin`` that every date has."""
        return self.high if self.low <= begin < self.high else begin

    def end(self, begin: int, end: int) -> int:
        """When what begins and lasts so ends at the latest by the clock."""
        return end + self.high - self.low if begin < self.low < end else end


def skipped(clock: WallClock, start: int, end: int) -> Skip:
    """What a clock leaves out at its first change forwards between two instants."""
    ahead = np.nonzero((np.diff(clock.offsets) > 0) & (clock.starts[1:] > start) & (clock.starts[1:] < end))[0]
    if not ahead.size:
        return Skip()
    at, before, after = clock.starts[ahead[0] + 1], clock.offsets[ahead[0]], clock.offsets[ahead[0] + 1]
    low = int((at + before) % DAY_S)
    return Skip(low, low + int(after - before))


def timetable(drafts: list[Draft], water: Water, from_s: int, skip: Skip) -> Timetable:
    """Each cycle at the earliest minute from ``from_s`` after midnight; as if all programs watered on the same days.

    Programs of most cycles go first: others fill the times in which they soak.
    """
    placed: list[tuple[int, int]] = []
    starts: dict[int, tuple[ClockTime, ...]] = {}
    over = -DAY_S
    for place in sorted(range(len(drafts)), key=lambda number: (-drafts[number].cycles, number)):
        length, spacing = drafts[place].length_s(water), drafts[place].spacing_s(water)
        own, earliest = [], from_s
        for _ in range(drafts[place].cycles):
            begin = _free(placed, earliest, length + water.station_delay_s, skip)
            if begin > LAST_START_S:
                break  # a start past midnight would be another date's
            insort(placed, (begin, skip.end(begin, begin + length + water.station_delay_s)))
            own.append(begin)
            earliest = skip.end(begin, begin + spacing)
            over = max(over, skip.end(begin, begin + length) - drafts[place].choice.until_s)
        starts[place] = tuple(ClockTime(begin) for begin in own)
    programs = range(len(drafts))
    return Timetable(
        starts=tuple(starts[place] for place in programs),
        over_s=over,
        after_midnight=tuple(drafts[place].cycles - len(starts[place]) for place in programs),
    )


def _free(placed: list[tuple[int, int]], earliest: int, length: int, skip: Skip) -> int:
    """Return the first whole minute at which a cycle of ``length`` seconds overlaps none of those placed, in order."""
    begin = skip.start(-(-earliest // MINUTE_S) * MINUTE_S)
    for low, high in placed:
        if begin < high and skip.end(begin, begin + length) > low:
            begin = skip.start(-(-high // MINUTE_S) * MINUTE_S)
    return begin
