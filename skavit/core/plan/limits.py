"""What a unit's memory can hold (`unit.limits` of the plan file)."""

from dataclasses import dataclass
from typing import Any, Literal, assert_never, get_args

from skavit.core.ground.arrays import DAY_S
from skavit.core.ground.errors import PlanError
from skavit.core.ground.records import Form, Record, flag, listed, member, record, whole, word
from skavit.core.ground.strict_json import Node, ObjectNode, join
from skavit.core.plan.days import DAILY, NAMED, Days, Weekdays, read_days, weekdays_schema
from skavit.core.plan.entry import MAX_PULSE_S
from skavit.core.plan.times import MAX_OFFSET_MIN
from skavit.core.sun import SunEvent

ACTIONS = ("on", "off", "pulse", "repeat")
MAX_ENTRIES = 10_000
ALL_MASKS = range(1, 128)
Shape = Literal["single", "pair", "on", "off"]
SHAPES: tuple[Shape, ...] = get_args(Shape)
TIME_SORTS = ("clock", "sun")
PER = ("unit", "channel", "day-group")
OFF_DAYS = ("own", "same")


@dataclass(frozen=True, slots=True, kw_only=True)
class Bank(Record):
    """A part of the memory: so many slots of one shape. What is left out does not bind."""

    shape: Shape = member(word(SHAPES))  # "pair": an ON and an OFF in one slot
    count: int | None = member(whole(0, MAX_ENTRIES), default=None)
    times: tuple[str, ...] | None = member(listed(word(TIME_SORTS)), default=None)
    per: str = member(word(PER), default="unit")
    off_days: str = member(word(OFF_DAYS), default="own")  # "same": the OFF acts on the days of its ON
    over_midnight: bool = member(flag(), default=True)  # whether the OFF of a pair may act on the day after its ON
    repeats: bool = member(
        flag(), default=False
    )  # whether a pair may be one entry that repeats, from its start to its end

    @classmethod
    def judged(cls, keys: ObjectNode, given: dict[str, Any]) -> dict[str, Any]:
        """Refuse days of an OFF where a slot holds no pair."""
        if given["shape"] != "pair" and "off_days" in keys:
            raise PlanError(join(keys.path, "off_days"), f"off_days of a {given['shape']} slot", "off_days of a pair")
        if given["shape"] != "pair" and "repeats" in keys:
            raise PlanError(join(keys.path, "repeats"), f"repeats of a {given['shape']} slot", "repeats of a pair")
        return given

    @property
    def is_pair(self) -> bool:
        """Whether a slot holds an ON and its OFF."""
        return self.shape == "pair"

    def holds_action(self, *, on: bool) -> bool:
        """Whether a slot may hold an ON, or an OFF."""
        match self.shape:
            case "single" | "pair":
                return True
            case "on":
                return on
            case "off":
                return not on
            case _:
                assert_never(self.shape)

    def holds_time(self, *, by_sun: bool) -> bool:
        """Whether a slot may hold a clock time, or a sun time."""
        return self.times is None or ("sun" if by_sun else "clock") in self.times


def _read_group(node: Node) -> str | Weekdays:
    match node.value:
        case "any" | "single-days":
            return str(node.value)
        case str() | list():
            found = read_days(node)
            return found if isinstance(found, Weekdays) else DAILY
        case _:
            return node.refuse('"any", "single-days", daily, weekdays, weekends or a list of weekdays')


GROUP = Form(
    read=_read_group,
    write=lambda group: group if isinstance(group, str) else group.to_json(),
    schema=lambda: {"anyOf": [{"enum": [*NAMED, "any", "single-days"]}, weekdays_schema()]},
)


def _read_event(node: Node) -> SunEvent:
    return SunEvent[node.choice(EVENT_NAMES).upper()]


EVENT_NAMES = tuple(event.name.lower() for event in SunEvent)
EVENT = Form(read=_read_event, write=lambda event: event.name.lower(), schema=lambda: {"enum": list(EVENT_NAMES)})


@dataclass(frozen=True, slots=True, kw_only=True)
class Limits(Record):
    """A limit that is None does not bind."""

    entries: int | None = member(whole(0, MAX_ENTRIES), default=None)
    slots: tuple[Bank, ...] | None = member(listed(record(Bank), "banks", least=1), default=None)
    # Weekday sets, "any" or "single-days".
    day_groups: tuple[str | Weekdays, ...] | None = member(listed(GROUP, "day groups", least=1), default=None)
    clock_step_s: int | None = member(whole(1, DAY_S), default=None)
    sun_offset_max_min: int | None = member(whole(0, MAX_OFFSET_MIN), default=None)
    sun_events: tuple[SunEvent, ...] | None = member(listed(EVENT, "sun events"), default=None)
    actions: tuple[str, ...] | None = member(listed(word(ACTIONS), "actions", least=1), default=None)
    holidays: int | None = member(whole(0, MAX_ENTRIES), default=None)
    holiday_days_max: int | None = member(whole(0, 366), default=None)
    pulse_max_s: int | None = member(whole(1, MAX_PULSE_S), default=None)  # the longest pulse that a slot can carry
    limited_times: bool = member(flag(), default=False)
    one_channel: bool = member(flag(), default=False)  # an entry acts on one channel: the same on two takes two slots
    # "correction": an offset is keyed as the channel's correction only.
    one_correction: bool = member(flag(), default=False)  # the channels have one together
    offset_by: str = member(word(["entry", "correction"]), default="entry")

    @property
    def only_pairs(self) -> bool:
        """Whether the memory has a shape, and every slot of it holds a pair."""
        return bool(self.slots) and all(bank.is_pair for bank in self.slots or ())

    def masks(self) -> frozenset[int]:
        """The weekday sets that one entry can hold, as bit masks."""
        if self.day_groups is None or "any" in self.day_groups:
            return frozenset(ALL_MASKS)
        found = {group.mask for group in self.day_groups if isinstance(group, Weekdays)}
        return frozenset(found | ({1 << bit for bit in range(7)} if "single-days" in self.day_groups else set()))

    def holds_days(self, days: Days) -> bool:
        """Whether one entry can carry the day rule."""
        if self.day_groups is None:
            return True
        return isinstance(days, Weekdays) and days.mask in self.masks()


NO_LIMITS = Limits()
LIMITS_REF = record(Limits).named("limits")
