"""The steps of the memory: each slot with its entry, or its pair, then the empty slots, then all read back."""

from dataclasses import dataclass, replace
from typing import assert_never

from skavit.core.ground.arrays import DAY_S
from skavit.core.ground.errors import UserError
from skavit.core.kinds.fields import (
    CLOCK_WORD,
    DARK,
    OWN_SHORT,
    PULSE_WORD,
    clearing,
    days_word,
    dialogue_of,
    event_word,
    fields_of,
    hour_text,
    keying,
)
from skavit.core.kinds.kind import Kind
from skavit.core.kinds.parts import Press
from skavit.core.memory import slot_names, slots_in_pairs
from skavit.core.plan.days import WEEKDAYS, Narrowed, Weekdays
from skavit.core.plan.entry import Entry
from skavit.core.plan.times import ClockTime, LimitedTime, SunTime, Time, sun_time_of
from skavit.core.sheet.occasion import Occasion
from skavit.core.sheet.step import Display, DisplayRow, Step, keyed, unknown
from skavit.core.sheet.ways import leaving, on_by
from skavit.core.simulation.purpose import purposes
from skavit.core.text.wording import Words, capital, count, days_text, duration_text, pulses_text


@dataclass(frozen=True, slots=True, kw_only=True)
class Slot:
    """What one slot holds: an entry, or an ON and its OFF; each with its place among the plan's entries."""

    entries: tuple[tuple[int, Entry], ...]


def slots_of(occasion: Occasion) -> tuple[Slot, ...]:
    """The plan's entries in the slots of the kind; one that does not fit a slot gets one of its own."""
    entries = occasion.plan.unit.entries
    alone = tuple((index,) for index in range(len(entries)))
    places = slots_in_pairs(entries) if _by_pairs(occasion) else alone
    return tuple(Slot(entries=tuple((place, entries[place]) for place in held)) for held in places)


def _by_pairs(occasion: Occasion) -> bool:
    """Whether a slot holds an ON and what ends it: by the kind, or by the plan's limits where there is none."""
    if occasion.kind is not None:
        return occasion.kind.slot.shape != "single"
    return occasion.plan.unit.limits.only_pairs


def _slot_word(occasion: Occasion) -> str:
    return "pair" if _by_pairs(occasion) else "slot"


def called(occasion: Occasion, number: int, slot: Slot) -> tuple[str, int]:
    """The word of a slot and its number: by its part of the memory, as everywhere, where that has parts of several shapes."""
    names = () if _by_pairs(occasion) else slot_names(occasion.plan.unit.entries, occasion.plan.unit.limits)
    if not names:
        return _slot_word(occasion), number
    word, _, own = names[slot.entries[0][0]].partition(",")[0].rpartition(" ")
    return word, int(own)


def slots(occasion: Occasion) -> list[Step]:
    """A step for each slot that is used, then the empty ones."""
    serving = purposes(occasion.year)
    held = slots_of(occasion)
    steps = []
    for number, slot in enumerate(held, start=1):
        serves = _serves([serving[index].serves for index, _ in slot.entries])
        step = Step(
            kind="slot",
            title=capital("{} {}".format(*called(occasion, number, slot))) + (f", {serves}" if serves else ""),
            say="; ".join(_sentence(entry, occasion.words) for _, entry in slot.entries),
            display=display_of(occasion, number, slot),
            sign=dialogue_of(occasion.kind, "slot").sign if occasion.kind else "",
        )
        step = _with_presses(step, occasion.kind, number, slot)
        steps.append(keyed(step, number, [entry.to_json() for _, entry in slot.entries]))
    return [*steps, *_empty(occasion, len(held))]


def _with_presses(step: Step, kind: Kind | None, number: int, slot: Slot) -> Step:
    """The step with the keys that bring the slot to what it must hold; in plain words where its dialogue cannot say it."""
    if kind is None:
        return step
    if kind.slots is not None and number > kind.slots:
        return replace(step, sign="", refused=f"{kind.name}: it has {count(kind.slots, 'slot')}")
    step = replace(step, slot=number, last_slot=number)
    if unsaid := _unsaid(kind, slot):
        return unknown(step, f"they do not say {unsaid}")
    try:
        return replace(step, presses=keying(kind, "slot", slot_values(kind, slot)))
    except UserError as error:
        return replace(step, sign="", refused=str(error))


