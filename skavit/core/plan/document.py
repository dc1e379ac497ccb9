"""The plan: what is wanted (windows), what is keyed in (entries), and the unit and site it is for.

Format and meaning: docs/plan-file.md. Every class reads itself strictly and writes itself back.
"""

import hashlib
import json
from collections.abc import Collection
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any, ClassVar, Self

from skavit.core.ground.errors import PlanError, quoted
from skavit.core.ground.records import Record, Schema, flag, listed, member, no_key, number, plain, record, whole, word
from skavit.core.ground.strict_json import Node, ObjectNode, parse_json
from skavit.core.ground.zones import timezones
from skavit.core.plan.clock_settings import ClockSettings
from skavit.core.plan.contact import Contact
from skavit.core.plan.days import Holiday
from skavit.core.plan.entry import ENTRY_REF, MAX_PULSE_S, Entry, judge_entry
from skavit.core.plan.heat import Heat
from skavit.core.plan.identity import IDENTITY, NAME
from skavit.core.plan.limits import LIMITS_REF, NO_LIMITS, Limits
from skavit.core.plan.load import Load
from skavit.core.plan.overrides import Override, judge_override
from skavit.core.plan.seasonal import SeasonalProgram
from skavit.core.plan.sun_settings import DEGREES_EAST, DEGREES_NORTH, NO_ADJUST, Adjust, SunSettings
from skavit.core.plan.times import sun_time_of
from skavit.core.plan.trade import Trade, trade_of, trades, trades_in
from skavit.core.plan.water import Water
from skavit.core.plan.window import WINDOW_REF, Window

FORMAT = "skavit-plan/1"
AT_LEAST = "at least one channel, or water, or heat"
PINS = ("factory", "set")
RETURNS = ("computes", "waits")
CHANNEL_MODES = ("independent", "together", "pulse")
# Of units whose operating modes exclude one another: which entries act.
OPERATING = ("program", "manual", "light", "light-on-timed-off", "timed")
DEFAULT_PULSE_S = 3
MAX_RESERVE_H = 1_000_000
# Minutes that a period or a gap lasts at least: unless set, and what may be set.
LEAST_MIN, MOST_LEAST_MIN = 2, 1440


def _read_timezone(node: Node) -> str:
    zone = node.text("a zone name such as Pacific/Auckland")
    if zone not in timezones():
        node.refuse("a zone name of the IANA time zone data, such as Pacific/Auckland")
    return zone


@dataclass(frozen=True, slots=True, kw_only=True)
class Site(Record):
    """A place: degrees, north and east positive, and a zone of the pinned zone data."""

    name: str = member(NAME)
    latitude: float = member(DEGREES_NORTH)
    longitude: float = member(DEGREES_EAST)
    timezone: str = member(plain(_read_timezone, {"type": "string"}))


