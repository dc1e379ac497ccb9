"""How a unit's own clock is set (`unit.clock` of the plan file): its daylight-saving rule, its error and its drift."""

from dataclasses import dataclass, field
from typing import Any

from skavit.core.ground.errors import PlanError
from skavit.core.ground.strict_json import Node, ObjectNode
from skavit.core.plan.days import WEEKDAYS
from skavit.core.plan.times import ClockTime, moment_text, optional, read_clock_time, read_moment

NAMED_RULES = ("zone", "none", "us", "us-1987", "eu")
RULE_FORM = '"zone", "none", "us", "us-1987", "eu", {"from", "to", "shift_min"} or {"changes", "initial_min"}'
MAX_SHIFT_MIN = 180
MAX_BY_HAND_MIN = 1440
MAX_ERROR_S = 50 * 366 * 86400
MAX_DRIFT_S_PER_DAY = 3600


@dataclass(frozen=True, slots=True)
class ChangeDay:
    """A clock change on a weekday of a month: week 1 to 4, or 5 for the last."""

    month: int
    week: int
    weekday: int
    time: ClockTime

    def to_json(self) -> dict[str, Any]:
        """The form of the plan file."""
        return {
            "month": self.month,
            "week": self.week,
            "weekday": WEEKDAYS[self.weekday],
            "time": self.time.to_json(),
        }


@dataclass(frozen=True, slots=True)
class NamedRule:
    """One of the rules that have a name."""

    name: str

    def to_json(self) -> str:
        """The form of the plan file."""
        return self.name


@dataclass(frozen=True, slots=True)
class OwnRule:
    """Ahead by ``shift_min`` from one change day (in standard time) to the other (in daylight time)."""

    start: ChangeDay
    end: ChangeDay
    shift_min: int

    def to_json(self) -> dict[str, Any]:
        """The form of the plan file."""
        return {"from": self.start.to_json(), "to": self.end.to_json(), "shift_min": self.shift_min}


@dataclass(frozen=True, slots=True)
class ByHand:
    """Set by somebody: (local digits of the site, minutes ahead of local standard time) in order."""

    changes: tuple[tuple[int, int], ...]
    initial_min: int = 0
    sun_follows: bool = True

    def to_json(self) -> dict[str, Any]:
        """The form of the plan file."""
        return {
            "changes": [{"on": moment_text(on), "shift_min": shift} for on, shift in self.changes],
            "initial_min": self.initial_min,
            "sun_follows": self.sun_follows,
        }


DstRule = NamedRule | OwnRule | ByHand


@dataclass(frozen=True, slots=True, kw_only=True)
class ClockSettings:
    """The whole of ``unit.clock``."""

    dst: DstRule = field(default=NamedRule("zone"))
    error_s: float = 0
    fast_s_per_day: float = 0
    set_on: int | None = None  # local digits of the site

    @property
    def is_right(self) -> bool:
        """Whether the clock is not known to be out."""
        return not self.error_s and not self.fast_s_per_day

    def to_json(self) -> dict[str, Any]:
        """The form of the plan file."""
        return {
            "dst": self.dst.to_json(),
            **optional(
                {
                    "error_s": self.error_s or None,
                    "fast_s_per_day": self.fast_s_per_day or None,
                    "set_on": moment_text(self.set_on) if self.set_on is not None else None,
                }
            ),
        }


def read_clock(node: Node) -> ClockSettings:
    """``unit.clock``; raises :class:`PlanError`."""
    keys = node.object(["dst", "error_s", "fast_s_per_day", "set_on"])
    dst = keys.get("dst")
    rule = _read_rule(dst) if dst else NamedRule("zone")
    error, drift, set_on = keys.get("error_s"), keys.get("fast_s_per_day"), keys.get("set_on")
    if error and isinstance(rule, ByHand):
        error.refuse("no error_s beside changes set by hand", "error_s with changes")
    if drift and not set_on:
        raise PlanError(f"{keys.path}.set_on", "is missing", "the moment from which fast_s_per_day counts")
    return ClockSettings(
        dst=rule,
        error_s=error.number(-MAX_ERROR_S, MAX_ERROR_S) if error else 0,
        fast_s_per_day=drift.number(-MAX_DRIFT_S_PER_DAY, MAX_DRIFT_S_PER_DAY) if drift else 0,
        set_on=read_moment(set_on) if set_on else None,
    )


def _read_rule(node: Node) -> DstRule:
    if isinstance(node.value, str) and node.value in NAMED_RULES:
        return NamedRule(node.value)
    if not isinstance(node.value, dict):
        node.refuse(RULE_FORM)
    if "changes" in node.value:
        return _read_by_hand(node.object(["changes", "initial_min", "sun_follows"]))
    keys = node.object(["from", "to", "shift_min"], required=["from", "to", "shift_min"])
    return OwnRule(
        _read_change_day(keys["from"]), _read_change_day(keys["to"]), keys["shift_min"].integer(1, MAX_SHIFT_MIN)
    )


def _read_change_day(node: Node) -> ChangeDay:
    names = ["month", "week", "weekday", "time"]
    keys = node.object(names, required=names)
    return ChangeDay(
        keys["month"].integer(1, 12),
        keys["week"].integer(1, 5),
        WEEKDAYS.index(keys["weekday"].choice(WEEKDAYS)),
        read_clock_time(keys["time"]),
    )


def _read_by_hand(keys: ObjectNode) -> ByHand:
    changes: list[tuple[int, int]] = []
    for item in keys["changes"].items("changes"):
        change = item.object(["on", "shift_min"], required=["on", "shift_min"])
        on = read_moment(change["on"])
        if changes and on <= changes[-1][0]:
            change["on"].refuse("changes in order of time, each later than the one before")
        changes.append((on, change["shift_min"].integer(-MAX_BY_HAND_MIN, MAX_BY_HAND_MIN)))
    initial, follows = keys.get("initial_min"), keys.get("sun_follows")
    return ByHand(
        tuple(changes),
        initial.integer(-MAX_BY_HAND_MIN, MAX_BY_HAND_MIN) if initial else 0,
        follows.flag() if follows else True,
    )