def _unsaid(kind: Kind, slot: Slot) -> str:
    """What of a slot its keys do not say; empty where they say all of it."""
    fields = fields_of(kind, "slot")
    if kind.channels > 1 and "channel" not in fields:
        return "which output it switches"
    if any(entry.disabled for _, entry in slot.entries):
        return "that it is disabled: leave the slot empty until then"
    return "that the relay does not move" if any(entry.bypass for _, entry in slot.entries) else ""


def _serves(told: list[str]) -> str:
    """What a slot is for: the two ends of one window are that window."""
    parts = list(dict.fromkeys(filter(None, told)))
    windows = {part.removesuffix(" begins").removesuffix(" ends") for part in parts}
    return windows.pop() if len(parts) == 2 and len(windows) == 1 else ", ".join(parts)


def _sentence(entry: Entry, words: Words) -> str:
    tail = f", {pulses_text(entry, words)}" if entry.ends_itself else ""
    tail += ", past the reader: the relay does not move" if entry.bypass else ""
    tail += ", kept but disabled: it does nothing" if entry.disabled else ""
    return f"{entry.action.upper()} at {words.time(entry.at)}, {days_text(entry.days)}{tail}"


def display_of(occasion: Occasion, number: int, slot: Slot) -> Display:
    """What a slot must read once it is keyed, in the unit's own words."""
    plan, kind = occasion.plan, occasion.kind
    entry = slot.entries[0][1]
    week: tuple[tuple[str, bool], ...] = ()
    if isinstance(entry.days, Weekdays):
        week = tuple((name, bool(entry.days.mask >> i & 1)) for i, name in enumerate(OWN_SHORT))
    rows = [row for _, part in slot.entries for row in (_row(occasion, part), *_pulse_rows(part, occasion.words))]
    if kind and kind.slot.shape == "run" and _runs(slot):
        rows = [rows[0], DisplayRow(word="run", value=f"{_run_min(slot)} min")]
    word, own = called(occasion, number, slot)
    return Display(
        rows=tuple(rows),
        slot=own,
        slots=_most(occasion) if word == _slot_word(occasion) else None,
        slot_word=word,
        weekdays=week,
        days=days_text(entry.days),
        channels=" + ".join(plan.channels[n - 1].name for n in entry.channels) if len(plan.channels) > 1 else "",
    )


def _row(occasion: Occasion, entry: Entry) -> DisplayRow:
    kind, words = occasion.kind, occasion.words
    word = entry.action.upper() if kind is None else kind.slot.on_word if entry.on else kind.slot.off_word
    sun = sun_time_of(entry.at)
    if sun is not None:
        name = sun.event.name.lower()
        detail = words.time(entry.at).removeprefix(name).strip(", ")
        return DisplayRow(word=word, value=event_word(kind, sun.event) if kind else name, detail=detail)
    time, _, detail = words.time(entry.at).partition(", ")
    return DisplayRow(word=word, value=time, detail=detail)


def _pulse_rows(entry: Entry, words: Words) -> list[DisplayRow]:
    """What is keyed beside the time of an entry that ends itself."""
    if entry.pulse_s is not None:
        return [DisplayRow(word="for", value=duration_text(entry.pulse_s))]
    if entry.repeat is None:
        return []
    return [
        DisplayRow(word="on for", value=duration_text(entry.repeat.on_s)),
        DisplayRow(word="pause", value=duration_text(entry.repeat.off_s)),
        DisplayRow(word="until", value=words.clock(entry.repeat.until.seconds)),
    ]


def slot_values(kind: Kind, slot: Slot) -> dict[str, str]:
    """What each field of a slot must read. Raises :class:`UserError` for what the slot has no place for."""
    fields = fields_of(kind, "slot")
    index, entry = slot.entries[0]
    where = f"{kind.name}: entry {index + 1}"
    values = _channel_values(kind, entry, fields, where) | _days_values(entry, fields, where)
    values |= _pulse_values(entry, fields, where)
    if kind.slot.shape != "single" and len(slot.entries) == 1 and entry.repeat is None:
        wrong = "has no OFF of its own channels and days" if entry.on else "is an OFF without an ON"
        raise UserError(f"{where} {wrong} for its slot")
    match kind.slot.shape:
        case "pair":
            ends = [entry.at for _, entry in slot.entries] if entry.repeat is None else [entry.at, entry.repeat.until]
            for half, time, (place, _) in zip(("on_", "off_"), ends, (slot.entries[0], slot.entries[-1]), strict=True):
                values |= _time_values(kind, time, half, fields, f"{kind.name}: entry {place + 1}")
            return values
        case "run":
            return values | _time_values(kind, entry.at, "", fields, where) | {"run": str(_run_min(slot))}
        case "single":
            return values | _time_values(kind, entry.at, "", fields, where) | {"action": _action_word(kind, entry)}
        case _:
            assert_never(kind.slot.shape)


