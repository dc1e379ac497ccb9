"""The plan: what is wanted (windows), what is keyed in (entries), and the unit and site it is for.

Format and meaning: docs/plan-file.md. Every class reads itself strictly and writes itself back.
"""

import hashlib
import json
from collections.abc import Collection
from dataclasses import dataclass, field, fields, replace
from typing import Any

from skavit.core.ground.errors import PlanError, quoted
from skavit.core.ground.strict_json import Node, parse_json, read_id
from skavit.core.ground.zones import timezones
from skavit.core.plan.clock_settings import ClockSettings, read_clock
from skavit.core.plan.entry import MAX_PULSE_S, Entry, read_entry
from skavit.core.plan.holidays import Holiday, read_holiday
from skavit.core.plan.keyings import Keying, read_keyings
from skavit.core.plan.limits import NO_LIMITS, Limits, read_limits
from skavit.core.plan.overrides import Override, read_override
from skavit.core.plan.sun_settings import NO_ADJUST, Adjust, SunSettings, read_adjust, read_sun
from skavit.core.plan.times import optional, sun_time_of
from skavit.core.plan.window import Window, read_window

FORMAT = "skavit-plan/1"
NOT_YET = "is not built yet in this release"
CHANNEL_MODES = ("independent", "together", "pulse")
# Of units whose operating modes exclude one another: which entries act.
OPERATING = ("program", "manual", "light", "light-on-timed-off", "timed")
DEFAULT_PULSE_S = 3
MAX_RESERVE_H = 1_000_000


@dataclass(frozen=True, slots=True, kw_only=True)
class Site:
    """A place: degrees, north and east positive, and a zone of the pinned zone data."""

    name: str
    latitude: float
    longitude: float
    timezone: str

    def to_json(self) -> dict[str, Any]:
        """The form of the plan file."""
        return {
            "name": self.name,
            "latitude": self.latitude,
            "longitude": self.longitude,
            "timezone": self.timezone,
        }


@dataclass(frozen=True, slots=True, kw_only=True)
class Unit:
    """The device: its clock, where it takes sun times from, and what is keyed in."""

    clock: ClockSettings = field(default_factory=ClockSettings)
    sun: SunSettings = field(default_factory=SunSettings)
    on_return_to_auto: str = "computes"
    channel_mode: str = "independent"
    operating: str = "program"
    pulse_s: int = DEFAULT_PULSE_S
    reserve_h: float | None = None
    holidays: tuple[Holiday, ...] = ()
    limits: Limits = NO_LIMITS
    entries: tuple[Entry, ...] = ()
    keyings: tuple[Keying, ...] = ()

    @property
    def all_entries(self) -> tuple[Entry, ...]:
        """Those of all keyings, one set after another; events name their slot among these."""
        return tuple(entry for entries in self.sets for entry in entries)

    @property
    def sets(self) -> tuple[tuple[Entry, ...], ...]:
        """The sets of entries: that of the unit, then that of each keying."""
        return (self.entries, *(keying.entries for keying in self.keyings))

    def slot_of(self, index: int) -> tuple[int, int]:
        """(which set, slot in it from 0) of an entry among all entries."""
        for number, entries in enumerate(self.sets):
            if index < len(entries):
                return number, index
            index -= len(entries)
        raise IndexError(index)

    def to_json(self) -> dict[str, Any]:
        """The form of the plan file."""
        return optional(
            {
                "clock": self.clock.to_json(),
                "sun": self.sun.to_json(),
                "on_return_to_auto": self.on_return_to_auto,
                "channel_mode": self.channel_mode if self.channel_mode != "independent" else None,
                "operating": self.operating if self.operating != "program" else None,
                "pulse_s": self.pulse_s if self.pulse_s != DEFAULT_PULSE_S else None,
                "reserve_h": self.reserve_h,
                "holidays": [holiday.to_json() for holiday in self.holidays] or None,
                "limits": self.limits.to_json() if self.limits != NO_LIMITS else None,
                "entries": [entry.to_json() for entry in self.entries],
                "keyings": [keying.to_json() for keying in self.keyings] or None,
            }
        )


