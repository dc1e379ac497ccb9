"""What the shipped kinds share: cautions, day groups, mode keys, and the usual dialogues."""

from skavit.core.kinds.parts import Dialogue, FieldKey, Mode, Press, Region
from skavit.core.plan.days import NAMED, Weekdays

# The regions that a unit sold here might list: letters, so that no town is wrong.
REGIONS = (
    Region(name="A", latitude=-36.8, longitude=174.7),
    Region(name="B", latitude=-39.5, longitude=176.5),
    Region(name="C", latitude=-41.3, longitude=174.8),
    Region(name="D", latitude=-43.5, longitude=172.6),
    Region(name="E", latitude=-45.9, longitude=170.5),
    Region(name="F", latitude=-33.9, longitude=151.2),
    Region(name="G", latitude=52.0, longitude=5.0),
    Region(name="H", latitude=69.0, longitude=19.0),
)
MAINS = "Mains inside: isolate, and leave wiring to licensed people, by the local code."
WEEK_FIELDS = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")
DAILY, WORKDAYS, WEEKENDS = (Weekdays(NAMED[name]) for name in ("daily", "weekdays", "weekends"))
SATURDAY, SUNDAY = Weekdays(0b0100000), Weekdays(0b1000000)
USUAL_GROUPS = (DAILY, WORKDAYS, WEEKENDS, "single-days")
MANY_GROUPS = (
    *(DAILY, "single-days", WORKDAYS, WEEKENDS, Weekdays(0b0111111), Weekdays(0b0010101)),
    *(Weekdays(0b0101010), Weekdays(0b0000111), Weekdays(0b0111000)),
)
ON_AUTO_OFF = (Mode(word="ON", means="on"), Mode(word="AUTO", means="auto"), Mode(word="OFF", means="off"))
WAITING_CYCLE = (*ON_AUTO_OFF, Mode(word="AUTO", means="auto"))


def press(*keys: str, times: int = 1, hold_s: int = 0) -> Press:
    """Keys pressed, together where there are several."""
    return Press(keys=keys, times=times, hold_s=hold_s)


def turned(key: str, *fields: str) -> tuple[FieldKey, ...]:
    """Fields that one key turns."""
    return tuple(FieldKey(field=field, key=key) for field in fields)


def keyed(enter: Press, accept: str, sign: str, leave: str = "", **fields: str) -> Dialogue:
    """A unit with a key a value: all accepted at once."""
    keys = tuple(FieldKey(field=field, key=key) for field, key in fields.items())
    return Dialogue(enter=(enter,), fields=keys, accept=accept, sign=sign, leave=leave)


def in_a_row(
    place: int,
    *fields: str,
    first: str = "set",
    turn: str = "plus",
    leave: str = "mode",
    accept: str = "set",
    step: str = "next",
) -> Dialogue:
    """Things in a row: a key held to go in, next to the place, set; a key turns, set accepts value by value."""
    return Dialogue(
        enter=(press(first, hold_s=2), press(step, times=place), press(accept)),
        fields=turned(turn, *fields),
        accept=accept,
        each=True,
        leave=leave,
        sign="the next value blinks",
    )
