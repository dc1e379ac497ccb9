"""What a unit's memory can hold (`unit.limits` of the plan file)."""

from dataclasses import dataclass, field
from typing import Any

from skavit.core.ground.arrays import DAY_S
from skavit.core.ground.errors import PlanError
from skavit.core.ground.records import Records
from skavit.core.ground.strict_json import Node
from skavit.core.plan.days import DAILY, Days, Weekdays, read_days
from skavit.core.plan.times import MAX_OFFSET_MIN, optional
from skavit.core.sun.days import SunEvent

ACTIONS = ("on", "off", "pulse", "repeat")
MAX_ENTRIES = 10_000
ALL_MASKS = range(1, 128)
SHAPES = ("single", "pair", "on", "off")
TIME_SORTS = ("clock", "sun")
PER = ("unit", "channel", "day-group")
OFF_DAYS = ("own", "same")


@dataclass(frozen=True, slots=True, kw_only=True)
class Bank:
    """A part of the memory: so many slots of one shape. What is left out does not bind."""

    shape: str = field(metadata={"choices": SHAPES})  # "pair": an ON and an OFF in one slot
    count: int | None = field(default=None, metadata={"low": 0, "high": MAX_ENTRIES})
    times: tuple[str, ...] | None = field(default=None, metadata={"choices": TIME_SORTS})
    per: str = field(default="unit", metadata={"choices": PER})
    off_days: str = field(default="own", metadata={"choices": OFF_DAYS})  # "same": the OFF acts on the days of its ON
    over_midnight: bool = True  # whether the OFF of a pair may act on the day after its ON

    @property
    def is_pair(self) -> bool:
        """Whether a slot holds an ON and its OFF."""
        return self.shape == "pair"

    def holds_action(self, *, on: bool) -> bool:
        """Whether a slot may hold an ON, or an OFF."""
        return self.shape in ("single", "pair", "on" if on else "off")

    def holds_time(self, *, by_sun: bool) -> bool:
        """Whether a slot may hold a clock time, or a sun time."""
        return self.times is None or ("sun" if by_sun else "clock") in self.times


BANKS = Records({})


@dataclass(frozen=True, slots=True, kw_only=True)
class Limits:
    """A limit that is None does not bind."""

    entries: int | None = None
    slots: tuple[Bank, ...] | None = None
    day_groups: tuple[str | Weekdays, ...] | None = None  # weekday sets, "any" or "single-days"
    clock_step_s: int | None = None
    sun_offset_max_min: int | None = None
    sun_events: tuple[SunEvent, ...] | None = None
    actions: tuple[str, ...] | None = None
    holidays: int | None = None
    holiday_days_max: int | None = None
    limited_times: bool = False
    offset_by: str = "entry"  # or "correction": an offset is keyed as the channel's correction only

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

    def to_json(self) -> dict[str, Any]:
        """The form of the plan file."""
        groups = self.day_groups
        return optional(
            {
                "entries": self.entries,
                "slots": [BANKS.write(bank) for bank in self.slots] if self.slots is not None else None,
                "day_groups": [g if isinstance(g, str) else g.to_json() for g in groups] if groups else groups,
                "clock_step_s": self.clock_step_s,
                "sun_offset_max_min": self.sun_offset_max_min,
                "sun_events": [e.name.lower() for e in self.sun_events] if self.sun_events is not None else None,
                "actions": list(self.actions) if self.actions is not None else None,
                "holidays": self.holidays,
                "holiday_days_max": self.holiday_days_max,
                "limited_times": self.limited_times or None,
                "offset_by": self.offset_by if self.offset_by != "entry" else None,
            }
        )


NO_LIMITS = Limits()


def _read_group(node: Node) -> str | Weekdays:
    if node.value in ("any", "single-days"):
        return str(node.value)
    if not isinstance(node.value, str | list):
        node.refuse('"any", "single-days", daily, weekdays, weekends or a list of weekdays')
    found = read_days(node)
    return found if isinstance(found, Weekdays) else DAILY


def _read_bank(node: Node) -> Bank:
    bank = BANKS.read(node, Bank)
    if not bank.is_pair and "off_days" in node.value:
        raise PlanError(f"{node.path}.off_days", f"off_days of a {bank.shape} slot", "off_days of a pair")
    return bank


def read_limits(node: Node) -> Limits:
    """``unit.limits``; raises :class:`PlanError`."""
    keys = node.object(
        [
            "entries",
            "slots",
            "day_groups",
            "clock_step_s",
            "sun_offset_max_min",
            "sun_events",
            "actions",
            "holidays",
            "holiday_days_max",
            "limited_times",
            "offset_by",
        ]
    )

    def whole(key: str, low: int, high: int) -> int | None:
        found = keys.get(key)
        return found.integer(low, high) if found else None

    slots = keys.get("slots")
    groups, events, actions = keys.get("day_groups"), keys.get("sun_events"), keys.get("actions")
    limited, offset_by = keys.get("limited_times"), keys.get("offset_by")
    names = [event.name.lower() for event in SunEvent]
    return Limits(
        entries=whole("entries", 0, MAX_ENTRIES),
        slots=tuple(_read_bank(item) for item in slots.items("banks", least=1)) if slots else None,
        day_groups=tuple(_read_group(item) for item in groups.items("day groups", least=1)) if groups else None,
        clock_step_s=whole("clock_step_s", 1, DAY_S),
        sun_offset_max_min=whole("sun_offset_max_min", 0, MAX_OFFSET_MIN),
        sun_events=tuple(SunEvent[i.choice(names).upper()] for i in events.items("sun events")) if events else None,
        actions=tuple(i.choice(ACTIONS) for i in actions.items("actions", least=1)) if actions else None,
        holidays=whole("holidays", 0, MAX_ENTRIES),
        holiday_days_max=whole("holiday_days_max", 0, 366),
        limited_times=limited.flag() if limited else False,
        offset_by=offset_by.choice(["entry", "correction"]) if offset_by else "entry",
    )
