"""The plan: what is wanted (windows), what is keyed in (entries), and the unit and site it is for.

Format and meaning: docs/plan-file.md. Every class reads itself strictly and writes itself back.
"""

import hashlib
import json
from dataclasses import dataclass, field, replace
from typing import Any

from skavit.core.clock import timezones
from skavit.core.clock_settings import ClockSettings, read_clock
from skavit.core.days import DAILY, Days, month_day_text, read_dated, read_days
from skavit.core.errors import PlanError, quoted
from skavit.core.limits import NO_LIMITS, Limits, read_limits
from skavit.core.reading import Node, ObjectNode, parse_json
from skavit.core.sun import DAY_S
from skavit.core.sun_settings import NO_ADJUST, Adjust, SunSettings, read_adjust, read_sun
from skavit.core.values import ClockTime, SunTime, Time, day_of, optional, read_time, sun_time_of

FORMAT = "skavit-plan/1"
NOT_YET = "is not built yet in this release"
MAX_FOR_MIN = 366 * 1440
MAX_HOLIDAY_DAYS = 366


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
class Window:
    """A stretch wanted on; it belongs to the day it starts on."""

    start: Time
    to: Time | None = None  # None: `for_min` ends it
    for_min: int | None = None
    days: Days = DAILY
    ends_next_day: bool = False
    id: str | None = None

    def to_json(self) -> dict[str, Any]:
        """The form of the plan file, with `ends` always given."""
        ends = None
        if self.to is not None and self.to != ClockTime(DAY_S):
            ends = "next-day" if self.ends_next_day else "same-day"
        return optional(
            {
                "id": self.id,
                "from": self.start.to_json(),
                "to": self.to.to_json() if self.to is not None else None,
                "for_min": self.for_min,
                "days": self.days.to_json(),
                "ends": ends,
            }
        )


@dataclass(frozen=True, slots=True, kw_only=True)
class Entry:
    """One ON or OFF keyed into the unit."""

    channels: tuple[int, ...]  # counted from 1
    on: bool
    at: Time
    days: Days = DAILY
    id: str | None = None

    @property
    def action(self) -> str:
        """The word of the plan file."""
        return "on" if self.on else "off"

    def to_json(self) -> dict[str, Any]:
        """The form of the plan file."""
        return optional(
            {
                "id": self.id,
                "channels": list(self.channels),
                "action": self.action,
                "at": self.at.to_json(),
                "days": self.days.to_json(),
            }
        )


@dataclass(frozen=True, slots=True, kw_only=True)
class Holiday:
    """Dates on which no entry acts: from a date (once) or a month and day (each year), so many days."""

    once: int | None = None  # days since 1970-01-01
    yearly: int | None = None  # month times 100 plus day
    days: int

    def to_json(self) -> dict[str, Any]:
        """The form of the plan file."""
        start = day_of(self.once).isoformat() if self.once is not None else month_day_text(self.yearly or 0)
        return {"from": start, "days": self.days}