def _action_word(kind: Kind, entry: Entry) -> str:
    if entry.pulse_s is not None:
        return PULSE_WORD
    return kind.slot.on_word if entry.on else kind.slot.off_word


def _pulse_values(entry: Entry, fields: set[str], where: str) -> dict[str, str]:
    """Seconds of a pulse; how long it sprays and pauses, both nought where it is on without a break."""
    if entry.pulse_s is not None:
        if "pulse" not in fields:
            raise UserError(f"{where}: its slots take no pulses")
        return {"pulse": str(entry.pulse_s)}
    if "spray_s" not in fields:
        if entry.repeat is not None:
            raise UserError(f"{where}: its slots take no pulses")
        return {}
    lengths = (entry.repeat.on_s, entry.repeat.off_s) if entry.repeat else (0, 0)
    found: dict[str, str] = {}
    for name, seconds in zip(("spray", "pause"), lengths, strict=True):
        found |= {f"{name}_min": f"{seconds // 60:02d}", f"{name}_s": f"{seconds % 60:02d}"}
    return found


def _runs(slot: Slot) -> bool:
    """Whether it is a start and a run: both ends are clock times."""
    return len(slot.entries) == 2 and all(isinstance(entry.at, ClockTime) for _, entry in slot.entries)


def _run_min(slot: Slot) -> int:
    on, off = (entry.at for _, entry in slot.entries)
    if not (isinstance(on, ClockTime) and isinstance(off, ClockTime)):
        raise UserError(f"entry {slot.entries[0][0] + 1}: a run in minutes needs clock times")
    return (off.seconds - on.seconds) % DAY_S // 60


def _channel_values(kind: Kind, entry: Entry, fields: set[str], where: str) -> dict[str, str]:
    if "channel" in fields:
        return {"channel": "+".join(map(str, entry.channels))}
    if max(entry.channels) > kind.channels:
        raise UserError(f"{where}: the unit has {count(kind.channels, 'channel')}")
    return {}


