"""What somebody or something does to the unit beside its program (`overrides` of the plan file)."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from skavit.core.ground.strict_json import Node
from skavit.core.plan.times import moment_text, read_moment

MODES = ("on", "off", "auto", "auto-on", "auto-off")
MAX_TIMER_MIN = 366 * 1440
MAX_HOLIDAY_DAYS = 366
MAX_CUT_H = 366 * 24
LEAST_S = 1
SET_FORM = (
    f'{", ".join(MODES)}, {{"boost_min"}}, {{"countdown_min", "then"}} or {{"holiday_days"}}; '
    'without a channel {"power_cut_h"} or {"clock_set": true}'
)


@dataclass(frozen=True, slots=True, kw_only=True)
class Mode:
    """A mode key: on or off until further notice, back to automatic, or on or off until the next entry that ends it."""

    word: str

    def to_json(self) -> str:
        """The form of the plan file."""
        return self.word


@dataclass(frozen=True, slots=True, kw_only=True)
class Boost:
    """On for so long, then as programmed."""

    minutes: float

    def to_json(self) -> dict[str, Any]:
        """The form of the plan file."""
        return {"boost_min": self.minutes}


@dataclass(frozen=True, slots=True, kw_only=True)
class Countdown:
    """Keeps the output for so long, then on or off until the next entry."""

    minutes: float
    then_on: bool

    def to_json(self) -> dict[str, Any]:
        """The form of the plan file."""
        return {"countdown_min": self.minutes, "then": "on" if self.then_on else "off"}


@dataclass(frozen=True, slots=True, kw_only=True)
class Away:
    """Off until the same local time so many days on, then as programmed."""

    days: int

    def to_json(self) -> dict[str, Any]:
        """The form of the plan file."""
        return {"holiday_days": self.days}


@dataclass(frozen=True, slots=True, kw_only=True)
class PowerCut:
    """No mains for so long: all outputs off."""

    hours: float

    def to_json(self) -> dict[str, Any]:
        """The form of the plan file."""
        return {"power_cut_h": self.hours}


@dataclass(frozen=True, slots=True, kw_only=True)
class ClockSet:
    """Somebody sets the clock that stood flashing."""

    def to_json(self) -> dict[str, bool]:
        """The form of the plan file."""
        return {"clock_set": True}


Setting = Mode | Boost | Countdown | Away | PowerCut | ClockSet


@dataclass(frozen=True, slots=True, kw_only=True)
class Override:
    """A setting of one channel, or of the whole unit, at a local moment."""

    at: int  # digits of the site's clock, in seconds since 1970-01-01
    channel: int | None  # from 1; None: the unit
    setting: Setting

    def to_json(self) -> dict[str, Any]:
        """The form of the plan file."""
        found: dict[str, Any] = {"at": moment_text(self.at)}
        if self.channel is not None:
            found["channel"] = self.channel
        return found | {"set": self.setting.to_json()}


def read_override(node: Node, channel_count: int) -> Override:
    """An override of a unit with so many channels; raises :class:`PlanError`."""
    keys = node.object(["at", "channel", "set"], required=["at", "set"])
    setting = _read_setting(keys["set"])
    channel = keys.get("channel")
    whole_unit = isinstance(setting, PowerCut | ClockSet)
    if whole_unit and channel:
        channel.refuse("no channel: power and clock are the whole unit's")
    if not whole_unit and not channel:
        keys.must("channel")
    return Override(
        at=read_moment(keys["at"]),
        channel=channel.integer(1, channel_count) if channel else None,
        setting=setting,
    )


def _read_setting(node: Node) -> Setting:
    if isinstance(node.value, dict):
        for key, reader in _READERS.items():
            if key in node.value:
                return reader(node)
    if not isinstance(node.value, str) or node.value not in MODES:
        node.refuse(SET_FORM)
    return Mode(word=node.value)


def _minutes(node: Node) -> float:
    return node.number(LEAST_S / 60, MAX_TIMER_MIN)


def _read_boost(node: Node) -> Boost:
    return Boost(minutes=_minutes(node.object(["boost_min"])["boost_min"]))


def _read_countdown(node: Node) -> Countdown:
    keys = node.object(["countdown_min", "then"], required=["countdown_min", "then"])
    return Countdown(minutes=_minutes(keys["countdown_min"]), then_on=keys["then"].choice(["on", "off"]) == "on")


def _read_away(node: Node) -> Away:
    return Away(days=node.object(["holiday_days"])["holiday_days"].integer(1, MAX_HOLIDAY_DAYS))


def _read_power_cut(node: Node) -> PowerCut:
    return PowerCut(hours=node.object(["power_cut_h"])["power_cut_h"].number(LEAST_S / 3600, MAX_CUT_H))


def _read_clock_set(node: Node) -> ClockSet:
    found = node.object(["clock_set"])["clock_set"]
    if not found.flag():
        found.refuse("true")
    return ClockSet()


_READERS: dict[str, Callable[[Node], Setting]] = {
    "boost_min": _read_boost,
    "countdown_min": _read_countdown,
    "holiday_days": _read_away,
    "power_cut_h": _read_power_cut,
    "clock_set": _read_clock_set,
}
