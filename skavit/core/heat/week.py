"""A week of set points, as units hold it: what each weekday has, and how far two weeks are apart."""

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from skavit.core.ground.arrays import DAY_S, HOUR_S, Floats, Ints
from skavit.core.plan.days import Weekdays
from skavit.core.plan.heat import SetPoint
from skavit.core.plan.times import ClockTime

DAYS = 7
WEEK_S = DAYS * DAY_S
Day = tuple[tuple[int, float], ...]  # (seconds after midnight, degrees), rising


@dataclass(frozen=True, slots=True, kw_only=True)
class Weight:
    """What a kelvin hour too cold and one too warm count for."""

    cold: float = 1.0
    warm: float = 1.0

    def of(self, kelvin: Floats) -> Floats:
        """The weight of differences, keyed less wanted."""
        found: Floats = np.where(kelvin < 0, -kelvin * self.cold, kelvin * self.warm)
        return found


EVEN = Weight()


@dataclass(frozen=True, slots=True)
class Week:
    """What each weekday has, Monday first; ``frost_c`` where there is nothing at all."""

    days: tuple[Day, ...]
    frost_c: float

    @classmethod
    def of(cls, points: Iterable[SetPoint], frost_c: float) -> "Week":
        """The week of some set points; those of other days than weekdays are left out."""
        held: list[dict[int, float]] = [{} for _ in range(DAYS)]
        for point in points:
            if isinstance(point.days, Weekdays):
                for day in range(DAYS):
                    if point.days.mask >> day & 1:
                        held[day][point.at.seconds] = point.c  # the later in the list wins
        return cls(tuple(_changes(tuple(sorted(day.items()))) for day in held), frost_c)

    def steps(self) -> tuple[Ints, Floats]:
        """(seconds after Monday's midnight, degrees) through the week, the first at 0."""
        at = [day * DAY_S + seconds for day, own in enumerate(self.days) for seconds, _ in own]
        c = [degrees for own in self.days for _, degrees in own]
        if not at:
            return np.zeros(1, dtype=np.int64), np.array([self.frost_c])
        if at[0]:
            at, c = [0, *at], [c[-1], *c]  # Sunday's last holds into Monday
        return np.array(at, dtype=np.int64), np.array(c)

    def at_midnight(self, day: int) -> float:
        """What holds as a weekday begins."""
        for back in range(1, DAYS + 1):
            if self.days[day - back]:
                return self.days[day - back][-1][1]
        return self.frost_c

    def apart(self, wanted: "Week", weight: Weight = EVEN) -> float:
        """Kelvin hours a week between this week and what is wanted, weighted."""
        (at, c), (other_at, other_c) = self.steps(), wanted.steps()
        turns = np.union1d(at, other_at)
        kelvin = c[np.searchsorted(at, turns, "right") - 1] - other_c[np.searchsorted(other_at, turns, "right") - 1]
        lengths = np.diff(np.append(turns, WEEK_S))
        return float((weight.of(kelvin) * lengths).sum()) / HOUR_S


def _changes(day: Day) -> Day:
    """A day without the set points that change nothing."""
    return tuple(point for place, point in enumerate(day) if not place or point[1] != day[place - 1][1])


def set_points(groups: Iterable[tuple[int, Day]]) -> tuple[SetPoint, ...]:
    """The set points of groups of weekdays, by their masks."""
    return tuple(
        SetPoint(days=Weekdays(mask), at=ClockTime(seconds), c=degrees)
        for mask, day in groups
        for seconds, degrees in day
    )
