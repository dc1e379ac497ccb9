"""One fault put into a unit."""

from dataclasses import dataclass
from enum import StrEnum

from skavit.core.causes.shown import Shown, Simulator
from skavit.core.ground.errors import RangeError
from skavit.core.plan.clock_settings import DstRule
from skavit.core.plan.days import Days
from skavit.core.plan.document import Plan
from skavit.core.plan.entry import Entry
from skavit.core.plan.sun_settings import SunSettings
from skavit.core.plan.times import Time


class Cause(StrEnum):
    """The causes, in the order in which they are thought of: those that leave least open first."""

    NONE = "none"
    CLOCK_HOUR = "clock-hour"
    CLOCK_HALF_DAY = "clock-half-day"
    CLOCK_DATE = "clock-date"
    CLOCK_MINUTES = "clock-minutes"
    CLOCK_STOPPED = "clock-stopped"
    LEFT_ON = "left-on"
    LEFT_OFF = "left-off"
    HOLIDAY_RUNNING = "holiday-running"
    CORRECTION_LOST = "correction-lost"
    WRONG_PLACE = "wrong-place"
    RULE_DIFFERS = "rule-differs"
    ENTRY_LOST = "entry-lost"
    ENTRY_HALF_DAY = "entry-half-day"
    SUN_SWAPPED = "sun-swapped"
    ENTRY_DAYS = "entry-days"
    ENTRY_STRAY = "entry-stray"
    START_LOST = "start-lost"
    START_HALF_DAY = "start-half-day"
    PROGRAM_DAYS = "program-days"
    RUN_LOST = "run-lost"
    SEASON_ZERO = "season-zero"
    START_STRAY = "start-stray"
    POINT_LOST = "point-lost"
    POINT_HALF_DAY = "point-half-day"
    VALVE_SHUT = "valve-shut"
    VALVE_OPEN = "valve-open"
    PRESSURE_LOW = "pressure-low"
    HEAD_BLOCKED = "head-blocked"
    WIRES_SWAPPED = "wires-swapped"
    RAIN_SENSOR = "rain-sensor"
    BATTERY_LOW = "battery-low"


# What a fault is, whatever its size: its cause, and where in the unit it is.
Named = tuple[Cause, int | None, int, tuple[int, ...]]


@dataclass(frozen=True, kw_only=True)
class Fault:
    """One fault, and a unit that has it."""

    cause: Cause
    shown: Shown
    size: float = 0  # of two of one cause that explain as much, the smaller is likelier
    guessed: bool = (
        False  # where or until when is one of several that are tried: it leaves more open than an entry's fault
    )
    began: bool = False  # it shows from between two looks on, by itself
    keying: int = 0  # the set in which the slot is: 0 the unit's own
    slot: int | None = None  # from 1
    place: tuple[int, ...] = ()  # what tells apart faults of one cause in a program, a room, at stations
    ahead_s: float = 0  # how far a clock is ahead
    drifts: bool = False
    channels: tuple[int, ...] = ()  # places among the unit's things, from 1
    days: Days | None = None  # the days on which an entry or a program acts in the unit
    water: bool = False  # all that waters is concerned
    program: int | None = None  # of water, from 0
    station: int | None = None  # from 0
    other: int | None = None  # the station that runs in its place
    at: Time | None = None  # the start or set point that is concerned
    entry: Entry | None = None  # the entry that is concerned, as it is keyed in the plan, or the stray one
    as_keyed: Time | None = None  # the time that is in the unit in place of the entry's
    rule: DstRule | None = None
    sun: SunSettings | None = None

    @property
    def named(self) -> Named:
        """What it is: of several that are called alike the likeliest is told."""
        return self.cause, self.slot, self.keying, self.place


def run_of(unit: Simulator, plan: Plan) -> Shown | None:
    """A variant of the unit; None where its clock would show years that the sun tables do not reach."""
    try:
        return Shown(unit.run(plan))
    except RangeError:
        return None


def seams(unit: Simulator) -> tuple[int, ...]:
    """Where a fault may have begun between looks: before the first that the unit as planned does not explain."""
    explained, at = unit.explained, unit.looked.instants
    if all(explained) or not any(explained):
        return ()
    first = explained.index(False)
    return (int(at[first - 1] + at[first]) // 2,) if first else ()
