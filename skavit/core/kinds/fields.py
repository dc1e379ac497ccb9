"""The values that each field of a kind's display steps through, and the presses that bring it to one of them."""

from collections.abc import Callable, Mapping
from functools import lru_cache
from itertools import combinations

from skavit.core.ground.errors import UserError
from skavit.core.kinds.heating import Heating, temperature_word
from skavit.core.kinds.kind import Kind
from skavit.core.kinds.parts import Dialogue, Press
from skavit.core.kinds.watering import Watering
from skavit.core.plan.days import WEEKDAYS, Weekdays
from skavit.core.plan.entry import MAX_PULSE_S
from skavit.core.sun import SunEvent
from skavit.core.text.wording import FULL_DAYS

NO_DAYS = "--"
NO_HOUR = "--"
EVERY_YEAR = "----"
NO_HOLIDAY = "OFF"
USUAL_HOLIDAYS = 30
PULSE_WORD = "PULSE"
CLOCK_WORD = "TIME"
USUAL_CORRECTION_MAX_MIN = 120
LONGEST_RUN_MIN = 24 * 60 - 1
YEARS = range(2000, 2100)
OWN_SHORT = tuple(name.capitalize()[:2] for name in WEEKDAYS)
DARK = "–"
EVERY_DAY = 0b1111111

_TWO_DIGITS = tuple(f"{n:02d}" for n in range(60))
_ALWAYS: dict[str, tuple[str, ...]] = {
    "minute": _TWO_DIGITS,
    "second": _TWO_DIGITS,
    "year": tuple(map(str, YEARS)),
    "month": tuple(map(str, range(1, 13))),
    "day": tuple(map(str, range(1, 32))),
    "week": ("1", "2", "3", "4", "last"),
    "weekday": OWN_SHORT,
    "run": tuple(map(str, range(LONGEST_RUN_MIN + 1))),
    **dict.fromkeys(("spray_min", "spray_s", "pause_min", "pause_s"), _TWO_DIGITS),
    **{name: (DARK, word) for name, word in zip(WEEKDAYS, OWN_SHORT, strict=True)},
}

_FIELD_TEXT = {
    "event": "sun or clock",
    "days": "days",
    "utc": "hours from Greenwich",
    "table": "latitude of its table",
    "rise_min": "sunrise, minutes",
    "set_min": "sunset, minutes",
    "rise_hour": "sunrise, hour",
    "rise_minute": "sunrise, minute",
    "set_hour": "sunset, hour",
    "set_minute": "sunset, minute",
    "run": "run, minutes",
    "pulse": "pulse, seconds",
    "action": "ON or OFF",
    "operating": "mode of operation",
    "channel_mode": "channels switch",
    "minutes": "run, minutes",
    "holiday": "holiday, number",
    "day_rule": "days by",
    "every": "every so many days",
    "pct": "season, %",
    **{
        f"{name}_{unit}": f"{name}, {word}"
        for name in ("spray", "pause")
        for unit, word in (("min", "minutes"), ("s", "seconds"))
    },
    **{name: FULL_DAYS[bit] for bit, name in enumerate(WEEKDAYS)},
}

Values = Mapping[str, str]


def options(kind: Kind, dialogue: str, field: str) -> tuple[str, ...]:
    """The texts that a field steps through, in order and over again, in the unit's own style."""
    name = field.removeprefix("on_").removeprefix("off_")
    name = {"rise_hour": "hour", "set_hour": "hour", "rise_minute": "minute", "set_minute": "minute"}.get(name, name)
    if dialogue == "slot" and name in _IN_A_SLOT:
        return _IN_A_SLOT[name](kind)
    if dialogue == "points" and name in _IN_A_PERIOD:
        return _IN_A_PERIOD[name](kind)
    if (dialogue, name) in _IN_DIALOGUES:
        return _IN_DIALOGUES[dialogue, name](kind)
    if name in _OF_THE_KIND:
        return _OF_THE_KIND[name](kind)
    return _ALWAYS[name.removeprefix("from_").removeprefix("to_")]


def _hours(kind: Kind) -> tuple[str, ...]:
    return tuple(hour_text(kind, hour) for hour in range(24))


def _slot_hours(kind: Kind) -> tuple[str, ...]:
    return (*_hours(kind), NO_HOUR) if kind.slot.cleared_by == "past-last-hour" else _hours(kind)


