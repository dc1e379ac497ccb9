"""One program for stations of like need: how often it starts, how long each runs, and what share each month gets."""

import math
from dataclasses import dataclass, replace
from fractions import Fraction
from functools import cached_property

import numpy as np

from skavit.core.ground.arrays import Floats
from skavit.core.plan.water import HUNDRED, MAX_GAP_DAYS, Climate, Program, Run, Station, Water, exact
from skavit.core.water.day_choice import DayChoice
from skavit.core.water.need import least_soak_min, longest_run_min, net_need_mm_day, reaching_mm_min

MOST_STARTS = 24  # of a program whose controller sets no bound
FULL = 100.0


@dataclass(frozen=True, kw_only=True)
class Wants:
    """What one station needs of its program."""

    number: int  # from 1
    station: Station
    need: Floats  # millimetres a day of each month, shape (12,)
    margin: float = 1.0  # what is given for each millimetre of it

    @cached_property
    def peak(self) -> float:
        """Millimetres a day in the month of greatest need."""
        return float(self.need.max())

    @cached_property
    def gap(self) -> int:
        """The days that the soil lasts in the month of greatest need, at least one; with the day of watering it bears one more.

        No more than were said of the station.
        """
        ready = self.station.soil.ready_mm if self.station.soil else 0.0
        return min(max(1, int(ready / self.peak + 1e-9)), self.station.max_gap_days or MAX_GAP_DAYS)

    @property
    def bears(self) -> int:
        """The days from one watering to the next that it bears just so."""
        return min(self.gap + 1, self.station.max_gap_days or MAX_GAP_DAYS)

    @cached_property
    def shares(self) -> Floats:
        """The need of each month as a share of the greatest."""
        return self.need / self.peak

    def minutes(self, days: float) -> Floats:
        """Minutes that make up for so many days of each month; shape (12,)."""
        return self.need * self.margin * days / reaching_mm_min(self.station)


def wants_of(water: Water, climate: Climate, margin: float) -> list[Wants]:
    """The stations that need water at all."""
    found = [
        Wants(number=number, station=station, need=net_need_mm_day(station, climate), margin=margin)
        for number, station in enumerate(water.stations, start=1)
    ]
    return [wants for wants in found if wants.peak > 0]


@dataclass(frozen=True, slots=True, kw_only=True)
class Draft:
    """A program without its start times."""

    wants: tuple[Wants, ...]
    choice: DayChoice
    cycles: int  # how often it starts on each of its days
    runs_min: tuple[float, ...]
    months: tuple[float, ...]
    runs_off: tuple[int, ...]  # stations whose runs had to be cut to what the ground takes
    too_coarse: tuple[int, ...] = ()  # stations whose shortest run is longer than the ground takes

    def program(self, name: str, starts: tuple[object, ...] = ()) -> Program:
        """The program as it is keyed in."""
        runs = tuple(Run(station=w.number, run_min=m) for w, m in zip(self.wants, self.runs_min, strict=True))
        return Program(name=name, days=self.choice.days, starts=starts, runs=runs, monthly_pct=self.months)  # type: ignore[arg-type]

    def length_s(self, water: Water) -> int:
        """Seconds of a cycle in the month of greatest need."""
        seconds = [s for s in self.program("-").run_seconds(int(np.argmax(self.months)), water.run_step_s) if s]
        return sum(seconds) + water.station_delay_s * max(len(seconds) - 1, 0)

    def spacing_s(self, water: Water) -> int:
        """Seconds from one start to the next, so that every station has soaked."""
        soaks = (m + least_soak_min(w.station) for w, m in zip(self.wants, self.runs_min, strict=True))
        return max(self.length_s(water), math.ceil(max(soaks) * 60))

    def litres(self) -> float:
        """About what it puts down in a year, for comparing drafts."""
        flows = sum(w.station.flow_l_min * m for w, m in zip(self.wants, self.runs_min, strict=True))
        return flows * self.cycles / self.choice.mean_gap * sum(self.months)


def draft(wants: tuple[Wants, ...], choice: DayChoice, water: Water) -> Draft:
    """A program for some stations on the days of a rule, within the controller's limits and without run-off."""
    limits = water.limits
    step, most_min = run_step_min(water), limits.run_max_min or math.inf
    asked = [float(w.minutes(choice.mean_gap).max()) for w in wants]
    taken = [min(longest_run_min(w.station), most_min) for w in wants]
    # The unit has no shorter run than a step: where the ground takes less, that runs off.
    ceilings = [max(minutes, step) for minutes in taken]
    most_starts = limits.starts or MOST_STARTS
    cycles = 1
    while cycles < most_starts and any(
        _stepped(total / cycles, step) > ceiling + 1e-9 for total, ceiling in zip(asked, ceilings, strict=True)
    ):
        cycles += 1
    runs, cut = [], []
    for w, total, ceiling in zip(wants, asked, ceilings, strict=True):
        minutes = _stepped(total / cycles, step)
        if minutes > ceiling + 1e-9:
            minutes = math.floor(ceiling / step + 1e-9) * step
            cut.append(w.number)
        runs.append(round(minutes, 6))
    coarse = tuple(w.number for w, minutes in zip(wants, taken, strict=True) if minutes < step - 1e-9)
    bare = Draft(
        wants=wants, choice=choice, cycles=cycles, runs_min=tuple(runs), months=HUNDRED, runs_off=tuple(cut),
        too_coarse=coarse,
    )  # fmt: skip
    return _with_months(bare, water) if limits.monthly else bare


def run_step_min(water: Water) -> float:
    """Return the shortest run in minutes that can be keyed and that the unit then runs without rounding it."""
    runs, keyed = Fraction(water.run_step_s, 60), exact(water.limits.run_step_min or 0)
    if not keyed:
        return float(runs)
    both = math.lcm(runs.numerator * keyed.denominator, keyed.numerator * runs.denominator)
    return float(Fraction(both, runs.denominator * keyed.denominator))


def _stepped(minutes: float, step: float) -> float:
    """The next run time that can be keyed."""
    return math.ceil(minutes / step - 1e-9) * step


def _with_months(bare: Draft, water: Water) -> Draft:
    """Return the draft with the least share of each month that gives every station what it needs then."""
    step = water.limits.monthly_step_pct or 1.0
    shares = np.append(np.arange(int(FULL / step + 1e-9) + 1) * step, FULL)
    asked = np.array([w.minutes(bare.choice.mean_gap) for w in bare.wants]) * 60 / bare.cycles
    whole = np.array(bare.runs_min) * 60
    # What a station gets rises with the share: the neediest one decides.
    least = [
        np.searchsorted(_rounded(seconds * shares / FULL, water.run_step_s), needs - 1e-6)
        for seconds, needs in zip(whole, asked, strict=True)
    ]
    months = shares[np.minimum(np.max(least, axis=0), len(shares) - 1)]
    return replace(bare, months=tuple(months.tolist()))


def _rounded(seconds: Floats, step_s: int) -> Floats:
    """As the unit rounds its run times; near enough for choosing a share, which the replay then proves."""
    return np.floor(seconds / step_s + 0.5) * step_s
