"""One fault put into a unit."""

from dataclasses import dataclass
from enum import StrEnum

from skavit.core.causes.shown import Shown, Simulator
from skavit.core.ground.errors import RangeError
from skavit.core.plan.clock_settings import DstRule
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
    ENTRY_STRAY = "entry-stray"


@dataclass(frozen=True, kw_only=True)
class Fault:
    """One fault, and a unit that has it."""

    cause: Cause
    shown: Shown
    size: float = 0  # of two of one cause that explain as much, the smaller is likelier
    guessed: bool = (
        False  # where or until when is one of several that are tried: it leaves more open than an entry's fault
    )
    keying: int = 0  # the set in which the slot is: 0 the unit's own
    slot: int | None = None  # from 1
    ahead_s: float = 0  # how far a clock is ahead
    drifts: bool = False
    channels: tuple[int, ...] = ()  # from 1
    entry: Entry | None = None  # the entry that is concerned, as it is keyed in the plan, or the stray one
    as_keyed: Time | None = None  # the time that is in the unit in place of the entry's
    rule: DstRule | None = None
    sun: SunSettings | None = None


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
