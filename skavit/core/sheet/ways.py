"""How each step of a sheet gets into the memory and out of it, whichever steps are left out."""

from collections.abc import Sequence
from dataclasses import replace
from typing import Any

from skavit.core.kinds.fields import dialogue_of
from skavit.core.kinds.kind import Kind
from skavit.core.kinds.parts import Press
from skavit.core.sheet.step import Step

MOST_TIMES = 60  # a press says no more than so many


def with_ways(steps: Sequence[Step], kind: Kind | None) -> tuple[Step, ...]:
    """The steps with their ways into the memory and out of it, keyed one after the other from the normal display.

    Steps that follow each other in the memory stay in it. A step without keys of its own needs no way.
    """
    if kind is None or kind.slot_dialogue is None:
        return tuple(steps)
    stays = bool(kind.slot_dialogue.leave)  # else accepting the last value leaves the memory
    found: list[Step] = []
    open_slot = 0
    last = -1  # the step that has left the memory open
    for step in steps:
        acts = bool(step.slot and step.has_keys)
        if open_slot and not acts and not step.slot:
            found[last] = _with(found[last], then=leaving(kind))
            open_slot = 0
        if not acts:
            found.append(_with(step, way=(), then=()) if step.slot else step)
            continue
        way = _to(kind, open_slot, step.slot)
        open_slot, last = (step.last_slot if stays else 0), len(found)
        found.append(_with(step, way=way, then=()))
    if open_slot:
        found[last] = _with(found[last], then=leaving(kind))
    return tuple(found)


def _with(step: Step, **ways: Any) -> Step:
    """The step with its way or its end, now and in what it says later."""
    spells = tuple(replace(spell, step=replace(spell.step, **ways)) for spell in step.spells)
    return replace(step, spells=spells, **ways)


def _to(kind: Kind, open_slot: int, slot: int) -> tuple[Press, ...]:
    """From an open slot, or from the normal display (0), to a slot that is no earlier."""
    into = () if open_slot else dialogue_of(kind, "slot").enter
    return (*into, *on_by(kind, slot - (open_slot or 1)))


def on_by(kind: Kind, count: int) -> tuple[Press, ...]:
    """The presses that go on by so many slots."""
    return tuple(
        Press(keys=(kind.slot.next,), times=min(count - done, MOST_TIMES)) for done in range(0, count, MOST_TIMES)
    )


def leaving(kind: Kind) -> tuple[Press, ...]:
    """The press that leaves the memory; none where accepting the last value leaves it."""
    leave = dialogue_of(kind, "slot").leave
    return (Press(keys=(leave,)),) if leave else ()
