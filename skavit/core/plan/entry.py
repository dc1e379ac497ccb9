"""What is keyed in: one ON, OFF or pulse, which takes a slot (docs/plan-file.md, "Entries")."""

from dataclasses import dataclass
from typing import Any

from skavit.core.ground.strict_json import Node, ObjectNode, read_id
from skavit.core.plan.days import DAILY, Days, read_days_of
from skavit.core.plan.sun_settings import SunSettings
from skavit.core.plan.times import ClockTime, SunTime, Time, optional, read_clock_time, read_time, sun_time_of

MAX_PULSE_S = 5999
MAX_PAUSE_S = 86_400


@dataclass(frozen=True, slots=True, kw_only=True)
class Pulses:
    """On for ``on_s``, off for ``off_s``, over and over until a clock time of the same date."""

    on_s: int
    off_s: int
    until: ClockTime

    @property
    def cycle_s(self) -> int:
        """Seconds from the start of one pulse to that of the next."""
        return self.on_s + self.off_s

    def to_json(self) -> dict[str, Any]:
        """The form of the plan file."""
        return {"on_s": self.on_s, "off_s": self.off_s, "until": self.until.to_json()}


@dataclass(frozen=True, slots=True, kw_only=True)
class Entry:
    """One ON, OFF or pulse keyed into the unit; a pulse switches on and, ``pulse_s`` later, off by itself."""

    channels: tuple[int, ...]  # counted from 1
    on: bool
    at: Time
    days: Days = DAILY
    pulse_s: int | None = None
    repeat: Pulses | None = None
    id: str | None = None

    @property
    def action(self) -> str:
        """The word of the plan file."""
        if self.pulse_s is not None:
            return "pulse"
        return "on" if self.on else "off"

    @property
    def ends_itself(self) -> bool:
        """Whether it needs no OFF."""
        return self.pulse_s is not None or self.repeat is not None

    def to_json(self) -> dict[str, Any]:
        """The form of the plan file."""
        return optional(
            {
                "id": self.id,
                "channels": list(self.channels),
                "action": self.action,
                "seconds": self.pulse_s,
                "at": self.at.to_json(),
                "days": self.days.to_json(),
                "repeat": self.repeat.to_json() if self.repeat else None,
            }
        )


def read_entry(node: Node, channel_count: int, sun: SunSettings) -> Entry:
    """An entry of a unit with so many channels; raises :class:`PlanError`."""
    keys = node.object(
        ["channels", "action", "seconds", "at", "days", "repeat", "id"],
        required=["channels", "action", "at"],
    )
    channels: list[int] = []
    for item in keys["channels"].items("channel numbers", least=1):
        channels.append(item.integer(1, channel_count))
        if channels.count(channels[-1]) > 1:
            item.refuse("each channel once", f"channel {channels[-1]} stands twice")
    action = keys["action"].choice(["on", "off", "pulse"])
    at = _read_at(keys["at"], sun)
    repeat = keys.get("repeat")
    if repeat and action != "on":
        repeat.refuse('repeat with the action "on"', f'repeat with the action "{action}"')
    return Entry(
        channels=tuple(channels),
        on=action != "off",
        at=at,
        days=read_days_of(keys),
        pulse_s=_read_seconds(keys, action),
        repeat=_read_pulses(repeat, at) if repeat else None,
        id=read_id(keys),
    )


def _read_at(node: Node, sun: SunSettings) -> Time:
    at = read_time(node)
    if sun_time_of(at) and sun.source == "none":
        node.refuse("a clock time: this unit holds no sun times (unit.sun.source is none)")
    plain = sun_time_of(at)
    if sun.is_photocell and plain and (at != plain or plain.offset_min):
        node.refuse("a sun time without offset and limits: light switches it (unit.sun.source is photocell)")
    return at


def _read_seconds(keys: ObjectNode, action: str) -> int | None:
    seconds = keys.get("seconds")
    if action == "pulse":
        if not seconds:
            keys.must("seconds")
        return seconds.integer(1, MAX_PULSE_S)
    if seconds:
        seconds.refuse('seconds with the action "pulse" only', f'seconds with the action "{action}"')
    return None


def _read_pulses(node: Node, at: Time) -> Pulses:
    keys = node.object(["on_s", "off_s", "until"], required=["on_s", "off_s", "until"])
    until = read_clock_time(keys["until"])
    inner = at.at if not isinstance(at, ClockTime | SunTime) else at
    if isinstance(inner, ClockTime) and until <= inner:
        keys["until"].refuse(f"a clock time after {inner}, on the same date")
    return Pulses(
        on_s=keys["on_s"].integer(1, MAX_PAUSE_S),
        off_s=keys["off_s"].integer(1, MAX_PAUSE_S),
        until=until,
    )
