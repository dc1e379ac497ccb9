"""The parts of a kind: keys and dialogues, clock, sun, memory, power, modes, what is done by hand."""

from dataclasses import dataclass, field
from typing import Any, Literal, get_args

from skavit.core.ground.records import Record

RULES = ("zone", "none", "us", "us-1987", "eu", "own", "by-hand")


PLACES = ("coordinates", "region", "table", "none")


OFFSETS = ("none", "entry", "minutes", "clock-time")


Shape = Literal["single", "pair", "run"]


SHAPES: tuple[Shape, ...] = get_args(Shape)


EVENTS = ("clock", "dawn", "sunrise", "sunset", "dusk")


ENTRY_FIELDS = ("action", "event", "hour", "minute", "second", "offset")


FIELDS = (
    *("year", "month", "day", "hour", "minute", "second", "weekday", "rule", "operating"),
    *("from_month", "from_week", "to_month", "to_week"),
    *("latitude", "longitude", "utc", "region", "table"),
    *("channel", "rise_min", "set_min", "rise_hour", "rise_minute", "set_hour", "set_minute"),
    *("action", "event", "offset", "days", "run", "from_day", "to_day", "pulse"),
    *("spray_min", "spray_s", "pause_min", "pause_s", "channel_mode"),
    *(f"{half}_{name}" for half in ("on", "off") for name in ENTRY_FIELDS if name != "action"),
    *("mon", "tue", "wed", "thu", "fri", "sat", "sun"),
    *("program", "start", "station", "minutes", "day_rule", "every", "pct", "holiday"),
    *("zone", "period", "degrees"),
)


def one_of(*choices: str, default: Any = None) -> Any:
    """A field of a part that is one of some words, the first unless said otherwise."""
    return field(default=default or choices[0], metadata={"choices": choices})


@dataclass(frozen=True, slots=True, kw_only=True)
class Press(Record):
    """Keys pressed: together where there are several, held where ``hold_s``, until a field reads where ``until``."""

    keys: tuple[str, ...]
    times: int = field(default=1, metadata={"low": 1, "high": 60})
    hold_s: int = field(default=0, metadata={"low": 0, "high": 60})
    field: str = ""
    until: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class FieldKey(Record):
    """A value that the display shows, and the key that turns it to the next."""

    field: str
    key: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Dialogue(Record):
    """How one thing is keyed in: into it, its values, the key that accepts, the key that leaves."""

    enter: tuple[Press, ...]
    fields: tuple[FieldKey, ...]
    accept: str
    each: bool = False  # accepts each value by itself, all turned by one key; else all at once
    leave: str = ""  # left out: accepting the last leaves
    sign: str = ""  # by which it is seen that it was saved


@dataclass(frozen=True, slots=True, kw_only=True)
class Setting(Record):
    """Something set before the unit is mounted, or looked at."""

    what: str
    caution: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class ClockSetting(Record):
    """What the clock has and knows."""

    hours: int = field(default=24, metadata={"low": 12, "high": 24})
    hours_switch: str = ""  # how it goes from 12 to 24 hours
    has_date: bool = True  # else a weekday only
    rules: tuple[str, ...] = field(default=("none",), metadata={"choices": RULES})


@dataclass(frozen=True, slots=True, kw_only=True)
class Region(Record):
    """One of the places that a unit lists."""

    name: str
    latitude: float = field(metadata={"low": -90, "high": 90})
    longitude: float = field(metadata={"low": -180, "high": 180})


@dataclass(frozen=True, slots=True, kw_only=True)
class SunKnowledge(Record):
    """How a unit takes a place and an offset, and what its sun words mean."""

    meaning: str = one_of("sunrise", "dawn", "margin", "light")  # light: a photocell
    margin_min: int = 0
    morning_word: str = "sunrise"
    evening_word: str = "sunset"
    place: str = one_of(*PLACES, default="none")
    step_deg: float = field(default=1.0, metadata={"low": 0.01, "high": 10})
    regions: tuple[Region, ...] = ()
    latitudes: tuple[float, ...] = field(default=(), metadata={"low": -90, "high": 90})
    offset: str = one_of(*OFFSETS)
    per_channel: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Preset(Record):
    """What a slot holds by itself: after a reset, or when a new entry is begun. Texts as the display has them."""

    field: str
    reads: str


@dataclass(frozen=True, slots=True, kw_only=True)
class SlotShape(Record):
    """A slot of the memory."""

    shape: Shape = one_of(*SHAPES)  # an entry; an ON and an OFF; an ON and how long
    next: str = ""  # the key that goes to the next slot
    empty: str = "--:--"
    cleared_by: str = one_of("key", "no-days", "past-last-hour", "equal-times")
    clear: tuple[Press, ...] = ()  # where a key clears
    begins: tuple[Preset, ...] = ()  # what a new entry holds before it is set
    on_word: str = "ON"
    off_word: str = "OFF"


@dataclass(frozen=True, slots=True, kw_only=True)
class Reset(Record):
    """How everything is wiped, and what is there afterwards."""

    press: tuple[Press, ...]
    shows: str
    held_slots: int = 0  # slots that hold something already after it
    holds: tuple[Preset, ...] = ()  # what those hold


@dataclass(frozen=True, slots=True, kw_only=True)
class Power(Record):
    """What keeps the clock while the mains are off."""

    reserve_h: float | None = field(default=None, metadata={"low": 0, "high": 200_000})
    battery: str = ""
    battery_months: int = field(
        default=48, metadata={"low": 1, "high": 480}
    )  # until it is to be changed; four years for a cell beside the mains: common practice, no source
    charge_h: float = 0
    settle_min: int = 0  # before an indicator is to be believed


@dataclass(frozen=True, slots=True, kw_only=True)
class Mode(Record):
    """One station of the mode key's cycle."""

    word: str
    means: str = one_of("auto", "on", "off", "random")


@dataclass(frozen=True, slots=True, kw_only=True)
class Modes(Record):
    """The mode key and its cycle, and what the unit does on its return to automatic."""

    key: str
    cycle: tuple[Mode, ...]
    returns: str = one_of("computes", "waits")

    def word(self, means: str) -> str:
        """The word of the first station that means so; empty where none does."""
        return next((mode.word for mode in self.cycle if mode.means == means), "")


# What somebody does at the keys beside programming.
HAND_ACTS = ("boost", "advance", "hold", "warmer", "holiday", "frost", "off", "auto", "exit", "summer", "party")


@dataclass(frozen=True, slots=True, kw_only=True)
class HandKey(Record):
    """What a user does at the keys, and what then happens."""

    does: str = one_of(*HAND_ACTS)
    press: tuple[Press, ...]
    says: str
