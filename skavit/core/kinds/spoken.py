"""Presses as somebody writes them down: ``menu, down x2, back + ok 3 s``."""

import re
from dataclasses import replace

from skavit.core.ground.errors import PlanError
from skavit.core.kinds.parts import Press

PRESSES_FORM = "keys with commas between them, such as menu, down x2, back + ok 3 s"
_TAIL = re.compile(r"\s+(?:x\s*(?P<times>[0-9]{1,2})|(?:held\s+)?(?P<hold>[0-9]{1,2})\s*s)$")


def presses_text(presses: tuple[Press, ...]) -> str:
    """Presses as text; :func:`read_presses` reads it back where they bring no field to a value."""
    return ", ".join(_press_text(press) for press in presses)


def _press_text(press: Press) -> str:
    keys = " + ".join(press.keys)
    held = f" {press.hold_s} s" if press.hold_s else ""
    return f"{keys}{held}" + (f" x{press.times}" if press.times > 1 else "")


def read_presses(text: str, path: str) -> tuple[Press, ...]:
    """Text as presses. Raises :class:`PlanError`; which keys there are is judged with the kind."""
    return tuple(_read_press(part.strip(), path) for part in text.split(",") if part.strip())


def press_word(press: Press) -> str:
    """A press as a word of a sheet: as above, or ``plus until hour 06`` where it brings a field to a text."""
    return _press_text(press) + (f" until {press.field} {press.until}" if press.until else "")


def read_press_word(word: str, path: str) -> Press:
    """A word of a sheet as a press. Raises :class:`PlanError`."""
    keys, _, target = word.partition(" until ")
    press = _read_press(keys, path)
    field, _, text = target.partition(" ")
    if target and not text:
        raise PlanError(path, f"{word!r} is no press", f"{PRESSES_FORM}, or plus until hour 06")
    return replace(press, field=field, until=text)


def _read_press(part: str, path: str) -> Press:
    times, hold, keys = 1, 0, part
    while match := _TAIL.search(keys):
        keys = keys[: match.start()]
        times = int(match["times"]) if match["times"] else times
        hold = int(match["hold"]) if match["hold"] else hold
    named = tuple(key.strip() for key in keys.split("+"))
    if not all(named) or not 1 <= times <= 60 or hold > 60:
        raise PlanError(path, f"{part!r} is no press", PRESSES_FORM)
    return Press(keys=named, times=times, hold_s=hold)
