"""A unit of any kind as its keys know it: a small machine that does just what the kind says, and no more.

With it a sheet is tried before anybody goes to the cabinet: the keys of each step are pressed, and what comes of them is
seen. It knows the kind alone, and no plan.
"""

import copy
from collections.abc import Iterator
from dataclasses import dataclass, field

from skavit.core.ground.errors import UserError
from skavit.core.kinds.fields import CLOCK_WORD, NO_DAYS, NO_HOUR, applies, dialogue_of, options
from skavit.core.kinds.kind import Kind
from skavit.core.kinds.parts import FieldKey, Press

MOST_TURNS = 1000
UNKNOWN_SLOTS = 6
# The fields by which a dialogue chooses what is set: an output, a program and its start, a zone and its period.
CHOOSES = ("channel", "holiday", "zone", "days", "period", "program", "start", "station", "month")
_CHOOSING = ("correction", "holidays", "starts", "runs", "days", "season", "months", "points")

Shown = dict[str, str]  # texts of fields, by their names


class WrongKey(UserError):
    """A key that the unit does not have, or that does nothing there."""


@dataclass
class Keypad:
    """Starts with a wrong clock, another place, stray entries and in a mode by hand."""

    kind: Kind
    settings: dict[str, Shown] = field(default_factory=dict)
    open: str = ""
    slot: int = 0
    cursor: int = 0
    draft: Shown = field(default_factory=dict)
    trail: list[tuple[tuple[str, ...], int]] = field(default_factory=list)
    touched: list[str] = field(default_factory=list)  # of lock, PIN and summer key
    # What is set many times over, by dialogue and by what chooses it; periods of temperatures by each weekday.
    rows: dict[str, dict[tuple[str, ...], Shown]] = field(default_factory=dict)
    was_reset: bool = False
    texts: dict[tuple[str, str], tuple[str, ...]] = field(default_factory=dict)

    def __post_init__(self) -> None:
        """Let it stand as somebody might find it."""
        has_slots = self.kind.slot_dialogue is not None
        self.memory = self._stray((self.kind.slots or UNKNOWN_SLOTS) if has_slots else 0)
        self.mode = len(self.kind.modes.cycle) - 1 if self.kind.modes else 0
        for name, dialogue in self.kind.dialogues():
            if name != "slot":
                self.settings[name] = {
                    t.field: _of(self._texts(name, t.field), -1 - n % 3) for n, t in enumerate(dialogue.fields)
                }
        self.rows = {name: {} for name in _CHOOSING}
        for name in ("starts", "runs", "months"):
            if name in self.settings:
                self._row(name, self._stray_row(name))

    def _stray_row(self, name: str) -> Shown:
        """Something that somebody left there: a start, a run or a month of the first program."""
        kept = {"program": 0, "station": -1, "month": 4, "hour": 5}
        return {t.field: _of(self._texts(name, t.field), kept.get(t.field, 2)) for t in self._fields(name)}

    def _row(self, name: str, values: Shown) -> None:
        """Keep what a dialogue has set where it belongs."""
        chosen = [values.get(field, "") for field in CHOOSES if any(t.field == field for t in self._fields(name))]
        if name == "points" and "days" in values:
            for day in values["days"].split():
                where = (values.get("zone", ""), day, values.get("period", ""))
                self.rows[name][where] = values | {"days": day}
            return
        if name == "holidays" and not chosen:
            chosen = [str(len(self.rows[name]) + 1)]
        self.rows[name][tuple(chosen)] = values

    def holds(self, name: str, values: Shown) -> bool:
        """Whether the fields of a dialogue hold such texts, of the row that they choose where it has several."""
        asked = {t.field for t in self._fields(name)}
        wanted = {field: text for field, text in values.items() if field in asked}
        if name not in self.rows:
            return wanted.items() <= self.settings[name].items()
        days = wanted["days"].split() if name == "points" and "days" in wanted else [""]
        return all(
            any((wanted | ({"days": day} if day else {})).items() <= row.items() for row in self.rows[name].values())
            for day in days
        )

    def copy(self) -> "Keypad":
        """Another keypad that holds the same."""
        other = copy.copy(self)
        other.settings = {name: dict(values) for name, values in self.settings.items()}
        other.rows = {name: dict(rows) for name, rows in self.rows.items()}
        other.memory, other.draft = list(self.memory), dict(self.draft)
        other.trail, other.touched = list(self.trail), list(self.touched)
        return other

    @property
    def is_normal(self) -> bool:
        """Whether the normal display shows, with no keys begun."""
        return not self.open and not self.trail

    @property
    def is_automatic(self) -> bool:
        """Whether its mode runs the program."""
        return self.kind.modes is None or self.kind.modes.cycle[self.mode].means == "auto"

    def to_normal(self) -> None:
        """Leave whatever is open, and keep what was saved."""
        self.open, self.trail, self.draft = "", [], {}

    def _texts(self, name: str, field_name: str) -> tuple[str, ...]:
        """What a field of a dialogue steps through; made once, since a memory may have thousands of slots."""
        key = (name, field_name)
        if key not in self.texts:
            self.texts[key] = options(self.kind, name, field_name)
        return self.texts[key]

    def _fields(self, name: str) -> tuple[FieldKey, ...]:
        return dialogue_of(self.kind, name).fields

    def _first(self, name: str) -> Shown:
        return {t.field: _of(self._texts(name, t.field), 0) for t in self._fields(name)}

    def _stray(self, count: int) -> list[Shown | None]:
        """A memory with something in every other slot."""
        if not count:
            return []
        texts = {
            turned.field: tuple(t for t in self._texts("slot", turned.field) if t not in (NO_DAYS, NO_HOUR))
            for turned in self._fields("slot")
        }
        return [{name: _of(own, n + 1) for name, own in texts.items()} if n % 2 == 0 else None for n in range(count)]

    def _sequences(self) -> Iterator[tuple[str, tuple[Press, ...]]]:
        for name, dialogue in self.kind.dialogues():
            yield name, dialogue.enter
        if self.kind.reset:
            yield "reset", self.kind.reset.press
        for name, presses in (("lock", self.kind.lock), ("pin", self.kind.pin), ("summer", self.kind.summer)):
            if presses:
                yield name, presses

    def read(self, name: str) -> str:
        """The text that a field shows."""
        if name == "mode" and self.kind.modes:
            return self.kind.modes.cycle[self.mode].word
        if name not in self.draft:
            raise WrongKey(f"{self.kind.name} shows no {name.replace('_', ' ')} there")
        return self.draft[name]

    @property
    def shows_empty(self) -> bool:
        """Whether the slot that is shown is empty."""
        return self.open == "slot" and self.memory[self.slot] is None

    @property
    def asked(self) -> tuple[str, ...]:
        """The fields that the open dialogue shows now, in order."""
        return tuple(turned.field for turned in self._asked()) if self.open else ()

    def press(self, press: Press) -> None:
        """Press as a step says. Raises :class:`WrongKey`."""
        if not press.until:
            for _ in range(press.times):
                self._key(press.keys, press.hold_s)
            return
        for _ in range(MOST_TURNS):
            if self.read(press.field) == press.until:
                return
            self._key(press.keys, press.hold_s)
        raise WrongKey(f"{_named(press.keys)} never brings {press.field.replace('_', ' ')} to {press.until}")

    def _key(self, keys: tuple[str, ...], hold_s: int) -> None:
        if not set(keys) <= set(self.kind.keys):
            raise WrongKey(f"{self.kind.name} has no key {_named(keys)}")
        if self.open:
            self._in_dialogue(keys, hold_s)
        else:
            self._idle(keys, hold_s)

    def _idle(self, keys: tuple[str, ...], hold_s: int) -> None:
        if not self.trail and self.kind.modes and keys == (self.kind.modes.key,) and not hold_s:
            self.mode = (self.mode + 1) % len(self.kind.modes.cycle)
            return
        self.trail.append((keys, hold_s))
        for name, presses in self._sequences():
            wanted = [(press.keys, press.hold_s) for press in presses for _ in range(press.times)]
            if wanted == self.trail:
                self.trail = []
                self._into(name)
                return
            if wanted[: len(self.trail)] == self.trail:
                return
        told = ", ".join(_named(trail) + (f" held {held} s" if held else "") for trail, held in self.trail)
        raise WrongKey(f"{told}: leads nowhere")

    def _into(self, name: str) -> None:
        if name == "reset" and self.kind.reset:
            self.was_reset = True
            held = {p.field: p.reads for p in self.kind.reset.holds}
            count = self.kind.reset.held_slots
            self.rows = {name: {} for name in _CHOOSING}
            self.memory = [self._first("slot") | held if n < count else None for n in range(len(self.memory))]
        elif name in ("lock", "pin", "summer"):
            self.touched.append(name)
        else:
            self.open, self.cursor = name, 0
            self.slot = 0
            self._load()

    def _load(self) -> None:
        self.cursor = 0
        if self.open != "slot":
            self.draft = dict(self.settings[self.open])
        else:
            held = self.memory[self.slot]
            begun = {p.field: p.reads for p in self.kind.slot.begins}
            self.draft = self._first("slot") | (begun if held is None else held)

    def _asked(self) -> list[FieldKey]:
        """The fields that it asks for, with the values so far."""
        return [t for t in self._fields(self.open) if applies(self.kind, t.field, self.draft)]

    def _in_dialogue(self, keys: tuple[str, ...], hold_s: int) -> None:
        dialogue = dialogue_of(self.kind, self.open)
        clear = self.kind.slot.clear[0] if self.kind.slot.clear else Press(keys=())
        if self.open == "slot" and (keys, hold_s) == (clear.keys, clear.hold_s):
            self.memory[self.slot] = None
            self._load()
            return
        if len(keys) > 1 or hold_s:
            raise WrongKey(f"{_named(keys)} held does nothing there")
        (key,) = keys
        asked = self._asked()
        turnable = [asked[self.cursor]] if dialogue.each and self.cursor < len(asked) else []
        turnable = turnable if dialogue.each else asked
        for turned in turnable:
            if turned.key == key:
                texts = self._texts(self.open, turned.field)
                here = texts.index(self.draft[turned.field]) if self.draft[turned.field] in texts else -1
                self.draft[turned.field] = _of(texts, here + 1)
                return
        if key == dialogue.accept and (not dialogue.each or self.cursor < len(asked)):
            self.cursor += 1
            if not dialogue.each or self.cursor == len(self._asked()):
                self._save()
                self.open = self.open if dialogue.leave else ""
        elif self.open == "slot" and key == self.kind.slot.next:
            self.slot = (self.slot + 1) % len(self.memory)
            self._load()
        elif key == dialogue.leave:
            self.open = ""
        else:
            raise WrongKey(f"{key} does nothing there")

    def _save(self) -> None:
        values = {t.field: self.draft[t.field] for t in self._asked()}
        if self.open == "slot":
            self.memory[self.slot] = None if self._unused(values) else values
        else:
            if self.open in self.rows:
                self._row(self.open, values)
            # What was not asked for keeps what it had.
            self.settings[self.open] = self.settings[self.open] | values

    def _unused(self, values: Shown) -> bool:
        if NO_DAYS in values.values() or NO_HOUR in values.values():
            return True
        if self.kind.slot.cleared_by != "equal-times":
            return False
        on, off = ([values.get(f"{half}_{name}", "") for name in ("event", "hour", "minute")] for half in ("on", "off"))
        return on == off and on[0] in ("", CLOCK_WORD)


def _of(texts: tuple[str, ...], place: int) -> str:
    """One of the texts that a field steps through, over and over."""
    return texts[place % len(texts)] if texts else ""


def _named(keys: tuple[str, ...]) -> str:
    return " with ".join(keys)