def _slot_minutes(kind: Kind) -> tuple[str, ...]:
    step = max((kind.limits.clock_step_s or 60) // 60, 1)
    return tuple(f"{minute:02d}" for minute in range(0, 60, step))


def _day_groups(kind: Kind) -> tuple[str, ...]:
    none = (NO_DAYS,) if kind.slot.cleared_by == "no-days" else ()
    return (*(days_word(mask) for mask in day_masks(kind)), *none)


def _signed(kind: Kind) -> tuple[str, ...]:
    most = kind.limits.sun_offset_max_min or USUAL_CORRECTION_MAX_MIN
    return tuple(f"{minutes:+d}" if minutes else "0" for minutes in [*range(most + 1), *range(-most, 0)])


def _actions(kind: Kind) -> tuple[str, ...]:
    pulses = kind.slot_dialogue is not None and any(turned.field == "pulse" for turned in kind.slot_dialogue.fields)
    return (kind.slot.on_word, kind.slot.off_word, *([PULSE_WORD] if pulses else []))


def _degrees(axis: str, most: int) -> Callable[[Kind], tuple[str, ...]]:
    def texts(kind: Kind) -> tuple[str, ...]:
        steps = round(most / kind.sun.step_deg)
        return tuple(degrees_word(n * kind.sun.step_deg, axis) for n in [*range(steps + 1), *range(-steps, 0)])

    return texts


def hour_text(kind: Kind, hour: int) -> str:
    """An hour as the display has it: 06, or 6 AM."""
    if kind.clock.hours == 24:
        return f"{hour:02d}"
    return f"{(hour - 1) % 12 + 1} {'AM' if hour < 12 else 'PM'}"


def event_word(kind: Kind, event: SunEvent) -> str:
    """A sun event in the unit's own word; its twilight, where it has both, by the usual one."""
    twilight = event in (SunEvent.DAWN, SunEvent.DUSK)
    if twilight and kind.sun.meaning != "dawn":
        return event.name.lower()
    return kind.sun.morning_word if event.morning else kind.sun.evening_word


def day_masks(kind: Kind) -> tuple[int, ...]:
    """The weekday sets that its day key steps through, in order."""
    found: list[int] = []
    for group in kind.limits.day_groups or ():
        if isinstance(group, Weekdays):
            found.append(group.mask)
        elif group == "single-days":
            found += [1 << bit for bit in range(7)]
    return tuple(dict.fromkeys(found))


def days_word(mask: int) -> str:
    """A set of weekdays as a display lights it."""
    return " ".join(name for bit, name in enumerate(OWN_SHORT) if mask >> bit & 1)


def field_text(field: str) -> str:
    """A field of a dialogue as one says it: ON hour; sunrise, minutes."""
    if field in _FIELD_TEXT:
        return _FIELD_TEXT[field]
    half, _, name = field.partition("_")
    return f"{half.upper()} {_FIELD_TEXT.get(name, name)}" if half in ("on", "off") else field.replace("_", " ")


def channel_words(kind: Kind) -> tuple[str, ...]:
    """The channels that its channel key steps through."""
    single = [str(number) for number in range(1, kind.channels + 1)]
    if kind.channels == 1 or kind.plan_limits.one_channel:
        return tuple(single)
    return tuple("+".join(some) for size in range(1, kind.channels + 1) for some in combinations(single, size))


def degrees_word(degrees: float, axis: str) -> str:
    """Degrees as a display has them: 39.5 S."""
    side = ("N", "S") if axis == "latitude" else ("E", "W")
    return f"{abs(degrees):g} {side[degrees < 0]}"


def utc_word(minutes: int) -> str:
    """An offset from UTC as a display has it: +12:00."""
    return f"{'-' if minutes < 0 else '+'}{abs(minutes) // 60:02d}:{abs(minutes) % 60:02d}"


def _by_choice(field: str, values: Values) -> bool | None:
    """Whether a field is asked for where a value before it decides that; None where none does."""
    if field in ("from_month", "from_week", "to_month", "to_week") and "rule" in values:
        return values["rule"] == "own"
    if values.get("year") == NO_HOLIDAY:
        return field in ("holiday", "year")
    if "day_rule" in values and (field in WEEKDAYS or field == "every"):
        return values["day_rule"] == ("EVERY" if field == "every" else "WEEK")
    if field == "pulse":
        return values.get("action") == PULSE_WORD
    if field in ("minute", "degrees") and ("period" in values or "start" in values):
        return values.get("hour") != NO_HOUR
    return None


def applies(kind: Kind, field: str, values: Values) -> bool:
    """Whether a unit asks for a field at all, given the values before it."""
    if (chosen := _by_choice(field, values)) is not None:
        return chosen
    half, _, name = field.rpartition("_")
    event = values.get(f"{half}_event" if half in ("on", "off") else "event")
    if event is None or half not in ("", "on", "off"):
        return True
    if name in ("hour", "minute", "second"):
        return event == CLOCK_WORD
    return name != "offset" or event != CLOCK_WORD


def keying(kind: Kind, name: str, values: Values) -> tuple[Press, ...]:
    """The presses that bring the fields of an open dialogue to ``values`` and accept them.

    Fields without a value are passed over. Raises :class:`UserError` for a value that the display does not have.
    """
    dialogue = dialogue_of(kind, name)
    found: list[Press] = []
    for turned in dialogue.fields:
        if not applies(kind, turned.field, values):
            continue
        if turned.field in values:
            until = values[turned.field]
            if until not in options(kind, name, turned.field):
                raise UserError(f"{kind.name}: its {turned.field.replace('_', ' ')} cannot be {until}")
            found.append(Press(keys=(turned.key,), field=turned.field, until=until))
        if dialogue.each:
            found.append(Press(keys=(dialogue.accept,)))
    if not dialogue.each:
        found.append(Press(keys=(dialogue.accept,)))
    return tuple(found)


# Values that a sheet has at hand and many a unit does not ask for.
_WITHOUT = {"clock": {"second"}, "place": {"utc"}}


def unsaid_fields(kind: Kind, name: str, values: Values) -> list[str]:
    """What the keys of a dialogue do not say: values that none of its fields takes, and fields that have no value."""
    asked = fields_of(kind, name)
    spare = set(_WITHOUT.get(name, ())) | ({"weekday"} if kind.clock.has_date or acts_daily(kind) else set())
    spare |= {field for field in _ONE_ONLY if not has_several(kind, field)}
    spare |= {"day_rule"} if values.get("day_rule") == DAY_RULES[0] else set()
    unsaid = [field for field in values if field not in asked and field not in spare]
    unsaid += [field for field in asked if field not in values and applies(kind, field, values)]
    return [field_text(field) for field in unsaid]


# What is not asked for where there is but one.
_ONE_ONLY: dict[str, Callable[[Kind], bool]] = {
    "channel": lambda kind: kind.channels > 1,
    "program": lambda kind: len(program_words(kind)) > 1,
    "station": lambda kind: _watering(kind).stations > 1 and _watering(kind).starts_for != "station",
    "start": lambda kind: _watering(kind).limits.starts != 1,
    "zone": lambda kind: _heating(kind).zones > 1,
    "days": lambda kind: len(day_masks(kind)) > 1,
}


def has_several(kind: Kind, field: str) -> bool:
    """Whether there is a choice that a field makes: one output, program, station or zone is not asked for."""
    return field not in _ONE_ONLY or _ONE_ONLY[field](kind)


def acts_daily(kind: Kind) -> bool:
    """Whether its entries know no weekdays: every day is all that a slot can carry."""
    return kind.slot_dialogue is not None and day_masks(kind) == (EVERY_DAY,)


def fields_of(kind: Kind, name: str) -> set[str]:
    """The fields that one of its dialogues asks for; none where it has no such dialogue."""
    dialogue = dict(kind.dialogues()).get(name)
    return {turned.field for turned in dialogue.fields} if dialogue else set()


def clearing(kind: Kind) -> tuple[Press, ...]:
    """The presses that empty the slot that is shown."""
    slot, first = kind.slot, "00" if kind.clock.hours == 24 else "12 AM"
    match slot.cleared_by:
        case "key":
            return slot.clear
        case "no-days":
            return keying(kind, "slot", _first_events(kind) | {"days": NO_DAYS})
        case "past-last-hour":
            hours = {t.field: NO_HOUR for t in dialogue_of(kind, "slot").fields if t.field.endswith("hour")}
            return keying(kind, "slot", _first_events(kind) | hours)
    same = {t.field: first for t in dialogue_of(kind, "slot").fields if t.field.endswith("hour")}
    same |= {t.field: "00" for t in dialogue_of(kind, "slot").fields if t.field.endswith("minute")}
    return keying(kind, "slot", _first_events(kind) | same)


def _first_events(kind: Kind) -> dict[str, str]:
    return {t.field: CLOCK_WORD for t in dialogue_of(kind, "slot").fields if t.field.endswith("event")}


def dialogue_of(kind: Kind, name: str) -> Dialogue:
    """One of a kind's dialogues; raises :class:`UserError` where it has none of that name."""
    found = dict(kind.dialogues()).get(name)
    if found is None:
        raise UserError(f"{kind.name}: it has no keys for its {name}")
    return found


USUAL_STARTS, USUAL_INTERVAL, USUAL_PROGRAMS, USUAL_RUN_MIN, USUAL_PCT = 4, 31, 4, 240, 200
DAY_RULES = ("WEEK", "ODD", "EVEN", "EVERY")


def _watering(kind: Kind) -> Watering:
    return kind.watering or Watering()


def _counted(most: int) -> tuple[str, ...]:
    return tuple(map(str, range(1, most + 1)))


def program_words(kind: Kind) -> tuple[str, ...]:
    """The programs that its display names, in order: letters, or the stations where each has starts of its own."""
    has = _watering(kind)
    if has.starts_for == "station":
        return _counted(has.stations)
    return tuple(chr(ord("A") + n) for n in range(min(has.limits.programs or USUAL_PROGRAMS, 26)))


def _run_minutes(kind: Kind) -> tuple[str, ...]:
    return _stepped(_watering(kind).limits.run_step_min or 1, _watering(kind).limits.run_max_min or USUAL_RUN_MIN)


@lru_cache(maxsize=64)
def _stepped(step: float, most: float) -> tuple[str, ...]:
    """Numbers from nought in steps."""
    return tuple(f"{step * n:g}" for n in range(int(most / step) + 1))


def _percentages(kind: Kind) -> tuple[str, ...]:
    return _stepped(_watering(kind).limits.adjust_step_pct or 10, _watering(kind).limits.adjust_max_pct or USUAL_PCT)


def _period_hours(kind: Kind) -> tuple[str, ...]:
    """Hours of a period; where dashes mean unused, they come after the last."""
    return (*_hours(kind), NO_HOUR) if _heating(kind).unused == "dashes" else _hours(kind)


def _heating(kind: Kind) -> Heating:
    return kind.heating or Heating()


_IN_A_PERIOD: dict[str, Callable[[Kind], tuple[str, ...]]] = {"hour": _period_hours, "minute": _slot_minutes}
_IN_A_SLOT: dict[str, Callable[[Kind], tuple[str, ...]]] = {"hour": _slot_hours, "minute": _slot_minutes}
_IN_DIALOGUES: dict[tuple[str, str], Callable[[Kind], tuple[str, ...]]] = {
    ("holidays", "year"): lambda _: (NO_HOLIDAY, EVERY_YEAR, *_ALWAYS["year"]),
    ("starts", "hour"): lambda kind: (*_hours(kind), NO_HOUR),
    ("months", "pct"): lambda kind: _stepped(_watering(kind).limits.monthly_step_pct or 10, USUAL_PCT),
}
_OF_THE_KIND: dict[str, Callable[[Kind], tuple[str, ...]]] = {
    "hour": _hours,
    "pulse": lambda kind: tuple(map(str, range(1, (kind.limits.pulse_max_s or MAX_PULSE_S) + 1))),
    "event": lambda kind: (CLOCK_WORD, *(event_word(kind, event) for event in kind.sun_events)),
    "offset": _signed,
    "rise_min": _signed,
    "set_min": _signed,
    "action": _actions,
    "channel_mode": lambda kind: kind.channel_modes,
    "days": _day_groups,
    "channel": channel_words,
    "rule": lambda kind: kind.clock.rules,
    "operating": lambda kind: kind.operating,
    "region": lambda kind: tuple(region.name for region in kind.sun.regions),
    "table": lambda kind: tuple(degrees_word(latitude, "latitude") for latitude in kind.sun.latitudes),
    "latitude": _degrees("latitude", 90),
    "longitude": _degrees("longitude", 180),
    "program": program_words,
    "start": lambda kind: _counted(_watering(kind).limits.starts or USUAL_STARTS),
    "station": lambda kind: _counted(_watering(kind).stations),
    "minutes": _run_minutes,
    "day_rule": lambda _: DAY_RULES,
    "every": lambda kind: _counted(_watering(kind).limits.interval_max_days or USUAL_INTERVAL),
    "pct": _percentages,
    "holiday": lambda kind: _counted(kind.limits.holidays or USUAL_HOLIDAYS),
    "zone": lambda kind: _counted(_heating(kind).zones),
    "period": lambda kind: tuple(_heating(kind).period(n) for n in range(_heating(kind).periods)),
    "degrees": lambda kind: tuple(temperature_word(c) for c in _heating(kind).degrees()),
    "utc": lambda _: tuple(utc_word(half_hours * 30) for half_hours in range(-24, 29)),
}