@dataclass(frozen=True, slots=True, kw_only=True)
class Unit(Record):
    """The device: its clock, where it takes sun times from, and what is keyed in."""

    clock: ClockSettings = member(record(ClockSettings), default=ClockSettings(), always=True)
    sun: SunSettings = member(record(SunSettings), default=SunSettings(), always=True)
    on_return_to_auto: str = member(word(RETURNS), default="computes", always=True)
    channel_mode: str = member(word(CHANNEL_MODES), default="independent")
    operating: str = member(word(OPERATING), default="program")
    pulse_s: int = member(whole(1, MAX_PULSE_S), default=DEFAULT_PULSE_S)
    reserve_h: float | None = member(number(0, MAX_RESERVE_H), default=None)
    holidays: tuple[Holiday, ...] = member(listed(record(Holiday), "holidays"), default=())
    limits: Limits = member(LIMITS_REF, default=NO_LIMITS)
    contact: Contact | None = member(record(Contact).named("contact"), default=None)  # of each output; None: not known
    pin: str | None = member(word(PINS), default=None)  # what stands for it; never the PIN itself
    entries: tuple[Entry, ...] = member(listed(ENTRY_REF, "entries"), default=(), always=True)
    keyings: tuple[SeasonalProgram, ...] = member(listed(record(SeasonalProgram), "keyings"), default=())

    @property
    def all_entries(self) -> tuple[Entry, ...]:
        """Those of all keyings, one set after another; events name their slot among these."""
        return tuple(entry for entries in self.sets for entry in entries)

    @property
    def sets(self) -> tuple[tuple[Entry, ...], ...]:
        """The sets of entries: that of the unit, then that of each keying."""
        return (self.entries, *(keying.entries for keying in self.keyings))

    def name_of_set(self, number: int) -> str:
        """What a set of entries is called: the name of its seasonal program; empty for the unit's own (0)."""
        return self.keyings[number - 1].name if number else ""

    def slot_of(self, index: int) -> tuple[int, int]:
        """(which set, slot in it from 0) of an entry among all entries."""
        for place, entries in enumerate(self.sets):
            if index < len(entries):
                return place, index
            index -= len(entries)
        raise IndexError(index)

    @classmethod
    def judged(cls, keys: ObjectNode, given: dict[str, Any]) -> dict[str, Any]:
        """Each date of a keying once, and no repeat where every entry gives one pulse."""
        starts = [keying.start for keying in given.get("keyings", ())]
        for place, start in enumerate(starts):
            if start in starts[:place]:
                item = keys["keyings"].items("keyings")[place]
                ObjectNode(item.value, item.path)["from"].refuse("each date once", "two keyings of one date")
        if given.get("channel_mode") == "pulse":
            for path, entry in _placed_entries(cls(**given)):
                if entry.repeat:
                    raise PlanError(f"{path}.repeat", "a repeat here", 'none with unit.channel_mode "pulse"')
        return given


@dataclass(frozen=True, slots=True, kw_only=True)
class Channel(Record):
    """An output and the windows in which it is wanted on."""

    id: str | None = member(IDENTITY, default=None)
    name: str = member(NAME)
    adjust: Adjust | None = member(record(Adjust), default=None)  # replaces the unit's correction
    windows: tuple[Window, ...] = member(listed(WINDOW_REF, "windows"), default=(), always=True)
    load: Load | None = member(record(Load).named("load"), default=None)  # what hangs on its contact
    # What a fit keeps to: no period and no gap is shorter, unless a window asks for it. 0 allows all.
    least_on_min: float = member(number(0, MOST_LEAST_MIN), default=LEAST_MIN)
    least_off_min: float = member(number(0, MOST_LEAST_MIN), default=LEAST_MIN)
    first_in: bool = member(flag(), default=False)  # its program waits each time until the first person has come in


