"""Faults of a unit that waters: in its programs, and outside of them, in valves, pipes, wires and sensors."""

from collections.abc import Iterator
from dataclasses import replace
from itertools import combinations

from skavit.core.causes.fault import Cause, Fault, seams
from skavit.core.causes.shown import BED_DAYS, Hold, Shown, Simulator
from skavit.core.causes.things import first_of, things_of
from skavit.core.ground.arrays import DAY_S, HALF_DAY_S, MINUTE_S
from skavit.core.plan.days import Weekdays
from skavit.core.plan.times import ClockTime
from skavit.core.plan.water import Program, Water
from skavit.core.plan.water_edits import with_water

# Of so many stations each two are tried in each other's place; of more, none.
MOST_SWAPPED = 12


def water_faults(unit: Simulator) -> Iterator[Fault]:
    """Each single fault of a unit that waters; none of another."""
    water = unit.plan.water
    if water is None:
        return
    for number, program in enumerate(water.programs):
        yield from _of_program(unit, water, number, program)
    yield from _strays(unit, water)
    yield from _outside(unit, water)


def _with(unit: Simulator, water: Water, number: int, program: Program) -> Shown:
    programs = (*water.programs[:number], program, *water.programs[number + 1 :])
    return Shown(unit.run(with_water(unit.plan, programs=programs)))


def _of_program(unit: Simulator, water: Water, number: int, program: Program) -> Iterator[Fault]:
    for place, at in enumerate(program.starts):
        rest = (*program.starts[:place], *program.starts[place + 1 :])
        lost = _with(unit, water, number, replace(program, starts=rest))
        yield Fault(cause=Cause.START_LOST, shown=lost, program=number, at=at, place=(number, place))
        if isinstance(at, ClockTime):
            moved = at.later(HALF_DAY_S)
            shown = _with(unit, water, number, replace(program, starts=(*rest, moved)))
            yield Fault(
                cause=Cause.START_HALF_DAY, shown=shown, program=number, at=at, as_keyed=moved, place=(number, place)
            )
    for place, run in enumerate(program.runs):
        runs = (*program.runs[:place], *program.runs[place + 1 :])
        shown = _with(unit, water, number, replace(program, runs=runs))
        yield Fault(cause=Cause.RUN_LOST, shown=shown, program=number, station=run.station - 1, place=(number, place))
    zero = _with(unit, water, number, replace(program, adjust_pct=0.0))
    yield Fault(cause=Cause.SEASON_ZERO, shown=zero, program=number, place=(number, 0))
    if isinstance(program.days, Weekdays):
        for bit in sorted({(look.at // DAY_S + 3) % 7 for look in unit.looked.looks}):
            mask = program.days.mask ^ (1 << bit)
            if mask:
                shown = _with(unit, water, number, replace(program, days=Weekdays(mask)))
                yield Fault(
                    cause=Cause.PROGRAM_DAYS,
                    shown=shown,
                    program=number,
                    days=Weekdays(mask),
                    place=(number, bit),
                )


def _strays(unit: Simulator, water: Water) -> Iterator[Fault]:
    """One start more, just before a look at which something ran that should not."""
    digits = unit.right.digits(unit.looked.instants).tolist()
    begun = {
        look.at: (look.at - look.since) // 2 if look.since is not None else 2 * MINUTE_S for look in unit.looked.looks
    }
    for glance in [glance for glance in unit.otherwise if glance.on and glance.channel >= len(unit.plan.channels)][:4]:
        back = begun[unit.looked.looks[glance.look].at]
        at = ClockTime((digits[glance.look] - back) % DAY_S // MINUTE_S * MINUTE_S)
        for number, program in enumerate(water.programs):
            shown = _with(unit, water, number, replace(program, starts=(*program.starts, at)))
            yield Fault(cause=Cause.START_STRAY, shown=shown, program=number, at=at, place=(number, 99))


def _outside(unit: Simulator, water: Water) -> Iterator[Fault]:
    """What no program shows: valves, pressure, heads, wires, sensors and batteries."""
    run = unit.right.run
    first, things = first_of(unit.plan, "station") + 1, things_of(unit.plan)
    stations = range(len(water.stations))
    days = 1 + BED_DAYS * any(look.beds for look in unit.looked.looks)
    begun = int(unit.looked.instants[0]) - days * DAY_S
    looked_at = {bed.station - 1 for look in unit.looked.looks for bed in look.beds}
    looked_at |= {things[g.channel].number - 1 for g in unit.otherwise if things[g.channel].sort == "station"}
    for n in sorted(looked_at):
        for cause, on, bed in ((Cause.VALVE_SHUT, False, "dry"), (Cause.VALVE_OPEN, True, "wet")):
            shown = Shown(run, hold=Hold(channels=(first + n,), on=on, start=begun), beds=((n + 1, bed, "all"),))
            yield Fault(cause=cause, shown=shown, station=n, place=(n,))
        yield Fault(
            cause=Cause.HEAD_BLOCKED, station=n, place=(n,),
            shown=Shown(run, beds=tuple((n + 1, "dry", part) for part in ("near", "far"))),
        )  # fmt: skip
    low = tuple((n + 1, "dry", part) for n in stations for part in ("far", "all"))
    yield Fault(cause=Cause.PRESSURE_LOW, shown=Shown(run, beds=low), station=min(looked_at, default=None))
    if len(water.stations) <= MOST_SWAPPED:
        for a, b in combinations(stations, 2):
            shown = Shown(run, swapped=(first - 1 + a, first - 1 + b))
            yield Fault(cause=Cause.WIRES_SWAPPED, shown=shown, station=a, other=b, place=(a, b))
    every = tuple(range(first - 1, first + len(water.stations)))
    dry = tuple((n + 1, "dry", "all") for n in stations)
    for start in (begun, *seams(unit)):
        for cause in (Cause.LEFT_OFF, Cause.RAIN_SENSOR, Cause.BATTERY_LOW):
            shown = Shown(run, hold=Hold(channels=every, on=False, start=start), beds=dry)
            yield Fault(cause=cause, shown=shown, channels=every, size=start != begun, water=True)
