"""Heating: zones that hold temperatures, what is wanted of them, what is keyed, and what is done by hand (docs/plan-file.md, "Heat")."""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Any, assert_never

from skavit.core.ground.errors import PlanError
from skavit.core.ground.records import (
    Form,
    Record,
    Schema,
    listed,
    member,
    number,
    plain,
    positive,
    record,
    whole,
    word,
)
from skavit.core.ground.strict_json import MAX_ITEMS, Node, ObjectNode
from skavit.core.plan.days import DAILY, DAYS_REF, Days
from skavit.core.plan.identity import IDENTITY, NAME
from skavit.core.plan.overrides import MAX_HOLIDAY_DAYS, MINUTES
from skavit.core.plan.times import CLOCK, LOCAL_DATETIME, ClockTime

COLDEST_C, WARMEST_C = -30, 60
FROST_C = 5.0  # the target of a zone that has no other (docs/plan-file.md)
COUNTED_FROM = ("today", "tomorrow")
DEGREES = number(COLDEST_C, WARMEST_C)
MAX_PERIODS = 24
MAX_LOSS_W_K = 100_000
MAX_CAPACITY_WH_K = 1_000_000
MAX_HEATER_W = 10_000_000
SET_FORM = '{"c"}, {"hold_min", "c"}, {"frost": true}, {"off": true}, {"holiday_until"}, {"holiday_days", "from"} or {"auto": true}'


def _read_true(node: Node) -> bool:
    return node.flag() or node.refuse("true")


TRUE = plain(_read_true, {"const": True})


@dataclass(frozen=True, slots=True, kw_only=True)
class SetPoint(Record):
    """A temperature that holds from a clock time of its days until the next one."""

    id: str | None = member(IDENTITY, default=None)
    days: Days = member(DAYS_REF, default=DAILY, always=True)
    at: ClockTime = member(CLOCK)
    c: float = member(DEGREES)


@dataclass(frozen=True, slots=True, kw_only=True)
class Warmth(Record):
    """Another temperature until the next set point that is keyed."""

    c: float = member(DEGREES)


@dataclass(frozen=True, slots=True, kw_only=True)
class Hold(Record):
    """Another temperature for so long."""

    minutes: float = member(MINUTES, name="hold_min")
    c: float = member(DEGREES)


@dataclass(frozen=True, slots=True, kw_only=True)
class Frost(Record):
    """Frost protection until further notice."""

    frost: bool = member(TRUE)


@dataclass(frozen=True, slots=True, kw_only=True)
class HeatOff(Record):
    """No target at all: nothing protects from frost either."""

    off: bool = member(TRUE)


@dataclass(frozen=True, slots=True, kw_only=True)
class HolidayUntil(Record):
    """Frost protection until a local date and time."""

    until: int = member(LOCAL_DATETIME, name="holiday_until")  # digits of the site's clock


@dataclass(frozen=True, slots=True, kw_only=True)
class HolidayDays(Record):
    """Frost protection until the midnight that ends the last of so many days, today counted or not."""

    days: int = member(whole(1, MAX_HOLIDAY_DAYS), name="holiday_days")
    counted_from: str = member(word(COUNTED_FROM), name="from")


@dataclass(frozen=True, slots=True, kw_only=True)
class HeatAuto(Record):
    """Back to the program."""

    auto: bool = member(TRUE)


HeatSetting = Warmth | Hold | Frost | HeatOff | HolidayUntil | HolidayDays | HeatAuto
# By the key that tells them; a hold has a temperature too and comes first.
_BY_KEY: dict[str, type[HeatSetting]] = {
    "hold_min": Hold,
    "c": Warmth,
    "frost": Frost,
    "off": HeatOff,
    "holiday_until": HolidayUntil,
    "holiday_days": HolidayDays,
    "auto": HeatAuto,
}


def _read_setting(node: Node) -> HeatSetting:
    given = node.value if isinstance(node.value, dict) else {}
    named = next((of for name, of in _BY_KEY.items() if name in given), None)
    return named.read(node) if named else node.refuse(SET_FORM)


def _settings_schema() -> Schema:
    return {"anyOf": [of.schema() for of in _BY_KEY.values()]}


HEAT_SETTING = Form(read=_read_setting, write=lambda setting: setting.to_json(), schema=_settings_schema)


def lasts(setting: HeatSetting) -> bool:
    """Whether a setting stays until somebody ends it."""
    match setting:
        case Frost() | HeatOff():
            return True
        case Warmth() | Hold() | HolidayUntil() | HolidayDays() | HeatAuto():
            return False
        case _:
            assert_never(setting)


