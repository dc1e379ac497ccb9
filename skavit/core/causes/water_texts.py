"""Causes of a unit that waters in words, with what to measure. Usual figures are common practice, no source."""

from skavit.core.causes.fault import Cause, Fault
from skavit.core.plan.document import Plan
from skavit.core.plan.water import Station
from skavit.core.text.wording import Words, days_text

OF_WATER = (
    Cause.VALVE_SHUT,
    Cause.VALVE_OPEN,
    Cause.PRESSURE_LOW,
    Cause.HEAD_BLOCKED,
    Cause.WIRES_SWAPPED,
    Cause.RAIN_SENSOR,
    Cause.BATTERY_LOW,
)
_WIRES = "24 to 28 V AC between its wire and the common while it runs, and 20 to 60 ohm through its coil"
_CANS = "Set cans along the bed for one run: the least should hold three quarters of the average"


_TEXTS = {
    Cause.START_LOST: "{program}: its start at {at} is not in the unit.",
    Cause.START_HALF_DAY: "{program}: its start at {at} is keyed as {as_keyed}.",
    Cause.START_STRAY: "{program} has one start more, at about {at}.",
    Cause.RUN_LOST: "{program} has no run for {station}.",
    Cause.SEASON_ZERO: "{program}: its percentage is 0, so that no station runs.",
    Cause.PROGRAM_DAYS: "{program} waters {days}.",
    Cause.VALVE_SHUT: "The valve of {station} does not open: its wire, its coil, or the tap before it.",
    Cause.VALVE_OPEN: "The valve of {station} does not close: grit under it, or its screw is open.",
    Cause.PRESSURE_LOW: "The pressure is low: a leak, a tap half shut, or too many heads at once.",
    Cause.HEAD_BLOCKED: "Heads of {station} are blocked, broken or turned away.",
    Cause.WIRES_SWAPPED: "The wires of {station} and {other} are in each other's place.",
    Cause.RAIN_SENSOR: "A rain sensor holds it, or its wire is open.",
    Cause.BATTERY_LOW: "Its battery is low: it does not switch its valves any more.",
    Cause.LEFT_OFF: "Watering is suspended, or set to off by hand.",
}
_READ = "Read the starts, days and run times of {program} off the unit"
_CHECKS = {
    Cause.START_LOST: f"{_READ}.",
    Cause.START_HALF_DAY: f"{_READ}.",
    Cause.START_STRAY: f"{_READ}.",
    Cause.PROGRAM_DAYS: f"{_READ}.",
    Cause.RUN_LOST: f"{_READ}. Run by hand {{station}} takes {{flow}} at the meter.",
    Cause.SEASON_ZERO: "Read the percentage of {program} off the unit.",
    Cause.VALVE_SHUT: f"Run {{station}} by hand and read the meter: {{flow}}. Where it stands still, measure {_WIRES}.",
    Cause.VALVE_OPEN: "With nothing running, read the meter for a minute: it must stand still. Then shut that valve by hand.",
    Cause.PRESSURE_LOW: f"Run {{station}} by hand: do all heads rise? At the far head measure {{pressure}}, at the meter {{flow}}. {_CANS}.",
    Cause.HEAD_BLOCKED: f"Run {{station}} by hand and walk along it. {_CANS}. The meter reads less than {{flow}} where heads are blocked.",
    Cause.WIRES_SWAPPED: "Run {station} by hand: which bed gets the water?",
    Cause.RAIN_SENSOR: "Does the display say that a sensor holds it? Bridge the sensor's terminals: it then waters.",
    Cause.BATTERY_LOW: "Measure it under load: below 8 V of nine, or 2.6 V of two cells, is too low.",
    Cause.LEFT_OFF: "Does the display say off, or a number of days?",
}


def water_text(fault: Fault, plan: Plan, words: Words) -> str:
    """What is wrong, in a sentence."""
    return _TEXTS[fault.cause].format(**_named(fault, plan, words))


def water_check(fault: Fault, plan: Plan, words: Words) -> str:
    """What to read or to measure, with the usual figures."""
    return _CHECKS[fault.cause].format(**_named(fault, plan, words))


def _named(fault: Fault, plan: Plan, words: Words) -> dict[str, str]:
    """What the sentences name."""
    kpa = plan.water.supply_kpa if plan.water else None
    return {
        "program": _program(plan, fault),
        "station": _name(plan, fault.station),
        "other": _name(plan, fault.other),
        "flow": _flow(plan, fault.station, words),
        "pressure": words.pressure(kpa) if kpa else f"{words.pressure(200)} to {words.pressure(350)} for spray heads",
        "at": words.time(fault.at) if fault.at else "",
        "as_keyed": words.time(fault.as_keyed) if fault.as_keyed else "",
        "days": days_text(fault.days) if fault.days else "",
    }


def _program(plan: Plan, fault: Fault) -> str:
    if plan.water is None or fault.program is None:
        return "Its program"
    return f"Program {plan.water.programs[fault.program].name}"


def _station(plan: Plan, number: int | None) -> Station | None:
    return plan.water.stations[number] if plan.water is not None and number is not None else None


def _name(plan: Plan, number: int | None) -> str:
    station = _station(plan, number)
    return station.name if station else "a station"


def _flow(plan: Plan, number: int | None, words: Words) -> str:
    """What the meter should read while a station runs."""
    station = _station(plan, number)
    return words.flow(station.flow_l_min) if station else "the flow of that station"