@dataclass(frozen=True, slots=True, kw_only=True)
class Channel:
    """An output and the windows in which it is wanted on."""

    name: str
    windows: tuple[Window, ...] = ()
    adjust: Adjust | None = None  # replaces the unit's correction
    id: str | None = None

    def to_json(self) -> dict[str, Any]:
        """The form of the plan file."""
        return optional(
            {
                "id": self.id,
                "name": self.name,
                "adjust": self.adjust.to_json() if self.adjust else None,
                "windows": [w.to_json() for w in self.windows],
            }
        )


@dataclass(frozen=True, slots=True, kw_only=True)
class Plan:
    """The whole document."""

    site: Site
    unit: Unit = field(default_factory=Unit)
    channels: tuple[Channel, ...]
    overrides: tuple[Override, ...] = ()

    def to_json(self) -> dict[str, Any]:
        """The form of the plan file."""
        return optional(
            {
                "format": FORMAT,
                "site": self.site.to_json(),
                "unit": self.unit.to_json(),
                "channels": [channel.to_json() for channel in self.channels],
                "overrides": [override.to_json() for override in self.overrides] or None,
            }
        )

    def content_hash(self) -> str:
        """A hash of all that the plan says, 64 hexadecimal digits."""
        text = json.dumps(self.to_json(), sort_keys=True, separators=(",", ":"), ensure_ascii=True)
        return hashlib.sha256(text.encode()).hexdigest()

    def with_entries(self, entries: tuple[Entry, ...]) -> "Plan":
        """The same plan with other entries keyed in."""
        return replace(self, unit=replace(self.unit, entries=entries))

    def with_set(self, keying: int, entries: tuple[Entry, ...]) -> "Plan":
        """The same plan with other entries in one of its keyings; 0: as :meth:`with_entries`."""
        if not keying:
            return self.with_entries(entries)
        old = self.unit.keyings
        changed = replace(old[keying - 1], entries=entries)
        return replace(self, unit=replace(self.unit, keyings=(*old[: keying - 1], changed, *old[keying:])))

    def with_only_set(self, keying: int) -> "Plan":
        """The plan as if one of its sets stood in the unit all the time."""
        return replace(self, unit=replace(self.unit, entries=self.unit.sets[keying], keyings=()))

    def of_channels(self, numbers: Collection[int]) -> "Plan":
        """The plan of some of its channels (from 1) alone, in their order: they do just what they do in the whole."""
        place = {number: index for index, number in enumerate(sorted(numbers), start=1)}
        together = self.unit.channel_mode == "together"

        def mine(entries: tuple[Entry, ...]) -> tuple[Entry, ...]:
            if together:
                return tuple(replace(entry, channels=(1,)) for entry in entries)
            acting = ((entry, tuple(place[c] for c in entry.channels if c in place)) for entry in entries)
            return tuple(replace(entry, channels=channels) for entry, channels in acting if channels)

        unit = replace(
            self.unit,
            entries=mine(self.unit.entries),
            keyings=tuple(replace(keying, entries=mine(keying.entries)) for keying in self.unit.keyings),
        )
        overrides = tuple(
            override if override.channel is None else replace(override, channel=place[override.channel])
            for override in self.overrides
            if override.channel is None or override.channel in place
        )
        channels = tuple(self.channels[number - 1] for number in place)
        return replace(self, unit=unit, channels=channels, overrides=overrides)

    def adjust_of(self, channel: int) -> Adjust:
        """The correction of a channel (from 1): its own, or else the unit's."""
        return self.channels[channel - 1].adjust or self.unit.sun.adjust or NO_ADJUST

    def uses_sun(self, channel: int) -> bool:
        """Whether a channel (from 1) has a sun time in a window or an entry."""
        times = [t for w in self.channels[channel - 1].windows for t in (w.start, w.to) if t]
        times += [entry.at for entry in self.unit.all_entries if channel in entry.channels]
        return any(sun_time_of(time) for time in times)


def read_site(node: Node) -> Site:
    """``site``; raises :class:`PlanError`."""
    names = ["name", "latitude", "longitude", "timezone"]
    keys = node.object(names, required=names)
    zone = keys["timezone"].text("a zone name such as Pacific/Auckland")
    if zone not in timezones():
        keys["timezone"].refuse("a zone name of the IANA time zone data, such as Pacific/Auckland")
    return Site(
        name=keys["name"].text("a name"),
        latitude=keys["latitude"].number(-90, 90),
        longitude=keys["longitude"].number(-180, 180),
        timezone=zone,
    )


