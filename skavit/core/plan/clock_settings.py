"""How a unit's own clock is set (`unit.clock` of the plan file): its daylight-saving rule, its error and its drift."""

from dataclasses import dataclass
from typing import Any, ClassVar

from skavit.core.ground.errors import PlanError
from skavit.core.ground.records import Form, Record, Schema, flag, listed, member, number, record, whole
from skavit.core.ground.strict_json import Node, ObjectNode, join
from skavit.core.plan.days import WEEKDAYS
from skavit.core.plan.times import CLOCK, LOCAL_DATETIME, ClockTime

NAMED_RULES = ("zone", "none", "us", "us-1987", "eu")
RULE_FORM = '"zone", "none", "us", "us-1987", "eu", {"from", "to", "shift_min"} or {"changes", "initial_min"}'
MAX_SHIFT_MIN = 180
MAX_BY_HAND_MIN = 1440
MAX_ERROR_S = 50 * 366 * 86400
MAX_DRIFT_S_PER_DAY = 3600
# Nobody sets a clock so far out but by the hour.
SET_APART_S = 1800


WEEKDAY = Form(
    read=lambda node: WEEKDAYS.index(node.choice(WEEKDAYS)),
    write=WEEKDAYS.__getitem__,
    schema=lambda: {"enum": list(WEEKDAYS)},
)
AHEAD_MIN = whole(-MAX_BY_HAND_MIN, MAX_BY_HAND_MIN)


@dataclass(frozen=True, slots=True)
class ChangeDay(Record):
    """A clock change on a weekday of a month: week 1 to 4, or 5 for the last."""

    month: int = member(whole(1, 12))
    week: int = member(whole(1, 5))
    weekday: int = member(WEEKDAY)
    time: ClockTime = member(CLOCK)


@dataclass(frozen=True, slots=True)
class NamedRule:
    """One of the rules that have a name."""

    name: str

    def to_json(self) -> str:
        """The form of the plan file."""
        return self.name


@dataclass(frozen=True, slots=True)
class OwnRule(Record):
    """Ahead by ``shift_min`` from one change day (in standard time) to the other (in daylight time)."""

    start: ChangeDay = member(record(ChangeDay), name="from")
    end: ChangeDay = member(record(ChangeDay), name="to")
    shift_min: int = member(whole(1, MAX_SHIFT_MIN))


@dataclass(frozen=True, slots=True)
class HandChange(Record):
    """From a local moment of the site on, so many minutes ahead of local standard time."""

    on: int = member(LOCAL_DATETIME)
    shift_min: int = member(AHEAD_MIN)


@dataclass(frozen=True, slots=True)
class ByHand(Record):
    """Set by somebody, in order of time."""

    changes: tuple[HandChange, ...] = member(listed(record(HandChange), "changes"))
    initial_min: int = member(AHEAD_MIN, default=0, always=True)
    sun_follows: bool = member(flag(), default=True, always=True)

    @classmethod
    def judged(cls, keys: ObjectNode, given: dict[str, Any]) -> dict[str, Any]:
        """Refuse changes that are not in order of time."""
        changes = given["changes"]
        for place, item in enumerate(keys["changes"].items("changes")):
            if place and changes[place].on <= changes[place - 1].on:
                on = ObjectNode(item.value, item.path)["on"]
                on.refuse("changes in order of time, each later than the one before")
        return given


DstRule = NamedRule | OwnRule | ByHand


def _read_rule(node: Node) -> DstRule:
    match node.value:
        case str() if node.value in NAMED_RULES:
            return NamedRule(node.value)
        case dict():
            return (ByHand if "changes" in node.value else OwnRule).read(node)
        case _:
            return node.refuse(RULE_FORM)


RULE = Form(
    read=_read_rule,
    write=lambda rule: rule.to_json(),
    schema=lambda: {"anyOf": [{"enum": list(NAMED_RULES)}, OwnRule.schema(), ByHand.schema()]},
)


@dataclass(frozen=True, slots=True, kw_only=True)
class ClockSettings(Record):
    """The whole of ``unit.clock``."""

    schema_rules: ClassVar[Schema] = {"dependentRequired": {"fast_s_per_day": ["set_on"]}}

    dst: DstRule = member(RULE.named("dst"), default=NamedRule("zone"), always=True)
    error_s: float = member(number(-MAX_ERROR_S, MAX_ERROR_S), default=0)
    fast_s_per_day: float = member(number(-MAX_DRIFT_S_PER_DAY, MAX_DRIFT_S_PER_DAY), default=0)
    set_on: int | None = member(LOCAL_DATETIME, default=None)  # local digits of the site

    @property
    def is_right(self) -> bool:
        """Whether the clock is not known to be out."""
        return not self.error_s and not self.fast_s_per_day

    @property
    def is_set_apart(self) -> bool:
        """Whether it was set to another time for good, as by an hour; it does not drift."""
        return abs(self.error_s) >= SET_APART_S and not self.fast_s_per_day

    @classmethod
    def judged(cls, keys: ObjectNode, given: dict[str, Any]) -> dict[str, Any]:
        """A drift from a moment on, and no error beside changes set by hand."""
        if "error_s" in keys and isinstance(given.get("dst"), ByHand):
            keys["error_s"].refuse("no clock error beside changes set by hand", "a clock error with changes by hand")
        if "fast_s_per_day" in keys and "set_on" not in keys:
            raise PlanError(join(keys.path, "set_on"), "is missing", "the moment from which fast_s_per_day counts")
        return given