@dataclass(frozen=True, slots=True, kw_only=True)
class HeatOverride(Record):
    """What somebody does to a zone at a local moment; it replaces what was set in the zone before."""

    at: int = member(LOCAL_DATETIME)
    zone: int = member(whole(1, MAX_ITEMS))  # from 1
    setting: HeatSetting = member(HEAT_SETTING, name="set")


@dataclass(frozen=True, slots=True, kw_only=True)
class Room(Record):
    """What a zone loses, stores and is heated with: a room of one temperature."""

    loss_w_k: float = member(positive(MAX_LOSS_W_K))
    capacity_wh_k: float = member(positive(MAX_CAPACITY_WH_K))
    heater_w: float = member(positive(MAX_HEATER_W))


@dataclass(frozen=True, slots=True, kw_only=True)
class Zone(Record):
    """A part of the building that is held at one temperature: what is wanted of it, and what is keyed."""

    id: str | None = member(IDENTITY, default=None)
    name: str = member(NAME)
    wanted: tuple[SetPoint, ...] = member(
        listed(record(SetPoint).named("setPoint"), "set points"), default=(), always=True
    )
    keyed: tuple[SetPoint, ...] = member(
        listed(record(SetPoint).named("setPoint"), "set points"), default=(), always=True
    )
    room: Room | None = member(record(Room), default=None)


@dataclass(frozen=True, slots=True, kw_only=True)
class HeatLimits(Record):
    """What a unit's program can hold; a limit that is None does not bind. Day groups and the clock's step are `unit.limits`."""

    periods: int | None = member(whole(1, MAX_PERIODS), default=None)  # set points of each day group
    c_min: float | None = member(DEGREES, default=None)
    c_max: float | None = member(DEGREES, default=None)
    c_step: float | None = member(positive(10), default=None)

    def nearest(self, c: float) -> float:
        """The degrees nearest to some that the unit can show."""
        found = c if self.c_step is None else round(round(c / self.c_step) * self.c_step, 3)
        found = found if self.c_min is None else max(found, self.c_min)
        return found if self.c_max is None else min(found, self.c_max)


NO_HEAT_LIMITS = HeatLimits()


@dataclass(frozen=True, slots=True, kw_only=True)
class Outside(Record):
    """What it is outside: the coldest night of the year and a usual winter's, and the months in which it may freeze."""

    coldest_c: float = member(DEGREES)
    usual_c: float = member(DEGREES)
    frost_months: tuple[int, ...] = member(listed(whole(1, 12), "months", once=True), default=())


@dataclass(frozen=True, slots=True, kw_only=True)
class Heat(Record):
    """The heating side of a plan."""

    frost_c: float = member(DEGREES, default=FROST_C)
    zones: tuple[Zone, ...] = member(listed(record(Zone).named("zone"), "zones", least=1))
    overrides: tuple[HeatOverride, ...] = member(listed(record(HeatOverride), "overrides"), default=())
    outside: Outside | None = member(record(Outside), default=None)
    limits: HeatLimits = member(record(HeatLimits), default=NO_HEAT_LIMITS)

    @classmethod
    def judged(cls, keys: ObjectNode, given: dict[str, Any]) -> dict[str, Any]:
        """Overrides of zones that there are."""
        count = len(given["zones"])
        for place, override in enumerate(given.get("overrides", ())):
            if override.zone > count:
                path = f"{keys.path}.overrides[{place}].zone"
                raise PlanError(path, f"{override.zone} is not accepted", f"a zone's number from 1 to {count}")
        return given

    def with_zone(self, index: int, zone: Zone) -> "Heat":
        """The same with another zone in a place (from 0)."""
        return replace(self, zones=(*self.zones[:index], zone, *self.zones[index + 1 :]))

    def of_zone(self, index: int) -> tuple[HeatOverride, ...]:
        """What is done to a zone (from 0), in the order in which it is done."""
        return tuple(sorted((o for o in self.overrides if o.zone == index + 1), key=lambda o: o.at))

    def identities(self) -> Iterator[tuple[str, str | None]]:
        """The path below ``heat`` and the identity of each part that may have one."""
        for z, zone in enumerate(self.zones):
            yield f"zones[{z}]", zone.id
            for side, points in (("wanted", zone.wanted), ("keyed", zone.keyed)):
                yield from ((f"zones[{z}].{side}[{i}]", point.id) for i, point in enumerate(points))