def _read_unit(node: Node, channel_count: int) -> Unit:
    keys = node.object([f.name for f in fields(Unit)])
    sun, clock, limits, back = (keys.get(key) for key in ("sun", "clock", "limits", "on_return_to_auto"))
    holidays, entries, keyings = (keys.get(key) for key in ("holidays", "entries", "keyings"))
    mode, pulse, reserve, operating = (keys.get(key) for key in ("channel_mode", "pulse_s", "reserve_h", "operating"))
    sun_settings = read_sun(sun) if sun else SunSettings()
    unit = Unit(
        clock=read_clock(clock) if clock else ClockSettings(),
        sun=sun_settings,
        on_return_to_auto=back.choice(["computes", "waits"]) if back else "computes",
        channel_mode=mode.choice(CHANNEL_MODES) if mode else "independent",
        operating=operating.choice(OPERATING) if operating else "program",
        pulse_s=pulse.integer(1, MAX_PULSE_S) if pulse else DEFAULT_PULSE_S,
        reserve_h=reserve.number(0, MAX_RESERVE_H) if reserve else None,
        holidays=tuple(read_holiday(item) for item in holidays.items("holidays")) if holidays else (),
        limits=read_limits(limits) if limits else NO_LIMITS,
        entries=tuple(read_entry(item, channel_count, sun_settings) for item in entries.items("entries"))
        if entries
        else (),
        keyings=read_keyings(keyings, channel_count, sun_settings) if keyings else (),
    )
    if unit.channel_mode == "pulse":
        for path, entry in _placed_entries(unit):
            if entry.repeat:
                raise PlanError(f"{path}.repeat", "a repeat here", 'none with unit.channel_mode "pulse"')
    return unit


def _placed_entries(unit: Unit) -> list[tuple[str, Entry]]:
    """Each entry of each keying with the path at which it stands."""
    bases = ["unit.entries", *(f"unit.keyings[{k}].entries" for k in range(len(unit.keyings)))]
    return [(f"{base}[{i}]", entry) for base, own in zip(bases, unit.sets, strict=True) for i, entry in enumerate(own)]


def _read_channel(node: Node) -> Channel:
    keys = node.object(["name", "windows", "adjust", "id"], required=["name"])
    windows, adjust = keys.get("windows"), keys.get("adjust")
    return Channel(
        name=keys["name"].text("a name"),
        windows=tuple(read_window(item) for item in windows.items("windows")) if windows else (),
        adjust=read_adjust(adjust) if adjust else None,
        id=read_id(keys),
    )


def read_plan(node: Node) -> Plan:
    """A whole plan; raises :class:`PlanError` at the first thing that is wrong."""
    keys = node.object(
        ["format", "site", "unit", "channels", "overrides"],
        required=["format", "site"],
        later={"water": NOT_YET},
    )
    keys["format"].choice([FORMAT])
    if "channels" not in keys:
        raise PlanError("channels", "is missing", "at least one channel")
    site = read_site(keys["site"])
    channels = tuple(_read_channel(item) for item in keys["channels"].items("channels", least=1))
    unit, overrides = keys.get("unit"), keys.get("overrides")
    plan = Plan(
        site=site,
        unit=_read_unit(unit, len(channels)) if unit else Unit(),
        channels=channels,
        overrides=tuple(read_override(item, len(channels)) for item in overrides.items("overrides"))
        if overrides
        else (),
    )
    _refuse_doubled_ids(plan)
    for number, channel in enumerate(plan.channels):
        if channel.adjust and plan.unit.sun.source in ("photocell", "none"):
            place = f"channels[{number}].adjust"
            raise PlanError(place, "a correction here", f"none with unit.sun.source {plan.unit.sun.source}")
    return plan


def _refuse_doubled_ids(plan: Plan) -> None:
    places = [(path, entry.id) for path, entry in _placed_entries(plan.unit)]
    for c, channel in enumerate(plan.channels):
        places.append((f"channels[{c}]", channel.id))
        places += [(f"channels[{c}].windows[{i}]", window.id) for i, window in enumerate(channel.windows)]
    seen: dict[str, str] = {}
    for path, name in places:
        if name is not None and seen.setdefault(name, path) != path:
            raise PlanError(f"{path}.id", f"{quoted(name)} stands at {seen[name]} too", "ids unique in the file")


def parse_plan(data: bytes) -> Plan:
    """A plan from the bytes of a plan file; raises :class:`PlanError`."""
    return read_plan(Node(parse_json(data)))
