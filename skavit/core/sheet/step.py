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


@dataclass(frozen=True, slots=True, kw_only=True)
class Step:
    """One thing to do and to see.

    ``presses`` are done once; where ``repeat`` is more, so often, and ``otherwise`` each time that the display does
    not read what it must; ``then`` at the end.
    """

    kind: str  # one of the sections of a kind, or "slot", "empty", "output"
    title: str
    say: str
    display: Display | None = None
    caution: str = ""
    refused: str = ""  # why the unit cannot be keyed so: such a step is never done
    presses: tuple[Press, ...] = ()
    repeat: int = 1
    otherwise: tuple[Press, ...] = ()
    then: tuple[Press, ...] = ()
    sign: str = ""
    watch: tuple[str, ...] = ()  # what is to be seen, a line each
    brief: str = ""  # what it says, in a few words, where it says another thing by the hour
    spells: tuple["Spell", ...] = ()  # what it says through today and tomorrow; empty where that is the same
    holds_until: int = 0  # the instant at which it may say another thing; 0: it does not depend on the moment
    key: str = ""  # names what the step says: a step that says another thing is another step


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
