"""What a fit of watering programs could not hold: what it gave up, and what the replay of the average year shows."""

import itertools
import math
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date

import numpy as np

from skavit.core.ground.arrays import DAY_S, Bools
from skavit.core.plan.times import day_of
from skavit.core.plan.water import Water
from skavit.core.text.wording import count
from skavit.core.water.drafting import run_step_min
from skavit.core.water.layout import Layout
from skavit.core.water.need import longest_run_min
from skavit.core.water.stack import Stack

YEARS = 2  # that the average year is replayed for

# A station (None: the unit), why, and what was done instead.
GivenUp = tuple[int | None, str, str]


@dataclass(frozen=True, slots=True, kw_only=True)
class WaterLoss:
    """What could not be held: of which station (None: of the unit), why, on which dates, and what was done instead."""

    station: int | None
    reason: str
    first: date
    last: date
    nearest: str


def losses(layout: Layout, found: Stack, water: Water, dry: Bools, years: float) -> Iterator[WaterLoss]:
    """What a layout gives up, and what its replay over some years shows; ``dry`` of shape (dates, stations)."""
    first, last = day_of(found.run.first), day_of(found.run.last)
    given_up = itertools.chain(
        _left_out(layout),
        _too_few_days(layout, dry),
        _run_off(layout, water),
        _after_midnight(layout),
        _too_long(layout),
    )
    for station, reason, nearest in given_up:
        yield WaterLoss(station=station, reason=reason, first=first, last=last, nearest=nearest)
    if layout.times.over_s <= 0:
        yield from _outside(found)
    yield from _dry(found, water, dry, years)


def _left_out(layout: Layout) -> Iterator[GivenUp]:
    """Stations that no program waters."""
    drafted = {w.number for each in layout.drafts for w in each.wants}
    for number in layout.left_out:
        if number not in drafted:
            yield number, "the unit has no program left for it", "not watered"
        else:
            yield number, "none of its starts has a place before midnight", "not watered"


def _too_few_days(layout: Layout, dry: Bools) -> Iterator[GivenUp]:
    """Stations that no rule for days waters often enough: they become dry, or it is more than was said of them."""
    for number in layout.short_days:
        if number in layout.left_out:
            continue
        gap, most = next(
            (d.choice.longest_gap, w.station.max_gap_days) for d in layout.drafts for w in d.wants if w.number == number
        )
        if most is not None and gap > most:
            reason = f"no days of a program and of the allowed hours come every {count(most, 'day')}"
        elif dry[:, number - 1].any():
            reason = "the soil asks for water more often than the days of a program and the allowed hours give it"
        else:
            continue
        yield number, reason, f"up to {gap} days between waterings"


def _run_off(layout: Layout, water: Water) -> Iterator[GivenUp]:
    """Stations whose runs are longer than the ground takes."""
    for each in layout.drafts:
        for number in each.runs_off:
            run = next(m for w, m in zip(each.wants, each.runs_min, strict=True) if w.number == number)
            nearest = f"{each.cycles} runs of {run:g} min" + ("" if number in each.too_coarse else ", without run-off")
            yield number, "more starts are needed than the unit has", nearest
        for number in each.too_coarse:
            takes = longest_run_min(water.stations[number - 1])
            reason = (
                f"the ground takes {takes:.1f} min at a time, and the unit's runs go by {run_step_min(water):g} min"
            )
            yield number, reason, "the shortest run that the unit can; some of it runs off"


def _after_midnight(layout: Layout) -> Iterator[GivenUp]:
    """Stations whose later starts would come after midnight."""
    for each, starts, late in zip(layout.drafts, layout.times.starts, layout.times.after_midnight, strict=True):
        for w in each.wants if late and starts else ():
            reason = f"{late} of {each.cycles} starts, each after its soak, would come after midnight"
            yield w.number, reason, f"{len(starts)} of {each.cycles} starts"


def _too_long(layout: Layout) -> Iterator[GivenUp]:
    """The unit, where its runs take longer than water may flow."""
    if layout.times.over_s > 0:
        late = math.ceil(layout.times.over_s / 60)
        yield None, f"the runs take {late} min longer than water may flow", "the last of them end too late"


def _outside(found: Stack) -> Iterator[WaterLoss]:
    """The unit, where it waters outside the allowed hours on some dates."""
    outside = found.outside
    if not len(outside):
        return
    first, last = (
        day_of(int(found.run.site_clock.digits(at[:1])[0]) // DAY_S) for at in (outside.on, outside.on[::-1])
    )
    reason = "water flows outside the allowed hours on some dates"
    yield WaterLoss(station=None, reason=reason, nearest="as keyed", first=first, last=last)


def _dry(found: Stack, water: Water, dry: Bools, years: float) -> Iterator[WaterLoss]:
    """Stations that become dry all the same."""
    for number, station in enumerate(water.stations, start=1):
        rows = np.nonzero(dry[:, number - 1])[0]
        if rows.size:
            first, last = (day_of(found.run.first + int(row)) for row in (rows[0], rows[-1]))
            reason = f"{station.name} is dry on {count(rows.size, 'day')} of {years:.3g} years"
            yield WaterLoss(station=number, reason=reason, nearest="the longest runs that fit", first=first, last=last)
