"""The seven days of a year in which a unit waters most, as a table to hand over and to check on site."""

from dataclasses import dataclass

import numpy as np

from skavit.core.ground.arrays import DAY_S, MINUTE_S, Floats
from skavit.core.water.stack import Stack

WEEK = 7


@dataclass(frozen=True, slots=True, kw_only=True)
class StationWeek:
    """One station's share of the week."""

    number: int  # from 1
    name: str
    minutes: float
    days: int  # on which it runs
    most_minutes: float  # on one of them
    mm: float | None  # put down; None where the rate is not known
    litres: float
    supply_share: float | None  # of what the supply gives at once; None where that is not known


@dataclass(frozen=True, slots=True, kw_only=True)
class PeakWeek:
    """Seven dates, and what runs in them."""

    first: int  # day number
    stations: tuple[StationWeek, ...]
    night_s: int  # from the first valve that opens to the last that shuts, in the longest night
    from_s: int  # the clock times of that night, seconds after midnight
    to_s: int

    @property
    def litres(self) -> float:
        """Of all stations."""
        return sum(station.litres for station in self.stations)


def peak_week(found: Stack) -> PeakWeek | None:
    """The seven dates of a replay with most litres, the first of equals; None where nothing runs, or in less than a week."""
    run, water, runs = found.run, found.water, found.runs
    minutes = _minutes(found)
    if len(minutes) < WEEK or not minutes.any():
        return None
    flows = np.array([station.flow_l_min for station in water.stations])
    start = int(np.convolve(minutes @ flows, np.ones(WEEK), "valid").argmax())
    week = minutes[start : start + WEEK]
    stations = tuple(
        StationWeek(
            number=n + 1, name=station.name, minutes=float(week[:, n].sum()), days=int((week[:, n] > 0).sum()),
            most_minutes=float(week[:, n].max()), litres=float(week[:, n].sum()) * station.flow_l_min,
            mm=None if station.rate is None else float(week[:, n].sum()) / 60 * station.rate,
            supply_share=None if not water.supply_l_min else station.flow_l_min / water.supply_l_min,
        )
        for n, station in enumerate(water.stations)
    )  # fmt: skip
    on, off = run.site_clock.digits(runs.on), run.site_clock.digits(runs.off)
    nights = (on - DAY_S // 2) // DAY_S - run.first
    inside = (nights >= start) & (nights < start + WEEK)
    spans = [
        (int(off[here].max() - on[here].min()), int(on[here].min()), int(off[here].max()))
        for night in np.unique(nights[inside])
        for here in [nights == night]
    ]
    night_s, begins, ends = max(spans, default=(0, 0, 0))
    return PeakWeek(
        first=run.first + start, stations=stations, night_s=night_s, from_s=begins % DAY_S, to_s=ends % DAY_S
    )


def _minutes(found: Stack) -> Floats:
    """What each station runs on the local date on which each run begins; shape (dates, stations)."""
    run, runs = found.run, found.runs
    table = np.zeros((run.last - run.first + 1, len(found.water.stations)))
    rows = run.site_clock.digits(runs.on) // DAY_S - run.first
    inside = (rows >= 0) & (rows < len(table))
    np.add.at(table, (rows[inside], runs.station[inside]), (runs.off - runs.on)[inside] / MINUTE_S)
    return table
