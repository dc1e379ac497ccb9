"""The programs of a controller as they will run: starts become cycles, cycles queue, and each gives its stations their turns.

Meaning: docs/plan-file.md, "Watering". A cycle is what one start sets going.
"""

from dataclasses import dataclass, replace
from enum import IntEnum
from fractions import Fraction
from functools import cached_property

import numpy as np

from skavit.core.ground.arrays import DAY_S, Ints
from skavit.core.ground.errors import RangeError
from skavit.core.ground.spans import EMPTY, Spans, difference, union, unite
from skavit.core.plan.days import Calendar, holiday_mask
from skavit.core.plan.document import Channel, Unit
from skavit.core.plan.entry import Entry
from skavit.core.plan.water import BY_HAND, MONTHS, Water, exact
from skavit.core.simulation.events import Events, make_events
from skavit.core.simulation.replay import RUN_UP_DAYS, Replay
from skavit.core.simulation.wanted import window_spans
from skavit.core.site.almanac import Almanac, almanac
from skavit.core.site.clock import WallClock

MOST_CYCLES = 1_000_000
MOST_RUNS = 2_000_000
FAR = 2**60  # an end that nobody has set


class Fate(IntEnum):
    """What became of a start."""

    RUNS = 0
    NOTHING = 1  # all its runs round to nothing
    OFF_DATE = 2
    RAIN_DELAY = 3
    BUSY = 4  # it came while another cycle ran, and is lost
    SUSPENDED = 5


@dataclass(frozen=True, slots=True, kw_only=True)
class Cycles:
    """Starts in the order in which they are due, with what becomes of each; all of shape (n,)."""

    program: Ints  # from 0; BY_HAND for a station run by hand
    start: Ints  # which of the program's starts, from 0; of what is done by hand which of `by_hand`
    day: Ints  # the unit's own date
    month: Ints  # of that date, 0 for January
    due: Ints  # instant
    begin: Ints  # instant of its first run; that at which it was due where it does not run
    length_s: Ints  # from its first run to the end of its last
    fate: Ints  # a Fate

    @property
    def end(self) -> Ints:
        """Instants at which the last run ends."""
        return self.begin + self.length_s

    def where(self, keep: Ints) -> "Cycles":
        """Some of them, by their places."""
        return Cycles(**{name: getattr(self, name)[keep] for name in self.__slots__})


@dataclass(frozen=True, slots=True, kw_only=True)
class Runs:
    """Turns of stations in the order in which they begin; all of shape (n,)."""

    cycle: Ints  # place among the cycles
    station: Ints  # from 0
    place: Ints  # which of the program's runs, from 0
    on: Ints  # instants
    off: Ints

    def of_station(self, station: int) -> "Runs":
        """Those of one station (from 0)."""
        keep = self.station == station
        return Runs(**{name: getattr(self, name)[keep] for name in self.__slots__})


@dataclass(frozen=True, kw_only=True)
class Stack:
    """The water of a plan over the range of a replay."""

    water: Water
    run: Replay
    cycles: Cycles  # those that are due, or still run, within the range
    runs: Runs  # of these cycles

    @cached_property
    def stations(self) -> tuple[Spans, ...]:
        """When the valve of each station is open within the range."""
        return tuple(self._open(number) for number in range(len(self.water.stations)))

    @cached_property
    def master_valve(self) -> Spans:
        """When the master valve or the pump's contact is closed within the range."""
        master, acting = self.water.master_valve, self.cycles.fate == Fate.RUNS
        on, off = self.cycles.begin[acting] - master.lead_s, self.cycles.end[acting] + master.lag_s
        return union(on, off).cut(self.run.start, self.run.end)

    @cached_property
    def flowing(self) -> Spans:
        """When any station's valve is open within the range."""
        return unite(self.stations)

    @cached_property
    def allowed(self) -> Spans | None:
        """When water may flow within the range; None where it always may."""
        run = self.run
        book = almanac(run.plan.site, run.first - 2, run.last + 2)
        span = book.rows(run.first - 2, run.last + 1)
        found = allowed_spans(self.water, book, np.arange(span.start, span.stop), run.site_clock)
        return None if found is None else found.cut(run.start, run.end)

    @property
    def outside(self) -> Spans:
        """When water flows and may not."""
        return EMPTY if self.allowed is None else difference(self.flowing, self.allowed)

    def litres(self, station: int) -> float:
        """What flows through a station (from 0) within the range."""
        return self.stations[station].total_s / 60 * self.water.stations[station].flow_l_min

    def _open(self, station: int) -> Spans:
        own = self.runs.of_station(station)
        return union(own.on, own.off).cut(self.run.start, self.run.end)


def allowed_spans(water: Water, book: Almanac, rows: Ints, clock: WallClock) -> Spans | None:
    """When water may flow by the windows of the dates in ``rows`` of an almanac; None where it always may."""
    if water.allowed is None:
        return None
    none = np.zeros(0, dtype=np.int64)
    pairs = [window_spans(window, book, rows, clock) for window in water.allowed]
    return union(np.concatenate([none, *(on for on, _ in pairs)]), np.concatenate([none, *(off for _, off in pairs)]))


