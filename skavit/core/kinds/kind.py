"""A kind of unit as a set of capabilities, with its JSON form `skavit-kind/1` (docs/kinds.md)."""

import re
from collections.abc import Iterator
from dataclasses import dataclass, field, replace
from typing import Any, assert_never

from skavit.core.ground.errors import PlanError
from skavit.core.ground.records import Record, member, record, written
from skavit.core.ground.strict_json import Node, parse_json
from skavit.core.kinds.heating import Heating
from skavit.core.kinds.parts import (
    FIELDS,
    ClockSetting,
    Dialogue,
    HandKey,
    Modes,
    Power,
    Press,
    Reset,
    Setting,
    SlotShape,
    SunKnowledge,
)
from skavit.core.kinds.watering import Watering
from skavit.core.plan.contact import Contact
from skavit.core.plan.limits import LIMITS_REF, NO_LIMITS, Bank, Limits
from skavit.core.plan.trade import Trade, trade_of_kind
from skavit.core.sun import SunEvent

FORMAT = "skavit-kind/1"
# The steps of setting a unit up, in the order that most have.
SECTIONS = (
    "before",
    "found",
    "power",
    "reset",
    "channels",
    "clock",
    "date",
    "rule",
    "summer",
    "place",
    "suncheck",
    "correction",
    "operating",
    "slots",
    "holidays",
    "readback",
    "mode",
    "lock",
    "pin",
    "cover",
)
MOST_COMBINED_CHANNELS = 3


@dataclass(frozen=True, slots=True, kw_only=True)
class Kind(Record):
    """A kind of unit."""

    name: str
    says: str
    channels: int = field(default=1, metadata={"low": 1, "high": 48})
    keys: tuple[str, ...] = ()
    clock: ClockSetting = ClockSetting()
    sun: SunKnowledge = SunKnowledge()
    limits: Limits = member(LIMITS_REF, default=NO_LIMITS)
    watering: Watering | None = member(record(Watering), default=None)
    heating: Heating | None = member(record(Heating), default=None)
    contact: Contact | None = member(record(Contact), default=None)  # what its outputs are; None: not known
    hand_keys: tuple[HandKey, ...] = ()
    slot: SlotShape = SlotShape()
    before: tuple[Setting, ...] = ()
    power: Power = Power()
    reset: Reset | None = None
    modes: Modes | None = None
    channel_modes: tuple[str, ...] = ()  # asked for at first power: each by its own entries, all together, pulses
    operating: tuple[str, ...] = ()  # modes that exclude one another; a change may wipe the memory
    clock_dialogue: Dialogue | None = None
    date_dialogue: Dialogue | None = None
    rule_dialogue: Dialogue | None = None
    place_dialogue: Dialogue | None = None
    correction_dialogue: Dialogue | None = None
    operating_dialogue: Dialogue | None = None
    channels_dialogue: Dialogue | None = None
    holidays_dialogue: Dialogue | None = None  # by its number where it has one; else each time a new one
    slot_dialogue: Dialogue | None = None
    starts_dialogue: Dialogue | None = None  # of a program that waters: one start each time
    runs_dialogue: Dialogue | None = None  # one station's run time each time
    days_dialogue: Dialogue | None = None
    season_dialogue: Dialogue | None = None
    months_dialogue: Dialogue | None = None  # one month's percentage each time
    points_dialogue: Dialogue | None = None  # of a unit that holds temperatures: one period of a day group each time
    order: tuple[str, ...] = field(default=SECTIONS, metadata={"choices": SECTIONS})
    cover_switches: bool = False
    lock: tuple[Press, ...] = ()
    pin: tuple[Press, ...] = ()  # by which a PIN is set
    summer: tuple[Press, ...] = ()  # by which summer time is put on and off by hand
    dark_after_s: int = 0

    @property
    def trade(self) -> Trade:
        """What a unit of it does."""
        return trade_of_kind(self)

    @property
    def slug(self) -> str:
        """Its name in addresses."""
        return re.sub(r"[^a-z0-9]+", "-", self.name.lower()).strip("-")

    @property
    def moved_by_hand(self) -> bool:
        """Whether somebody must put its clock on and back for summer time: it knows no rule at all."""
        return set(self.clock.rules) == {"by-hand"}

    @property
    def sun_events(self) -> tuple[SunEvent, ...]:
        """The sun events that its entries can name."""
        if self.sun.place == "none" and self.sun.meaning != "light":
            return ()
        if self.limits.sun_events is not None:
            return self.limits.sun_events
        twilight = self.sun.meaning == "dawn"
        return (SunEvent.DAWN, SunEvent.DUSK) if twilight else (SunEvent.SUNRISE, SunEvent.SUNSET)

    @property
    def margin_min(self) -> int:
        """By how many minutes its sun times lie outside sunrise and sunset before it is corrected."""
        return self.sun.margin_min if self.sun.meaning == "margin" else 0

    def by_hand(self, does: str) -> HandKey | None:
        """What its keys do for one of the acts; None where it has none for it."""
        return next((hand for hand in self.hand_keys if hand.does == does), None)

    @property
    def slots(self) -> int | None:
        """How many slots the memory has, where that is known."""
        most = self.limits.entries
        return most if most is None or self.slot.shape == "single" else most // 2

    @property
    def plan_limits(self) -> Limits:
        """The limits of a plan for it: the sun events that it has, and pairs where a slot holds an ON and its OFF."""
        # Of more outputs than its key combines, a slot names one.
        alone = self.channels > MOST_COMBINED_CHANNELS or self.limits.one_channel
        together = self.channels > 1 and not self.sun.per_channel and self.limits.offset_by == "correction"
        limits = replace(self.limits, sun_events=self.sun_events, one_channel=alone, one_correction=together)
        if self.margin_min and limits.offset_by == "correction" and limits.sun_offset_max_min is not None:
            # What is keyed takes its margin off again: that much less is left of the correction.
            limits = replace(limits, sun_offset_max_min=max(limits.sun_offset_max_min - self.margin_min, 0))
        if self.slot.shape == "single" or limits.slots is not None:
            return limits
        pairs = Bank(shape="pair", count=self.slots, off_days="same")
        match self.slot.shape:
            case "pair":
                return replace(limits, slots=(pairs,))
            case "run":  # in minutes: no sun time
                return replace(limits, slots=(replace(pairs, times=("clock",)),))
            case _:
                assert_never(self.slot.shape)

    def to_json(self) -> dict[str, Any]:
        """The form of the file."""
        return {"format": FORMAT, **written(self)}

    def with_order(self, order: tuple[str, ...]) -> "Kind":
        """The kind with its steps in another order."""
        return replace(self, order=order)

    def dialogues(self) -> Iterator[tuple[str, Dialogue]]:
        """The dialogues that it has, by name."""
        for name in DIALOGUES:
            found = getattr(self, f"{name}_dialogue")
            if found is not None:
                yield name, found

    def presses(self) -> Iterator[tuple[str, Press]]:
        """Every press in the kind, with its path."""
        for name, dialogue in self.dialogues():
            for index, press in enumerate(dialogue.enter):
                yield f"{name}_dialogue.enter[{index}]", press
            for index, key in enumerate((dialogue.accept, dialogue.leave)):
                if key:
                    yield f"{name}_dialogue.{('accept', 'leave')[index]}", Press(keys=(key,))
            for index, turned in enumerate(dialogue.fields):
                yield f"{name}_dialogue.fields[{index}].key", Press(keys=(turned.key,))
        for place, presses in (
            ("reset.press", self.reset.press if self.reset else ()),
            ("slot.clear", self.slot.clear),
            ("lock", self.lock),
            ("pin", self.pin),
            ("summer", self.summer),
            *((f"hand_keys[{n}].press", hand.press) for n, hand in enumerate(self.hand_keys)),
        ):
            for index, press in enumerate(presses):
                yield f"{place}[{index}]", press
        for place, key in (("slot.next", self.slot.next), ("modes.key", self.modes.key if self.modes else "")):
            if key:
                yield place, Press(keys=(key,))


