"""A kind that takes its offset another way: its keys and its limits follow."""

from dataclasses import replace

from skavit.core.kinds.kind import Kind
from skavit.core.kinds.parts import Dialogue, FieldKey, Press

IN_MINUTES = ("rise_min", "set_min")
AS_CLOCK_TIMES = ("rise_hour", "rise_minute", "set_hour", "set_minute")
LONGER_S = 2


def with_offset(kind: Kind, offset: str) -> Kind:
    """The kind with its offset taken as ``offset`` says: with each entry, as a correction in minutes or as a clock time.

    A correction that it had no keys for is keyed as its place is, one line further on: hold that against the manual.
    """
    if offset == kind.sun.offset:
        return kind
    sun = replace(kind.sun, offset=offset)
    limits = replace(kind.limits, offset_by="correction" if offset in ("minutes", "clock-time") else "entry")
    if offset == "none":
        limits = replace(limits, sun_offset_max_min=0)
    elif kind.limits.sun_offset_max_min == 0:
        limits = replace(limits, sun_offset_max_min=None)
    return replace(
        kind,
        sun=sun,
        limits=limits,
        slot_dialogue=_slot_with_offset(kind.slot_dialogue, wanted=offset == "entry"),
        correction_dialogue=_correction(kind, offset),
    )


def _slot_with_offset(dialogue: Dialogue | None, *, wanted: bool) -> Dialogue | None:
    """The slot's dialogue with an offset behind each event, or with none."""
    if dialogue is None:
        return None
    fields: list[FieldKey] = []
    own = [turned for turned in dialogue.fields if not turned.field.endswith("offset")]
    for place, turned in enumerate(own):
        fields.append(turned)
        half, _, name = turned.field.rpartition("_")
        following = own[place + 1].field if place + 1 < len(own) else ""
        after_event = name == "event" and not following.endswith(("hour", "minute"))
        after_time = name == "minute" and any(t.field == f"{half}_event".lstrip("_") for t in own)
        if wanted and (after_event or after_time):
            fields.append(FieldKey(field=f"{half}_offset".lstrip("_"), key=turned.key))
    return replace(dialogue, fields=tuple(fields))


def _correction(kind: Kind, offset: str) -> Dialogue | None:
    if offset not in ("minutes", "clock-time"):
        return None
    model = kind.correction_dialogue or kind.place_dialogue or kind.date_dialogue or kind.clock_dialogue
    if model is None:
        return None
    names = IN_MINUTES if offset == "minutes" else AS_CLOCK_TIMES
    if kind.sun.per_channel and kind.channels > 1:
        names = ("channel", *names)
    return keyed_like(kind, kind.correction_dialogue, model, names)


def keyed_like(kind: Kind, own: Dialogue | None, model: Dialogue, names: tuple[str, ...]) -> Dialogue:
    """A dialogue that asks for other fields, turned as those of ``model`` are; one line further on where it is none of its own."""
    key = model.fields[0].key if model.fields else model.accept
    fields = tuple(FieldKey(field=name, key=key) for name in names)
    return replace(model, enter=model.enter if own else _one_further(kind, model), fields=fields)


def _one_further(kind: Kind, model: Dialogue) -> tuple[Press, ...]:
    """A way in that no other dialogue has: one line further down than all; where it has no lines, a key held longer."""
    taken = [dialogue.enter for _, dialogue in kind.dialogues()]
    enter = model.enter
    lines = [n for n, press in enumerate(enter) if n and press.keys != (model.accept,) and not press.hold_s]
    place = lines[-1] if lines else 0
    while enter in taken:
        press = enter[place]
        other = replace(press, times=press.times + 1) if lines else replace(press, hold_s=press.hold_s + LONGER_S)
        enter = (*enter[:place], other, *enter[place + 1 :])
    return enter
