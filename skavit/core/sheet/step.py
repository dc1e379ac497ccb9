"""One step of the entry sheet: what to press, and what the display must then read."""

import hashlib
import json
from dataclasses import dataclass, replace

from skavit.core.kinds.parts import Press


@dataclass(frozen=True, slots=True, kw_only=True)
class DisplayRow:
    """One line of a read-out: a word, a time or a value, and what is beside it."""

    word: str
    value: str
    detail: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Display:
    """What the unit must read."""

    rows: tuple[DisplayRow, ...]
    slot: int = 0  # from 1, where it is a slot of the memory
    slots: int | None = None  # of how many, where that is known
    slot_word: str = "slot"
    weekdays: tuple[tuple[str, bool], ...] = ()  # empty where the days are no set of weekdays
    days: str = ""
    channels: str = ""


Texts = tuple[tuple[str, str], ...]  # of fields, by their names


@dataclass(frozen=True, slots=True, kw_only=True)
class Step:
    """One thing to do and to see.

    ``way`` leads from where the step before has left the display to where ``presses`` act. Those are done once; where
    ``repeat`` is more, so often, and ``otherwise`` each time that the display does not read what it must; ``then`` at
    the end. A step in the memory (``slot``) gets its ``way`` and ``then`` from :mod:`skavit.core.sheet.ways`.
    """

    kind: str  # one of the sections of a kind, or "slot", "empty", "output"
    title: str
    say: str
    display: Display | None = None
    caution: str = ""
    refused: str = ""  # why the unit cannot be keyed so: such a step is never done
    way: tuple[Press, ...] = ()
    presses: tuple[Press, ...] = ()
    repeat: int = 1
    otherwise: tuple[Press, ...] = ()
    then: tuple[Press, ...] = ()
    slot: int = 0  # the slot (from 1) that must be open before its presses; 0: the normal display
    last_slot: int = 0  # the slot that is open after them
    unknown: str = ""  # why no keys are given: the kind's do not set it, and it is set by the manual
    sets: tuple[str, tuple["Texts", ...]] | None = None  # a dialogue, and the texts that its fields must then hold
    sign: str = ""
    watch: tuple[str, ...] = ()  # what is to be seen, a line each
    brief: str = ""  # what it says, in a few words, where it says another thing by the hour
    spells: tuple["Spell", ...] = ()  # what it says through today and tomorrow; empty where that is the same
    holds_until: int = 0  # the instant at which it may say another thing; 0: it does not depend on the moment
    key: str = ""  # names what the step says: a step that says another thing is another step

    @property
    def by_manual(self) -> str:
        """What to do where no keys are given; empty where they are."""
        return f"Set this by the unit's manual. Its keys are not known here: {self.unknown}." if self.unknown else ""

    @property
    def has_keys(self) -> bool:
        """Whether anything of it is done at the keys."""
        return bool(self.presses or self.otherwise)

    @property
    def first_presses(self) -> tuple[Press, ...]:
        """What is pressed once at the beginning: the way, and the step's own presses where they are not repeated."""
        return self.way if self.repeat > 1 else (*self.way, *self.presses)


def unknown(step: Step, why: str) -> Step:
    """The step without keys: what it sets is said in words alone, and why."""
    spells = tuple(replace(spell, step=unknown(spell.step, why)) for spell in step.spells)
    return replace(step, unknown=why, way=(), presses=(), repeat=1, otherwise=(), then=(), sign="", spells=spells)


@dataclass(frozen=True, slots=True, kw_only=True)
class Spell:
    """What a step says from one instant until another."""

    first: int
    until: int
    step: Step


def press_rows(presses: tuple[Press, ...]) -> tuple[tuple[Press, ...], ...]:
    """Presses as lines to read: a value turned to begins a line, and what accepts it comes after it."""
    rows: list[list[Press]] = []
    for press in presses:
        if press.until or not rows:
            rows.append([])
        rows[-1].append(press)
    return tuple(tuple(row) for row in rows)


def keyed(step: Step, *content: object) -> Step:
    """The step with its key, made of ``content``; one that is refused has none, so that it cannot be ticked."""
    if step.refused:
        return step
    text = json.dumps([step.kind, *content], sort_keys=True)
    return replace(step, key=hashlib.sha256(text.encode()).hexdigest()[:32])
