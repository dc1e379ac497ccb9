"""Edits of the watering side of a plan as pure functions: each takes a plan and gives the plan after it."""

from dataclasses import replace
from typing import Any, TypeVar

from skavit.core.plan.document import Plan
from skavit.core.plan.edits import GONE, EditError
from skavit.core.plan.water import Program, Run, Station, Water, WaterOverride

Row = TypeVar("Row")


def water_of(plan: Plan) -> Water:
    """The watering side; raises :class:`EditError` where the plan has none."""
    if plan.water is None:
        raise EditError("this unit does not water; accepted: a unit of a kind that waters")
    return plan.water


def with_water(plan: Plan, **changes: Any) -> Plan:
    """The plan with some of its watering side changed."""
    return replace(plan, water=replace(water_of(plan), **changes))


def _put(items: tuple[Row, ...], index: int | None, row: Row) -> tuple[Row, ...]:
    if index is None:
        return (*items, row)
    if not 0 <= index < len(items):
        raise EditError(GONE)
    return (*items[:index], row, *items[index + 1 :])


def put_station(plan: Plan, index: int | None, station: Station) -> Plan:
    """A station in place of the ``index``-th (from 0), whose id is kept, or one more."""
    stations = water_of(plan).stations
    if index is not None and 0 <= index < len(stations):
        station = replace(station, id=stations[index].id)
    return with_water(plan, stations=_put(stations, index, station))


def remove_station(plan: Plan, index: int) -> Plan:
    """The plan without a station (from 0) and its runs; those after it move up."""
    water = water_of(plan)
    if not 0 <= index < len(water.stations):
        raise EditError(GONE)
    programs = tuple(replace(program, runs=_without(program.runs, index + 1)) for program in water.programs)
    stations = (*water.stations[:index], *water.stations[index + 1 :])
    return with_water(plan, stations=stations, programs=programs)


def _without(runs: tuple[Run, ...], number: int) -> tuple[Run, ...]:
    return tuple(
        replace(run, station=run.station - (run.station > number)) for run in runs if run.station != number
    )  # fmt: skip


def copy_station(plan: Plan, index: int) -> Plan:
    """A station twice; the second at the end, under another name."""
    stations = water_of(plan).stations
    if not 0 <= index < len(stations):
        raise EditError(GONE)
    return put_station(plan, None, replace(stations[index], id=None, name=f"{stations[index].name} copy"[:80]))


def put_program(plan: Plan, index: int | None, program: Program) -> Plan:
    """A program in place of the ``index``-th (from 0), whose id is kept, or one more."""
    programs = water_of(plan).programs
    if index is not None and 0 <= index < len(programs):
        program = replace(program, id=programs[index].id)
    return with_water(plan, programs=_put(programs, index, program))


def copy_program(plan: Plan, index: int, name: str) -> Plan:
    """A program twice; the second at the end, under another name."""
    programs = water_of(plan).programs
    if not 0 <= index < len(programs):
        raise EditError(GONE)
    return put_program(plan, None, replace(programs[index], id=None, name=name))


def remove_program(plan: Plan, index: int) -> Plan:
    """The plan without a program (from 0)."""
    programs = water_of(plan).programs
    if not 0 <= index < len(programs):
        raise EditError(GONE)
    return with_water(plan, programs=(*programs[:index], *programs[index + 1 :]))


def add_done(plan: Plan, done: WaterOverride) -> Plan:
    """The plan with one more thing done by hand."""
    return with_water(plan, by_hand=(*water_of(plan).by_hand, done))


def remove_done(plan: Plan, index: int) -> Plan:
    """The plan without one thing done by hand (from 0). Raises :class:`EditError`."""
    done = water_of(plan).by_hand
    if not 0 <= index < len(done):
        raise EditError(GONE)
    return with_water(plan, by_hand=(*done[:index], *done[index + 1 :]))


# Where nobody has measured it yet; nothing hangs on it but litres.
UNKNOWN_FLOW_L_MIN = 1.0


def water_as_found(plan: Plan, programs: tuple[Program, ...]) -> Plan:
    """The plan of a unit that holds ``programs``, with a station for each that they run and nobody has named."""
    water = water_of(plan)
    most = max((run.station for program in programs for run in program.runs), default=0)
    unnamed = tuple(
        Station(name=f"Station {number}", flow_l_min=UNKNOWN_FLOW_L_MIN)
        for number in range(len(water.stations) + 1, most + 1)
    )
    return with_water(plan, stations=water.stations + unnamed, programs=programs)