@dataclass(frozen=True, slots=True, kw_only=True)
class Unit:
    """The device: its clock, where it takes sun times from, and what is keyed in."""

    clock: ClockSettings = field(default_factory=ClockSettings)
    sun: SunSettings = field(default_factory=SunSettings)
    on_return_to_auto: str = "computes"
    holidays: tuple[Holiday, ...] = ()
    limits: Limits = NO_LIMITS
    entries: tuple[Entry, ...] = ()

    def to_json(self) -> dict[str, Any]:
        """The form of the plan file."""
        return optional(
            {
                "clock": self.clock.to_json(),
                "sun": self.sun.to_json(),
                "on_return_to_auto": self.on_return_to_auto,
                "holidays": [holiday.to_json() for holiday in self.holidays] or None,
                "limits": self.limits.to_json() if self.limits != NO_LIMITS else None,
                "entries": [entry.to_json() for entry in self.entries],
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

    def to_json(self) -> dict[str, Any]:
        """The form of the plan file."""
        return {
            "format": FORMAT,
            "site": self.site.to_json(),
            "unit": self.unit.to_json(),
            "channels": [channel.to_json() for channel in self.channels],
        }

    def content_hash(self) -> str:
        """A hash of all that the plan says, 64 hexadecimal digits."""
        text = json.dumps(self.to_json(), sort_keys=True, separators=(",", ":"), ensure_ascii=True)
        return hashlib.sha256(text.encode()).hexdigest()

    def with_entries(self, entries: tuple[Entry, ...]) -> "Plan":
        """The same plan with other entries keyed in."""
        return replace(self, unit=replace(self.unit, entries=entries))

    def adjust_of(self, channel: int) -> Adjust:
        """The correction of a channel (from 1): its own, or else the unit's."""
        return self.channels[channel - 1].adjust or self.unit.sun.adjust or NO_ADJUST

    def uses_sun(self, channel: int) -> bool:
        """Whether a channel (from 1) has a sun time in a window or an entry."""
        times = [t for w in self.channels[channel - 1].windows for t in (w.start, w.to) if t]
        times += [entry.at for entry in self.unit.entries if channel in entry.channels]
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


def read_window(node: Node) -> Window:
    """A window; raises :class:`PlanError`."""
    keys = node.object(["from", "to", "for_min", "days", "ends", "id"], required=["from"], later={"repeat": NOT_YET})
    to, minutes, ends = keys.get("to"), keys.get("for_min"), keys.get("ends")
    if to and minutes:
        minutes.refuse("either to or for_min", "for_min beside to")
    if not to and not minutes:
        raise PlanError(f"{node.path}.to", "is missing", "to or for_min")
    start = read_time(keys["from"])
    end = read_time(to, midnight_ends=True) if to else None
    ends_next_day = False
    if end is not None:
        ends_next_day = end.nominal_s <= start.nominal_s
    if ends:
        if end is None:
            ends.refuse("no ends beside for_min", "ends beside for_min")
        ends_next_day = ends.choice(["same-day", "next-day"]) == "next-day"
        if ends_next_day and end == ClockTime(DAY_S):
            ends.refuse('to "00:00" with next-day, or to "24:00" with same-day', '"next-day" with to 24:00')
    return Window(
        start=start,
        to=end,
        for_min=minutes.integer(1, MAX_FOR_MIN) if minutes else None,
        days=_read_days_of(keys),
        ends_next_day=ends_next_day and end != ClockTime(DAY_S),
        id=_read_id(keys),
    )


def read_entry(node: Node, channel_count: int, sun: SunSettings) -> Entry:
    """An entry of a unit with so many channels; raises :class:`PlanError`."""
    keys = node.object(
        ["channels", "action", "at", "days", "id"],
        required=["channels", "action", "at"],
        later={"seconds": NOT_YET, "repeat": NOT_YET},
    )
    if keys["action"].value == "pulse":
        keys["action"].refuse('"on", "off"', f'"pulse" {NOT_YET}')
    channels: list[int] = []
    for item in keys["channels"].items("channel numbers", least=1):
        channels.append(item.integer(1, channel_count))
        if channels.count(channels[-1]) > 1:
            item.refuse("each channel once", f"channel {channels[-1]} stands twice")
    at = read_time(keys["at"])
    if sun_time_of(at) and sun.source == "none":
        keys["at"].refuse("a clock time: this unit holds no sun times (unit.sun.source is none)")
    if sun.is_photocell and at != (plain := sun_time_of(at)) and plain:
        keys["at"].refuse("a sun time without offset and limits: light switches it (unit.sun.source is photocell)")
    if sun.is_photocell and isinstance(at, SunTime) and at.offset_min:
        keys["at"].refuse("a sun time without offset and limits: light switches it (unit.sun.source is photocell)")
    return Entry(
        channels=tuple(channels),
        on=keys["action"].choice(["on", "off"]) == "on",
        at=at,
        days=_read_days_of(keys),
        id=_read_id(keys),
    )


def _read_days_of(keys: ObjectNode) -> Days:
    days = keys.get("days")
    return read_days(days) if days else DAILY


def _read_id(keys: ObjectNode) -> str | None:
    found = keys.get("id")
    return found.text("a short text", longest=64) if found else None


def _read_holiday(node: Node) -> Holiday:
    keys = node.object(["from", "days"], required=["from", "days"])
    once, yearly = read_dated(keys["from"])
    return Holiday(once=once, yearly=yearly, days=keys["days"].integer(1, MAX_HOLIDAY_DAYS))


def _read_unit(node: Node, channel_count: int) -> Unit:
    keys = node.object(
        ["clock", "sun", "on_return_to_auto", "holidays", "channel_mode", "limits", "entries"],
        later={"pulse_s": NOT_YET, "reserve_h": NOT_YET},
    )
    mode = keys.get("channel_mode")
    if mode and mode.value in ("together", "pulse"):
        mode.refuse('"independent"', f"{quoted(mode.value)} {NOT_YET}")
    if mode:
        mode.choice(["independent"])
    sun, clock, limits = keys.get("sun"), keys.get("clock"), keys.get("limits")
    back, holidays, entries = keys.get("on_return_to_auto"), keys.get("holidays"), keys.get("entries")
    sun_settings = read_sun(sun) if sun else SunSettings()
    return Unit(
        clock=read_clock(clock) if clock else ClockSettings(),
        sun=sun_settings,
        on_return_to_auto=back.choice(["computes", "waits"]) if back else "computes",
        holidays=tuple(_read_holiday(item) for item in holidays.items("holidays")) if holidays else (),
        limits=read_limits(limits) if limits else NO_LIMITS,
        entries=tuple(read_entry(item, channel_count, sun_settings) for item in entries.items("entries"))
        if entries
        else (),
    )


def _read_channel(node: Node) -> Channel:
    keys = node.object(["name", "windows", "adjust", "id"], required=["name"])
    windows, adjust = keys.get("windows"), keys.get("adjust")
    return Channel(
        name=keys["name"].text("a name"),
        windows=tuple(read_window(item) for item in windows.items("windows")) if windows else (),
        adjust=read_adjust(adjust) if adjust else None,
        id=_read_id(keys),
    )


def read_plan(node: Node) -> Plan:
    """A whole plan; raises :class:`PlanError` at the first thing that is wrong."""
    keys = node.object(
        ["format", "site", "unit", "channels"],
        required=["format", "site"],
        later={"water": NOT_YET, "overrides": NOT_YET},
    )
    keys["format"].choice([FORMAT])
    if "channels" not in keys:
        raise PlanError("channels", "is missing", "at least one channel")
    site = read_site(keys["site"])
    channels = tuple(_read_channel(item) for item in keys["channels"].items("channels", least=1))
    unit = keys.get("unit")
    plan = Plan(site=site, unit=_read_unit(unit, len(channels)) if unit else Unit(), channels=channels)
    _refuse_doubled_ids(plan)
    for number, channel in enumerate(plan.channels):
        if channel.adjust and plan.unit.sun.source in ("photocell", "none"):
            place = f"channels[{number}].adjust"
            raise PlanError(place, "a correction here", f"none with unit.sun.source {plan.unit.sun.source}")
    return plan


def _refuse_doubled_ids(plan: Plan) -> None:
    places = [(f"unit.entries[{i}]", entry.id) for i, entry in enumerate(plan.unit.entries)]
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