def _days_values(entry: Entry, fields: set[str], where: str) -> dict[str, str]:
    days, values = entry.days, {}
    if "from_day" in fields:
        low, high = (101, 1231)
        if isinstance(days, Narrowed) and days.between and not days.without:
            (low, high), days = days.between, days.days
        values = {"from_month": str(low // 100), "from_day": str(low % 100)}
        values |= {"to_month": str(high // 100), "to_day": str(high % 100)}
    if not isinstance(days, Weekdays):
        raise UserError(f"{where}: its slots cannot hold {days_text(entry.days)}")
    if "mon" in fields:
        lit = {name: OWN_SHORT[bit] if days.mask >> bit & 1 else DARK for bit, name in enumerate(WEEKDAYS)}
        return values | lit
    if "days" in fields:
        return values | {"days": days_word(days.mask)}
    if days.mask != 0b1111111:
        raise UserError(f"{where}: its slots act every day")
    return values


def _time_values(kind: Kind, at: Time, half: str, fields: set[str], where: str) -> dict[str, str]:
    match at:
        case LimitedTime():
            raise UserError(f"{where}: its slots take no earliest or latest time")
        case SunTime():
            return _sun_values(kind, at, half, fields, where)
        case ClockTime():
            return _clock_values(kind, at, half, fields, where)
        case _:
            assert_never(at)


def _sun_values(kind: Kind, at: SunTime, half: str, fields: set[str], where: str) -> dict[str, str]:
    if f"{half}event" not in fields or at.event not in kind.sun_events:
        raise UserError(f"{where}: its slots take no {at.event.name.lower()}")
    if at.offset_min and f"{half}offset" not in fields:
        raise UserError(f"{where}: its slots take no offset; fit again, with offsets keyed as a correction")
    offset_min = at.offset_min
    if kind.correction_dialogue is None:
        # A margin that no correction takes off is taken off with each entry's own offset.
        offset_min += kind.margin_min if at.event.morning else -kind.margin_min
    offset = f"{offset_min:+d}" if offset_min else "0"
    return {f"{half}event": event_word(kind, at.event), f"{half}offset": offset}


def _clock_values(kind: Kind, at: ClockTime, half: str, fields: set[str], where: str) -> dict[str, str]:
    seconds = at.seconds % 60
    if seconds and f"{half}second" not in fields:
        raise UserError(f"{where}: its slots take no seconds")
    values = {f"{half}event": CLOCK_WORD} if f"{half}event" in fields else {}
    return values | {
        f"{half}hour": hour_text(kind, at.seconds // 3600),
        f"{half}minute": f"{at.seconds // 60 % 60:02d}",
        f"{half}second": f"{seconds:02d}",
    }


# So many empty slots after the last that a reset may have left filled show that it was done.
_SAMPLE = 2


def _empty(occasion: Occasion, used: int) -> list[Step]:
    """The slots that must hold nothing: all of them, or as many as prove it where everything was reset before."""
    kind = occasion.kind
    most, word = _most(occasion), _slot_word(occasion)
    last = most
    if occasion.was is not None:
        held = slots_of(replace(occasion, plan=occasion.was))
        last = max(occasion.left_over(used, len(held), 0), default=used)
        if last <= used:
            return []  # the plan before used no more: nothing is left over
    elif kind is not None and kind.reset is not None and most is not None:
        last = min(most, max(used, kind.reset.held_slots) + _SAMPLE)
    if most is None and occasion.was is None:
        say = f"Step on past {word} {used}: every {word} after it must show nothing."
    elif most is None or last is None or used >= last:
        full = f"The one {word} is used: look at it" if most == 1 else f"All {most} {word}s are used: step through them"
        say = f"{full} once more, and see that nothing else shows."
    elif occasion.was is not None:
        say = f"Clear {word} {last}" if last == used + 1 else f"Clear {word}s {used + 1} to {last}"
        say += ": the plan before used more."
    elif last < most:
        say = (
            f"The reset has emptied the memory. Look at {word}s {used + 1} to {last}: each must show nothing, and then so "
            f"do the others up to {most}."
        )
    else:
        say = f"Step through {word}s {used + 1} to {most}: {count(most - used, word)}, each must show nothing."
    say += " An entry left over switches the output all the same."
    step = Step(kind="empty", title="The empty slots", say=say)
    if kind is None:
        return [keyed(step, used, most)]
    steps, left = [], (last or used) - used
    shows = Display(rows=(DisplayRow(word="", value=kind.slot.empty),))
    if not used and left:
        # The memory is not open yet, and opening it shows its first slot.
        first = replace(step, say="Open the memory: its first slot must show nothing.", display=shows)
        steps.append(replace(first, slot=1, last_slot=1, otherwise=clearing(kind)))
        left -= 1
    if left:
        on = (Press(keys=(kind.slot.next,)),)
        step = replace(step, display=shows, presses=on, repeat=left, otherwise=clearing(kind))
        step = replace(step, slot=used or 1, last_slot=(used or 1) + left)
    if left or not steps:
        steps.append(step)
    freed = [last] if occasion.was is not None else []
    return [keyed(step, used, most, index, *freed) for index, step in enumerate(steps)]


def _most(occasion: Occasion) -> int | None:
    """How many slots the memory has, where that is known."""
    if occasion.kind is not None:
        return occasion.kind.slots
    most = occasion.plan.unit.limits.entries
    return most // 2 if most is not None and _by_pairs(occasion) else most


def readback(occasion: Occasion) -> list[Step]:
    """Every slot looked at once more."""
    kind = occasion.kind
    if kind is None or not occasion.plan.unit.entries:
        return []
    held = slots_of(occasion)
    dialogue = dialogue_of(kind, "slot")
    lines = tuple(display_of(occasion, number, slot) for number, slot in enumerate(held, start=1))
    step = Step(
        kind="readback",
        title="All read back",
        say="Open the memory again and go through it: each slot as it was keyed.",
        display=Display(
            rows=tuple(
                DisplayRow(
                    word=f"{line.slot} {row.word}",
                    value=row.value,
                    detail=", ".join(filter(None, (row.detail, line.channels, line.days))),
                )
                for line in lines
                for row in line.rows
            )
        ),
        presses=(*dialogue.enter, *on_by(kind, max(len(held) - 1, 1)), *leaving(kind)),
    )
    return [keyed(step, [entry.to_json() for entry in occasion.plan.unit.entries])]
