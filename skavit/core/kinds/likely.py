"""A kind whose outputs or place were changed: the keys that go with that, as they most likely are."""

from dataclasses import replace

from skavit.core.kinds.kind import Kind
from skavit.core.kinds.offsets import keyed_like
from skavit.core.kinds.parts import Dialogue, FieldKey

PLACE_FIELDS = {
    "coordinates": ("latitude", "longitude", "utc"),
    "region": ("region",),
    "table": ("table",),
}


def with_likely_keys(before: Kind, kind: Kind) -> Kind:
    """The kind with the keys for another number of outputs, or another way to take its place, than it had ``before``.

    Of several outputs a slot names its own first. A place is keyed where it was; one that had no keys, one line further on
    than what is like it. All of it is to be held against the manual.
    """
    if (kind.channels > 1) != (before.channels > 1):
        slot = _naming_output(kind.slot_dialogue, named=kind.channels > 1)
        kind = replace(kind, slot_dialogue=slot)
    if kind.sun.place != before.sun.place:
        kind = replace(kind, place_dialogue=_place(kind))
    return kind


def changed_keys(before: Kind, kind: Kind) -> tuple[str, ...]:
    """The names of the dialogues in which two kinds differ."""
    a, b = dict(before.dialogues()), dict(kind.dialogues())
    return tuple(name for name in {**a, **b} if a.get(name) != b.get(name))


def _naming_output(dialogue: Dialogue | None, *, named: bool) -> Dialogue | None:
    """The slot's dialogue with the output before all else, or without it."""
    if dialogue is None or not dialogue.fields:
        return dialogue
    own = tuple(turned for turned in dialogue.fields if turned.field != "channel")
    first = (FieldKey(field="channel", key=dialogue.fields[0].key),) if named else ()
    return replace(dialogue, fields=(*first, *own))


def _place(kind: Kind) -> Dialogue | None:
    """The dialogue for its place with the fields of its way to take one; none where it takes none."""
    names = PLACE_FIELDS.get(kind.sun.place)
    model = kind.place_dialogue or kind.date_dialogue or kind.clock_dialogue
    return keyed_like(kind, kind.place_dialogue, model, names) if names and model else None