def stack(run: Replay) -> Stack | None:
    """The water of a plan over the range of its replay, worked out once; None where the plan has none.

    Raises :class:`RangeError` for more starts or runs than can be told.
    """
    water = run.plan.water
    if water is None:
        return None
    if "water" not in run.kept:
        run.kept["water"] = _stacked(run, water)
    found: Stack = run.kept["water"]
    return found


def _stacked(run: Replay, water: Water) -> Stack:
    queued = _queued(water, _with_by_hand(run, _judged(run, _due(run, water))))
    lead, lag = water.master_valve.lead_s, water.master_valve.lag_s
    shown = (queued.end + lag >= run.start) & (np.minimum(queued.due, queued.begin - lead) < run.end)
    cycles = queued.where(np.nonzero(shown)[0])
    return Stack(water=water, run=run, cycles=cycles, runs=_runs(water, cycles))


def _due(run: Replay, water: Water) -> Events:
    """The starts as events of a unit that has nothing else: slots are the starts of all programs, one after another."""
    count = sum(len(program.starts) for program in water.programs)
    if count * (run.last - run.first + RUN_UP_DAYS) > MOST_CYCLES:
        raise RangeError(
            f"{count} starts over this range are too many; accepted: a shorter range, or fewer starts a day"
        )
    entries = tuple(
        Entry(channels=(1,), on=True, at=at, days=program.days) for program in water.programs for at in program.starts
    )
    unit = Unit(clock=run.plan.unit.clock, sun=run.plan.unit.sun, entries=entries)
    starts = replace(run.plan, unit=unit, channels=(Channel(name="starts"),), overrides=(), water=None)
    # A master valve may open within the range for a cycle that begins just after it.
    end = run.end + water.master_valve.lead_s + 1
    return make_events(starts, run.unit_clock, run.start - RUN_UP_DAYS * DAY_S, end)


def _judged(run: Replay, events: Events) -> Cycles:
    """Each start with its runs' length, and whether it is lost to an off date or a rain delay."""
    water = run.plan.water
    assert water is not None
    program = np.repeat(np.arange(len(water.programs)), [len(p.starts) for p in water.programs])[events.slot]
    start = np.concatenate([np.zeros(0, np.int64), *(np.arange(len(p.starts)) for p in water.programs)])[events.slot]
    month = Calendar(events.day).month_day // 100 - 1
    lengths = np.array([_lengths(water, p) for p in range(len(water.programs))], dtype=np.int64).reshape(-1, MONTHS)
    length = lengths[program, month]
    fate = np.where(length > 0, int(Fate.RUNS), int(Fate.NOTHING))
    at = np.array([delay.at for delay in water.rain_delays], dtype=np.int64)
    until = at + np.array([delay.days for delay in water.rain_delays], dtype=np.int64) * DAY_S
    delayed = union(run.site_clock.first(at), run.site_clock.first(until))
    fate[(fate == Fate.RUNS) & delayed.at(events.instant)] = Fate.RAIN_DELAY
    fate[(fate == Fate.RUNS) & _on_off_dates(water, events.day)] = Fate.OFF_DATE
    fate[(fate == Fate.RUNS) & suspended(run).at(events.instant)] = Fate.SUSPENDED
    return Cycles(
        program=program,
        start=start,
        day=events.day,
        month=month,
        due=events.instant,
        begin=events.instant,
        length_s=length,
        fate=fate,
    )


def suspended(run: Replay) -> Spans:
    """When watering is suspended by hand; an open one lasts until the replay's end."""
    water = run.plan.water
    assert water is not None
    settings = sorted((done for done in water.by_hand if done.suspends), key=lambda done: done.at)
    on, off = [], []
    for place, done in enumerate(settings):
        if done.auto:
            continue
        until = settings[place + 1].at if place + 1 < len(settings) else None
        if done.off_days is not None:
            end = done.at + done.off_days * DAY_S
            until = end if until is None else min(end, until)
        on.append(done.at)
        off.append(FAR if until is None else until)
    digits = np.array([on, off], dtype=np.int64).reshape(2, -1)
    instants = run.site_clock.first(np.where(digits == FAR, 0, digits))
    ends = np.where(digits[1] == FAR, run.end + FAR, instants[1])
    return union(instants[0], ends)