DIALOGUES = (
    *("channels", "clock", "date", "rule", "place", "correction", "operating", "slot", "holidays"),
    *("starts", "runs", "days", "season", "months", "points"),
)


def whole_order(order: tuple[str, ...]) -> tuple[str, ...]:
    """An order with every step: one that it does not name comes after the step that usually comes before it."""
    found = list(order)
    for place, section in enumerate(SECTIONS):
        if section not in found:
            before = SECTIONS[place - 1] if place else None
            found.insert(found.index(before) + 1 if before else 0, section)
    return tuple(found)


def read_kind(node: Node) -> Kind:
    """A kind from its JSON; raises :class:`PlanError` with the path of what is wrong."""
    if not isinstance(node.value, dict):
        node.refuse("an object", "a kind is an object")
    if "format" not in node.value:
        raise PlanError("format", "is missing", FORMAT)
    Node(node.value["format"], "format").choice([FORMAT])
    kind = Kind.read(Node({name: value for name, value in node.value.items() if name != "format"}))
    _check(kind)
    return kind.with_order(whole_order(kind.order))


def parse_kind(data: bytes) -> Kind:
    """A kind from the bytes of its file; raises :class:`PlanError`."""
    return read_kind(Node(parse_json(data)))


# No device has more; and a form that shows a kind stays small.
MOST_KEYS, MOST_REGIONS, MOST_MODES, MOST_FIELDS = 60, 400, 20, 60


def _check(kind: Kind) -> None:
    """Refuse what no unit could be: keys that it does not have, values that no display shows, steps named twice."""
    for path, held, most in (
        ("keys", kind.keys, MOST_KEYS),
        ("sun.regions", kind.sun.regions, MOST_REGIONS),
        ("sun.latitudes", kind.sun.latitudes, MOST_REGIONS),
        ("modes.cycle", kind.modes.cycle if kind.modes else (), MOST_MODES),
        *((f"{name}_dialogue.fields", dialogue.fields, MOST_FIELDS) for name, dialogue in kind.dialogues()),
    ):
        if len(held) > most:
            raise PlanError(path, f"{len(held)} are too many", f"at most {most}")
    for path, press in kind.presses():
        for key in press.keys:
            if key not in kind.keys:
                raise PlanError(path, f"the key {key!r} is not among its keys", ", ".join(kind.keys) or "keys first")
    for name, dialogue in kind.dialogues():
        for index, turned in enumerate(dialogue.fields):
            if turned.field not in FIELDS:
                path = f"{name}_dialogue.fields[{index}].field"
                raise PlanError(path, f"{turned.field!r} is no field", ", ".join(FIELDS))
    if len(set(kind.order)) != len(kind.order):
        raise PlanError("order", "a step stands twice", "each step once")
    if kind.clock.hours not in (12, 24):
        raise PlanError("clock.hours", f"{kind.clock.hours} is not accepted", "12 or 24")
    if kind.modes and "auto" not in {mode.means for mode in kind.modes.cycle}:
        raise PlanError("modes.cycle", "no mode means auto", "a mode that runs the program")
    if kind.slot_dialogue and not kind.slot.next:
        raise PlanError("slot.next", "is missing", "the key that goes to the next slot")
