"""What is keyed in: one ON, OFF or pulse, which takes a slot (docs/plan-file.md, "Entries")."""

from dataclasses import dataclass
from typing import Any

from skavit.core.ground.records import Record, flag, listed, meaning, member, plain, record, whole, written
from skavit.core.ground.strict_json import MAX_ITEMS, Node, ObjectNode, join
from skavit.core.plan.days import DAILY, DAYS_REF, Days
from skavit.core.plan.identity import IDENTITY
from skavit.core.plan.sun_settings import SunSettings
from skavit.core.plan.times import CLOCK, TIME, ClockTime, LimitedTime, Time, sun_time_of

MAX_PULSE_S = 5999
MAX_PAUSE_S = 86_400
CHANNEL = plain(lambda node: node.integer(1, MAX_ITEMS), {"type": "integer", "minimum": 1})
# A pulse switches on, and by itself off: it has its seconds beside the word.
SWITCHES_ON = {"on": True, "off": False, "pulse": True}


@dataclass(frozen=True, slots=True, kw_only=True)
class Pulses(Record):
    """On for ``on_s``, off for ``off_s``, over and over until a clock time of the same date."""

    on_s: int = member(whole(1, MAX_PAUSE_S))
    off_s: int = member(whole(1, MAX_PAUSE_S))
    until: ClockTime = member(CLOCK)

    @property
    def cycle_s(self) -> int:
        """Seconds from the start of one pulse to that of the next."""
        return self.on_s + self.off_s


@dataclass(frozen=True, slots=True, kw_only=True)
class Entry(Record):
    """One ON, OFF or pulse keyed into the unit; a pulse switches on and, ``pulse_s`` later, off by itself."""

    id: str | None = member(IDENTITY, default=None)
    channels: tuple[int, ...] = member(listed(CHANNEL, "channel numbers", least=1, once=True))  # counted from 1
    on: bool = member(meaning(SWITCHES_ON), name="action")
    pulse_s: int | None = member(whole(1, MAX_PULSE_S), name="seconds", default=None)
    at: Time = member(TIME)
    days: Days = member(DAYS_REF, default=DAILY, always=True)
    repeat: Pulses | None = member(record(Pulses), default=None)
    disabled: bool = member(flag(), default=False)  # it keeps its slot and does nothing
    bypass: bool = member(flag(), default=False)  # it lets the door go past its reader, and moves no relay

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

    @classmethod
    def judged(cls, keys: ObjectNode, given: dict[str, Any]) -> dict[str, Any]:
        """Each channel once, seconds with a pulse, a repeat with an ON."""
        action, channels = keys["action"].value, given["channels"]
        for place, item in enumerate(keys["channels"].items("channel numbers")):
            if channels[place] in channels[:place]:
                item.refuse("each channel once", f"channel {channels[place]} stands twice")
        if action == "pulse" and "seconds" not in keys:
            keys.must("seconds")
        if action != "pulse" and "seconds" in keys:
            keys["seconds"].refuse('seconds with the action "pulse" only', f'seconds with the action "{action}"')
        if "repeat" in keys:
            _judge_repeat(keys, action, given["at"], given["repeat"])
        return given

    def to_json(self) -> dict[str, Any]:
        """The form of the plan file."""
        return written(self) | {"action": self.action}


ENTRY_REF = record(Entry).named("entry")


def _judge_repeat(keys: ObjectNode, action: str, at: Time, repeat: Pulses) -> None:
    if action != "on":
        keys["repeat"].refuse('repeat with the action "on"', f'repeat with the action "{action}"')
    inner = at.at if isinstance(at, LimitedTime) else at
    if isinstance(inner, ClockTime) and repeat.until <= inner:
        until = keys["repeat"].object(["on_s", "off_s", "until"])["until"]
        until.refuse(f"a clock time after {inner}, on the same date")


def judge_entry(path: str, entry: Entry, channel_count: int, sun: SunSettings) -> None:
    """Refuse what an entry at a path may not say in a unit of so many channels; raises :class:`PlanError`."""
    for place, channel in enumerate(entry.channels):
        Node(channel, f"{join(path, 'channels')}[{place}]").integer(1, channel_count)
    judge_time(join(path, "at"), entry.at, sun)


def judge_time(path: str, time: Time, sun: SunSettings) -> None:
    """Refuse a time that a unit with these sun settings cannot hold; raises :class:`PlanError`."""
    at = Node(str(time), path)
    sun_time = sun_time_of(time)
    if sun_time and sun.source == "none":
        at.refuse("a clock time: this unit holds no sun times (unit.sun.source is none)")
    if sun.is_photocell and sun_time and (time != sun_time or sun_time.offset_min):
        at.refuse("a sun time without offset and limits: light switches it (unit.sun.source is photocell)")


def read_entry(node: Node, channel_count: int, sun: SunSettings) -> Entry:
    """An entry of a unit with so many channels; raises :class:`PlanError`."""
    entry = Entry.read(node)
    judge_entry(node.path, entry, channel_count, sun)
    return entry