def _with_by_hand(run: Replay, cycles: Cycles) -> Cycles:
    """The same with what is run by hand, each as a cycle of its own; it is lost to nothing but a unit that is suspended or busy."""
    water = run.plan.water
    assert water is not None
    done = [(place, each) for place, each in enumerate(water.by_hand) if not each.suspends]
    if not done:
        return cycles
    at = np.array([each.at for _, each in done], dtype=np.int64)
    due, month = run.site_clock.first(at), Calendar(at // DAY_S).month_day // 100 - 1
    program = np.array([BY_HAND if each.program is None else each.program - 1 for _, each in done], dtype=np.int64)
    lengths = [
        hand_run_s(water, each.run_min) if each.run_min is not None else _lengths(water, int(p))[int(m)]
        for (_, each), p, m in zip(done, program, month, strict=True)
    ]
    length = np.array(lengths, dtype=np.int64)
    fate = np.where(length > 0, int(Fate.RUNS), int(Fate.NOTHING))
    if not water.manual_while_off:
        fate[(fate == Fate.RUNS) & suspended(run).at(due)] = Fate.SUSPENDED
    start = np.array([place for place, _ in done], dtype=np.int64)
    own = Cycles(
        program=program, start=start, day=at // DAY_S, month=month, due=due, begin=due, length_s=length, fate=fate
    )  # fmt: skip
    names = Cycles.__slots__
    both = Cycles(**{name: np.concatenate([getattr(cycles, name), getattr(own, name)]) for name in names})
    order = np.argsort(both.due, kind="stable")
    return both.where(order[both.due[order] < run.end + water.master_valve.lead_s + 1])


def hand_run_s(water: Water, run_min: float) -> int:
    """The seconds of a run by hand: to the unit's step, halves up."""
    return int(exact(run_min) * 60 / water.run_step_s + Fraction(1, 2)) * water.run_step_s


def _on_off_dates(water: Water, days: Ints) -> Ints:
    if not days.size or not water.without_water:
        return np.zeros(days.shape, dtype=bool)
    every = np.arange(int(days.min()), int(days.max()) + 1)
    return holiday_mask(water.without_water, every)[days - every[0]]


def _lengths(water: Water, program: int) -> list[int]:
    """The seconds of a program's cycle in each month, with the pauses between its stations."""
    found = []
    for month in range(MONTHS):
        seconds = [s for s in water.programs[program].run_seconds(month, water.run_step_s) if s]
        found.append(sum(seconds) + water.station_delay_s * max(len(seconds) - 1, 0))
    return found


def _queued(water: Water, cycles: Cycles) -> Cycles:
    """When each cycle begins: one after another in one queue, lost where the unit is busy, or side by side."""
    if water.when_busy == "parallel":
        return cycles
    waits = water.when_busy == "queue"
    places = np.nonzero(cycles.fate == Fate.RUNS)[0]
    begin, fate = cycles.begin.copy(), cycles.fate.copy()
    busy_until = int(cycles.due.min(initial=0))
    acting = zip(places.tolist(), cycles.due[places].tolist(), cycles.length_s[places].tolist(), strict=True)
    for place, due, length in acting:
        first = due
        if due < busy_until:
            if not waits:
                fate[place] = Fate.BUSY
                continue
            first = begin[place] = busy_until + water.station_delay_s
        busy_until = first + length
    return replace(cycles, begin=begin, fate=fate)


def _runs(water: Water, cycles: Cycles) -> Runs:
    """The turns of the stations in each cycle that runs."""
    parts = []
    acting = cycles.fate == Fate.RUNS
    total = 0
    for number, program in enumerate(water.programs):
        places = np.nonzero(acting & (cycles.program == number))[0]
        if not places.size:
            continue
        by_month = np.array([program.run_seconds(m, water.run_step_s) for m in range(MONTHS)], dtype=np.int64)
        months = cycles.month[places]
        total += int((np.bincount(months, minlength=MONTHS) * (by_month > 0).sum(axis=1)).sum())
        if total > MOST_RUNS:
            raise RangeError(f"more than {MOST_RUNS:,} runs; accepted: a shorter range, or fewer starts a day")
        stations = np.array([run.station - 1 for run in program.runs], dtype=np.int64)
        parts.append(_turns(cycles.begin[places], places, stations, by_month[months], water.station_delay_s))
    by_hand = np.nonzero(acting & (cycles.program == BY_HAND))[0]
    if by_hand.size:
        stations = np.array([water.by_hand[i].station or 1 for i in cycles.start[by_hand]], dtype=np.int64) - 1
        none = np.zeros(by_hand.shape, dtype=np.int64)
        parts.append(np.stack([by_hand, stations, none, cycles.begin[by_hand], cycles.end[by_hand]]))
    if not parts:
        none = np.zeros(0, dtype=np.int64)
        return Runs(cycle=none, station=none, place=none, on=none, off=none)
    table = np.concatenate(parts, axis=1)
    cycle, station, place, on, off = table[:, np.lexsort((table[2], table[0], table[3]))]
    return Runs(cycle=cycle, station=station, place=place, on=on, off=off)


def _turns(begin: Ints, cycles: Ints, stations: Ints, seconds: Ints, delay_s: int) -> Ints:
    """One program's runs as a table of cycle, station, place, on and off; shape (5, turns).

    ``seconds`` of shape (cycles, runs): how long each run lasts; one of 0 s is no turn, and no pause is made for it.
    """
    runs = seconds > 0
    off = begin[:, None] + np.cumsum(seconds + delay_s * runs, axis=1) - delay_s
    row, place = np.nonzero(runs)
    return np.stack([cycles[row], stations[place], place, (off - seconds)[runs], off[runs]])


def named_stations(run: Replay) -> tuple[tuple[str, Spans], ...]:
    """Each station of a run by its name, and when its valve is open; none where the plan has no water."""
    watered = stack(run)
    if watered is None:
        return ()
    return tuple(zip((station.name for station in watered.water.stations), watered.stations, strict=True))
