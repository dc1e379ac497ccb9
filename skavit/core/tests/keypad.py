"""A unit of any kind as its keys know it: a small machine that does just what the kind says, and no more."""

from dataclasses import dataclass, field

from skavit.core.kinds.fields import CLOCK_WORD, NO_DAYS, NO_HOUR, applies, options
from skavit.core.kinds.kind import Kind, Press

MOST_TURNS = 1000
UNKNOWN_SLOTS = 6


class WrongKey(Exception):
    """A key that the unit does not have, or that does nothing there."""


@dataclass
class Keypad:
    """Starts with a wrong clock, another place, stray entries and in a mode by hand."""

    kind: Kind
    settings: dict = field(default_factory=dict)
    open: str = ""
    slot: int = 0
    cursor: int = 0
    draft: dict = field(default_factory=dict)
    trail: list = field(default_factory=list)
    touched: list = field(default_factory=list)  # of lock, PIN and summer key
    holidays: list = field(default_factory=list)
    was_reset: bool = False

    def __post_init__(self):
        self.memory = [self._stray(n) for n in range(self.kind.slots or UNKNOWN_SLOTS)]
        self.mode = len(self.kind.modes.cycle) - 1 if self.kind.modes else 0
        for name, dialogue in self.kind.dialogues():
            if name not in ("slot", "holidays"):
                self.settings[name] = {
                    t.field: options(self.kind, name, t.field)[-1 - n % 3] for n, t in enumerate(dialogue.fields)
                }

    def _fields(self, name):
        return dict(self.kind.dialogues())[name].fields

    def _first(self, name):
        return {t.field: options(self.kind, name, t.field)[0] for t in self._fields(name)}

    def _stray(self, n):
        values = self._first("slot")
        for turned in self._fields("slot"):
            texts = [t for t in options(self.kind, "slot", turned.field) if t not in (NO_DAYS, NO_HOUR)]
            values[turned.field] = texts[(n + 1) % len(texts)]
        return values if n % 2 == 0 else None

    def _sequences(self):
        for name, dialogue in self.kind.dialogues():
            yield name, dialogue.enter
        if self.kind.reset:
            yield "reset", self.kind.reset.press
        for name, presses in (("lock", self.kind.lock), ("pin", self.kind.pin), ("summer", self.kind.summer)):
            if presses:
                yield name, presses

    def read(self, name):
        """The text that a field shows."""
        return self.kind.modes.cycle[self.mode].word if name == "mode" else self.draft[name]

    @property
    def shows_empty(self):
        """Whether the slot that is shown is empty."""
        return self.open == "slot" and self.memory[self.slot] is None

    def press(self, press: Press):
        """Press as a step says."""
        if not press.until:
            for _ in range(press.times):
                self._key(press.keys, press.hold_s)
            return
        for _ in range(MOST_TURNS):
            if self.read(press.field) == press.until:
                return
            self._key(press.keys, press.hold_s)
        raise WrongKey(f"{press.keys} never brings {press.field} to {press.until}")

    def _key(self, keys, hold_s):
        if not set(keys) <= set(self.kind.keys):
            raise WrongKey(f"{self.kind.name} has no {keys}")
        if self.open:
            self._in_dialogue(keys, hold_s)
        else:
            self._idle(keys, hold_s)

    def _idle(self, keys, hold_s):
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
        raise WrongKey(f"{self.kind.name}: {self.trail} leads nowhere")

    def _into(self, name):
        if name == "reset":
            self.was_reset = True
            held = {p.field: p.reads for p in self.kind.reset.holds}
            count = self.kind.reset.held_slots
            self.memory = [self._first("slot") | held if n < count else None for n in range(len(self.memory))]
        elif name in ("lock", "pin", "summer"):
            self.touched.append(name)
        else:
            self.open, self.cursor = name, 0
            self.slot = 0
            self._load()

    def _load(self):
        self.cursor = 0
        if self.open == "holidays":
            self.draft = self._first("holidays")
        elif self.open != "slot":
            self.draft = dict(self.settings[self.open])
        elif self.memory[self.slot] is None:
            self.draft = self._first("slot") | {p.field: p.reads for p in self.kind.slot.begins}
        else:
            self.draft = dict(self.memory[self.slot])

    def _asked(self):
        """The fields that it asks for, with the values so far."""
        return [t for t in self._fields(self.open) if applies(self.kind, t.field, self.draft)]

    def _in_dialogue(self, keys, hold_s):
        dialogue = dict(self.kind.dialogues())[self.open]
        (clear,) = self.kind.slot.clear or (Press(keys=()),)
        if self.open == "slot" and (keys, hold_s) == (clear.keys, clear.hold_s):
            self.memory[self.slot] = None
            self._load()
            return
        if len(keys) > 1 or hold_s:
            raise WrongKey(f"{keys} held does nothing in {self.open}")
        (key,) = keys
        asked = self._asked()
        turnable = [asked[self.cursor]] if dialogue.each and self.cursor < len(asked) else []
        turnable = turnable if dialogue.each else asked
        for turned in turnable:
            if turned.key == key:
                texts = options(self.kind, self.open, turned.field)
                self.draft[turned.field] = texts[(texts.index(self.draft[turned.field]) + 1) % len(texts)]
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
            raise WrongKey(f"{key} does nothing in {self.open}")

    def _save(self):
        values = {t.field: self.draft[t.field] for t in self._asked()}
        if self.open == "slot":
            self.memory[self.slot] = None if self._unused(values) else values
        elif self.open == "holidays":
            self.holidays.append(values)
        elif "channel" in values:
            self.settings.setdefault("channels", {})[values["channel"]] = values
        else:
            self.settings[self.open] = values

    def _unused(self, values):
        if NO_DAYS in values.values() or NO_HOUR in values.values():
            return True
        if self.kind.slot.cleared_by != "equal-times":
            return False
        on, off = ([values.get(f"{half}_{name}", "") for name in ("event", "hour", "minute")] for half in ("on", "off"))
        return on == off and on[0] in ("", CLOCK_WORD)


def follow(keypad: Keypad, steps):
    """Do what the steps of a sheet say, and nothing else; gives the steps whose display did not come."""
    failed = []
    for step in steps:
        for _ in range(step.repeat):
            for press in step.presses:
                keypad.press(press)
            if step.otherwise and not keypad.shows_empty:
                for press in step.otherwise:
                    keypad.press(press)
            if step.kind == "empty" and step.display and not keypad.shows_empty:
                failed.append(step.title)
        for press in step.then:
            keypad.press(press)
    return failed
