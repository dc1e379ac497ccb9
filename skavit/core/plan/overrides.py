"""What somebody or something does to the unit beside its program (`overrides` of the plan file)."""

from dataclasses import dataclass
from typing import Any, assert_never

from skavit.core.ground.records import Form, Record, Schema, meaning, member, number, plain, whole
from skavit.core.ground.strict_json import Node, ObjectNode, join
from skavit.core.plan.entry import CHANNEL
from skavit.core.plan.times import LOCAL_DATETIME

MODES = ("on", "off", "auto", "auto-on", "auto-off")
MAX_TIMER_MIN = 366 * 1440
MAX_HOLIDAY_DAYS = 366
MAX_CUT_H = 366 * 24
LEAST_S = 1
SET_FORM = (
    f'{", ".join(MODES)}, {{"boost_min"}}, {{"countdown_min", "then"}}, {{"holiday_days"}}, {{"exit_s"}} or {{"first_in": true}}; '
    'without a channel {"power_cut_h"} or {"clock_set": true}'
)


MINUTES = number(LEAST_S / 60, MAX_TIMER_MIN)


@dataclass(frozen=True, slots=True, kw_only=True)
class Mode:
    """A mode key: on or off until further notice, back to automatic, or on or off until the next entry that ends it."""

    word: str

    def to_json(self) -> str:
        """The form of the plan file."""
        return self.word


@dataclass(frozen=True, slots=True, kw_only=True)
class Boost(Record):
    """On for so long, then as programmed."""

    minutes: float = member(MINUTES, name="boost_min")


@dataclass(frozen=True, slots=True, kw_only=True)
class Countdown(Record):
    """Keeps the output for so long, then on or off until the next entry."""

    minutes: float = member(MINUTES, name="countdown_min")
    then_on: bool = member(meaning({"on": True, "off": False}), name="then")


@dataclass(frozen=True, slots=True, kw_only=True)
class Away(Record):
    """Off until the same local time so many days on, then as programmed."""

    days: int = member(whole(1, MAX_HOLIDAY_DAYS), name="holiday_days")


@dataclass(frozen=True, slots=True, kw_only=True)
class ExitButton(Record):
    """The button beside the door: on for so many seconds, then as programmed."""

    seconds: int = member(whole(1, 3600), name="exit_s")


@dataclass(frozen=True, slots=True, kw_only=True)
class FirstIn(Record):
    """The first person has come in: a channel that waits for it now runs its program."""

    came: bool = member(plain(lambda node: node.flag() or node.refuse("true"), {"const": True}), name="first_in")


@dataclass(frozen=True, slots=True, kw_only=True)
class PowerCut(Record):
    """No mains for so long: all outputs off."""

    hours: float = member(number(LEAST_S / 3600, MAX_CUT_H), name="power_cut_h")


def _read_true(node: Node) -> bool:
    return node.flag() or node.refuse("true")


@dataclass(frozen=True, slots=True, kw_only=True)
class ClockSet(Record):
    """Somebody sets the clock that was flashing."""

    done: bool = member(plain(_read_true, {"const": True}), name="clock_set")


Setting = Mode | Boost | Countdown | Away | ExitButton | FirstIn | PowerCut | ClockSet
# Settings that stand as an object, by the key that tells them.
_BY_KEY: dict[str, type[Boost | Countdown | Away | ExitButton | FirstIn | PowerCut | ClockSet]] = {
    "boost_min": Boost,
    "countdown_min": Countdown,
    "holiday_days": Away,
    "exit_s": ExitButton,
    "first_in": FirstIn,
    "power_cut_h": PowerCut,
    "clock_set": ClockSet,
}


def is_whole_units(setting: Setting) -> bool:
    """Whether a setting is the whole unit's, and no channel's."""
    match setting:
        case PowerCut() | ClockSet():
            return True
        case Mode() | Boost() | Countdown() | Away() | ExitButton() | FirstIn():
            return False
        case _:
            assert_never(setting)


def _read_setting(node: Node) -> Setting:
    match node.value:
        case dict():
            named = next((of for name, of in _BY_KEY.items() if name in node.value), None)
            return named.read(node) if named else node.refuse(SET_FORM)
        case str() if node.value in MODES:
            return Mode(word=node.value)
        case _:
            return node.refuse(SET_FORM)


def _settings_schema() -> Schema:
    return {"anyOf": [{"enum": list(MODES)}, *(of.schema() for of in _BY_KEY.values())]}


SETTING = Form(read=_read_setting, write=lambda setting: setting.to_json(), schema=_settings_schema)


@dataclass(frozen=True, slots=True, kw_only=True)
class Override(Record):
    """A setting of one channel, or of the whole unit, at a local moment."""

    at: int = member(LOCAL_DATETIME)  # digits of the site's clock, in seconds since 1970-01-01
    channel: int | None = member(CHANNEL, default=None)  # from 1; None: the unit
    setting: Setting = member(SETTING, name="set")

    @classmethod
    def judged(cls, keys: ObjectNode, given: dict[str, Any]) -> dict[str, Any]:
        """A channel for what is a channel's, and none for what is the whole unit's."""
        if is_whole_units(given["setting"]):
            if "channel" in keys:
                keys["channel"].refuse("no channel: power and clock are the whole unit's")
        elif "channel" not in keys:
            keys.must("channel")
        return given


def judge_override(path: str, override: Override, channel_count: int) -> None:
    """Refuse a channel that a unit of so many has not; raises :class:`PlanError`."""
    if override.channel is not None:
        Node(override.channel, join(path, "channel")).integer(1, channel_count)