@dataclass(frozen=True, kw_only=True)
class Plan(Record):
    """The whole document. It has no slots, so that its hash is worked out once."""

    schema_rules: ClassVar[Schema] = {
        "anyOf": [
            {"required": ["channels"], "properties": {"channels": {"minItems": 1}}},
            {"required": ["water"]},
            {"required": ["heat"]},
        ]
    }

    format: str = member(plain(lambda node: node.choice([FORMAT]), {"const": FORMAT}), default=FORMAT, always=True)
    site: Site = member(record(Site).named("site"))
    unit: Unit = member(record(Unit).named("unit"), default=Unit(), always=True)
    channels: tuple[Channel, ...] = member(
        listed(record(Channel).named("channel"), "channels"), default=(), always=True
    )  # none only beside water or heat
    overrides: tuple[Override, ...] = member(listed(record(Override), "overrides"), default=())
    water: Water | None = member(record(Water).named("water"), default=None)
    heat: Heat | None = member(record(Heat).named("heat"), default=None)

    # The parts of trades that no field above is for, by their keys in the file.
    further: tuple[tuple[str, Record], ...] = no_key(default=())

    @classmethod
    def read(cls, node: Node) -> Self:
        """A plan from its JSON, before its parts are held against one another; raises :class:`PlanError`."""
        own = {trade.key: trade.part for trade in trades() if trade.part is not None}
        if not isinstance(node.value, dict) or not own.keys() & node.value.keys():
            return super().read(node)
        plan = super().read(Node({key: value for key, value in node.value.items() if key not in own}, node.path))
        parts = tuple((key, part.read(Node(node.value[key], key))) for key, part in own.items() if key in node.value)
        return replace(plan, further=parts)

    def to_json(self) -> dict[str, Any]:
        """The form of the file."""
        return super().to_json() | {key: part.to_json() for key, part in self.further}

    def part(self, key: str) -> Any:
        """The part of a trade that no field is for, by its key in the file; None where there is none."""
        return dict(self.further).get(key)

    @property
    def trade(self) -> Trade:
        """What the unit does."""
        return trade_of(self)

    def content_hash(self) -> str:
        """A hash of all that the plan says, 64 hexadecimal digits."""
        return self._hash

    @cached_property
    def _hash(self) -> str:
        text = json.dumps(self.to_json(), sort_keys=True, separators=(",", ":"), ensure_ascii=True)
        return hashlib.sha256(text.encode()).hexdigest()

    def at_site(self, site: Site) -> "Plan":
        """The same plan at another place; itself where it is there already."""
        return self if self.site == site else replace(self, site=site)

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
        """The plan with one of its sets in the unit all year."""
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


def _placed_entries(unit: Unit) -> list[tuple[str, Entry]]:
    """Each entry of each seasonal set, with its path."""
    bases = ["unit.entries", *(f"unit.keyings[{k}].entries" for k in range(len(unit.keyings)))]
    return [(f"{base}[{i}]", entry) for base, own in zip(bases, unit.sets, strict=True) for i, entry in enumerate(own)]


def read_plan(node: Node) -> Plan:
    """A whole plan; raises :class:`PlanError` at the first thing that is wrong."""
    if isinstance(node.value, dict):
        if "format" not in node.value:
            ObjectNode(node.value).must("format")
        if "site" in node.value and not {trade.key for trade in trades()} & set(node.value):
            raise PlanError("channels", "is missing", AT_LEAST)
    plan = Plan.read(node)
    if not trades_in(plan):
        raise PlanError("channels", "a list of 0", f"a list of {AT_LEAST}")
    for path, entry in _placed_entries(plan.unit):
        judge_entry(path, entry, len(plan.channels), plan.unit.sun)
    for place, override in enumerate(plan.overrides):
        judge_override(f"overrides[{place}]", override, len(plan.channels))
    for trade in trades_in(plan):
        trade.judge(plan)
    _refuse_doubled_ids(plan)
    for place, channel in enumerate(plan.channels):
        if channel.adjust and plan.unit.sun.source in ("photocell", "none"):
            raise PlanError(
                f"channels[{place}].adjust", "a correction here", f"none with unit.sun.source {plan.unit.sun.source}"
            )
    return plan


def _refuse_doubled_ids(plan: Plan) -> None:
    places = [(path, entry.id) for path, entry in _placed_entries(plan.unit)]
    for c, channel in enumerate(plan.channels):
        places.append((f"channels[{c}]", channel.id))
        places += [(f"channels[{c}].windows[{i}]", window.id) for i, window in enumerate(channel.windows)]
    for trade in trades_in(plan):
        places += trade.identities(plan)
    seen: dict[str, str] = {}
    for path, name in places:
        if name is not None and seen.setdefault(name, path) != path:
            raise PlanError(f"{path}.id", f"{quoted(name)} stands at {seen[name]} too", "ids unique in the file")


def parse_plan(data: bytes) -> Plan:
    """A plan from the bytes of a plan file; raises :class:`PlanError`."""
    return read_plan(Node(parse_json(data)))
