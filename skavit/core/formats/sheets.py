"""The JSON of an entry sheet, and of what a keypad holds once its keys are pressed (docs/kinds.md, "On the command line")."""

from collections.abc import Iterable, Iterator
from typing import Any

from skavit.core.ground.errors import PlanError, UserError
from skavit.core.ground.strict_json import Node
from skavit.core.kinds.kind import Kind
from skavit.core.kinds.parts import Press
from skavit.core.kinds.spoken import press_word, read_press_word
from skavit.core.sheet.held import held_json
from skavit.core.sheet.keypad import Keypad
from skavit.core.sheet.step import Display, Step

UNLESS_EMPTY = "unless empty: "
# No unit needs so many: a memory of 2,000 slots, each of ten values, takes 40,000.
MOST_WORDS = 100_000


def sheet_json(steps: Iterable[Step]) -> dict[str, Any]:
    """The steps of a sheet, and what its keys do not reach."""
    listed = list(steps)
    return {
        "steps": [
            {"title": s.title, "keys": list(_words(s)), "reads": list(_reads(s.display)), "says": _says(s)}
            for s in listed
        ],
        "cannot": [f"{s.title}: {s.refused or s.unknown}" for s in listed if s.refused or s.unknown],
    }


def _says(step: Step) -> str:
    return " ".join(filter(None, (step.say, step.by_manual, step.refused, step.caution)))


def _words(step: Step) -> Iterator[str]:
    """Its presses in order; those that are done only where the slot is not empty say so."""
    yield from map(press_word, step.way)
    for _ in range(step.repeat):
        yield from map(press_word, step.presses)
        yield from (UNLESS_EMPTY + press_word(press) for press in step.otherwise)
    yield from map(press_word, step.then)


def _reads(display: Display | None) -> Iterator[str]:
    """What the display must read, a line each."""
    if display is None:
        return
    for row in display.rows:
        yield " ".join(filter(None, (row.word, row.value, row.detail)))
    yield from filter(None, (display.days, display.channels))


def read_keys(node: Node) -> Iterator[tuple[str, bool, Press]]:
    """The presses of a printed sheet: where each stands, whether it is done only in a slot that is not empty, and what.

    Raises :class:`PlanError`.
    """
    found = 0
    for step in node.object(["steps", "cannot"])["steps"].items("steps"):
        for word in step.object(["title", "keys", "reads", "says"])["keys"].items("keys"):
            found += 1
            if found > MOST_WORDS:
                word.refuse(f"at most {MOST_WORDS:,} keys", "too many")
            text = word.text()
            unless = text.startswith(UNLESS_EMPTY)
            yield word.path, unless, read_press_word(text.removeprefix(UNLESS_EMPTY), word.path)


def played_json(kind: Kind, sheet: Node, before: Node | None) -> dict[str, Any]:
    """What a kind's keypad holds once the keys of a sheet are pressed, from its normal display.

    ``before`` is what another call of this printed; left out, the keypad holds a wrong clock and stray entries. Raises
    :class:`PlanError` for a key that leads nowhere, with its place.
    """
    keypad = Keypad(kind)
    if before is not None:
        _load(keypad, before)
    held = False  # whether the slot held something when a clearing of it began
    for path, unless, press in read_keys(sheet):
        held = (held or not keypad.shows_empty) if unless else False
        if unless and not held:
            continue
        try:
            keypad.press(press)
        except UserError as error:
            raise PlanError(path, str(error), "a key that does something there") from error
    return held_json(keypad) | {"texts": _texts(keypad)}


def _texts(keypad: Keypad) -> dict[str, Any]:
    """All that the keypad's displays show, field by field: what ``--from`` reads back."""
    rows = {name: [[list(key), values] for key, values in kept.items()] for name, kept in keypad.rows.items() if kept}
    return {"memory": keypad.memory, "settings": keypad.settings, "rows": rows, "mode": keypad.mode}


def _load(keypad: Keypad, node: Node) -> None:
    """Make a keypad hold what was printed. Raises :class:`PlanError` for what no call of this printed."""
    same = {name: set(values) for name, values in keypad.settings.items()}
    try:
        raw = node.value["texts"]
        memory, settings, rows, mode = (raw[name] for name in ("memory", "settings", "rows", "mode"))
        sound = len(memory) == len(keypad.memory) and {n: set(v) for n, v in settings.items()} == same
        sound = sound and 0 <= mode < (len(keypad.kind.modes.cycle) if keypad.kind.modes else 1)
        kept = {name: {tuple(key): dict(values) for key, values in rows.get(name, [])} for name in keypad.rows}
    except (TypeError, KeyError, ValueError, AttributeError):
        sound = False
    if not sound:
        raise PlanError("--from", "was not printed for this kind", "what play printed for the same kind")
    keypad.memory, keypad.settings, keypad.rows, keypad.mode = list(memory), settings, kept, mode
