"""A sheet is tried before it is shown: its keys are pressed, and what the unit then holds is held against the plan."""

from collections.abc import Iterator, Sequence
from dataclasses import replace

from skavit.core.ground.errors import UserError
from skavit.core.kinds.kind import Kind
from skavit.core.kinds.parts import Press
from skavit.core.sheet.held import entries_of
from skavit.core.sheet.keypad import Keypad
from skavit.core.sheet.slots import Slot
from skavit.core.sheet.step import Step, unknown
from skavit.core.sheet.ways import with_ways

OTHERWISE = "pressed in order they leave something else there"


def checked(
    steps: tuple[Step, ...], kind: Kind, slots: tuple[Slot, ...], keypad: Keypad | None = None
) -> tuple[Step, ...]:
    """The steps, those without their keys whose presses do not bring the unit to what they say.

    ``slots`` are what the memory must hold. ``keypad`` is the unit as it is before the first of them; left out, one with
    stray entries. It is left as it was.
    """
    while True:
        other = keypad.copy() if keypad else Keypad(kind)
        wrong = _tried(steps, kind, other)
        wrong |= {place: OTHERWISE for place in _differing(steps, other, slots) if place not in wrong}
        wrong = {place: why for place, why in wrong.items() if steps[place].has_keys}
        if not wrong:
            return steps
        steps = with_ways(
            [unknown(step, wrong[place]) if place in wrong else step for place, step in enumerate(steps)], kind
        )


def pressed(keypad: Keypad, step: Step) -> Iterator[Press]:
    """The presses of a step, as what the keypad shows meanwhile asks for them."""
    yield from step.way
    for _ in range(step.repeat):
        yield from step.presses
        if step.otherwise and not keypad.shows_empty:
            yield from step.otherwise
    yield from step.then


def follow(keypad: Keypad, steps: Sequence[Step]) -> None:
    """Press the keys of a sheet that was tried before."""
    for step in steps:
        for press in pressed(keypad, step):
            keypad.press(press)


def _tried(steps: Sequence[Step], kind: Kind, keypad: Keypad) -> dict[int, str]:
    """Why the keys of some steps lead nowhere, by their places.

    After each of those the keypad shows the normal display again, as if it had been done by hand.
    """
    wrong: dict[int, str] = {}
    left = list(steps)
    for place in range(len(left)):
        step = left[place]
        try:
            for press in pressed(keypad, step):
                keypad.press(press)
        except UserError as error:
            wrong[place] = str(error)
        stays = step.slot and not step.then and place + 1 < len(left)
        if place not in wrong and not keypad.is_normal and not stays:
            wrong[place] = "they do not lead back to the normal display"
        if place in wrong:
            keypad.to_normal()
            left[place + 1 :] = with_ways(left[place + 1 :], kind)
    return wrong


def _differing(steps: tuple[Step, ...], keypad: Keypad, slots: tuple[Slot, ...]) -> Iterator[int]:
    """The places of the steps that the unit does not hold afterwards."""
    for place, step in enumerate(steps):
        if step.sets and step.presses and not all(keypad.holds(step.sets[0], dict(row)) for row in step.sets[1]):
            yield place
        elif step.kind == "slot" and step.slot and step.presses:
            if not _holds_slot(keypad, step.slot, slots):
                yield place
        elif (step.kind == "mode" and step.presses and not keypad.is_automatic) or (
            step.kind == "empty" and step.slot and any(keypad.memory[len(slots) : step.last_slot])
        ):
            yield place


def _holds_slot(keypad: Keypad, number: int, slots: tuple[Slot, ...]) -> bool:
    """Whether a slot (from 1) holds what it must, as far as a unit shows it."""
    values = keypad.memory[number - 1]
    if values is None:
        return False
    wanted = [replace(entry, id=None) for _, entry in slots[number - 1].entries]
    return [entry.to_json() for entry in entries_of(keypad.kind, values)] == [entry.to_json() for entry in wanted]
