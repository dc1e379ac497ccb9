"""What a keypad holds, in the plan file's values: read off its display as a person would, by no code of the sheet."""

from collections.abc import Callable
from datetime import date
from typing import Any, assert_never

from skavit.core.kinds.fields import (
    CLOCK_WORD,
    DARK,
    EVERY_DAY,
    EVERY_YEAR,
    NO_HOLIDAY,
    NO_HOUR,
    OWN_SHORT,
    PULSE_WORD,
    event_word,
    program_words,
)
from skavit.core.kinds.kind import Kind
from skavit.core.plan.days import WEEKDAYS, Days, Holiday, Narrowed, Once, Weekdays, Yearly
from skavit.core.plan.document import CHANNEL_MODES, OPERATING
from skavit.core.plan.entry import Entry, Pulses
from skavit.core.plan.times import ClockTime, SunTime, Time, day_number
from skavit.core.sheet.keypad import Keypad, Shown

WHOLE_YEAR = (101, 1231)


def entries_of(kind: Kind, values: Shown) -> tuple[Entry, ...]:
    """The entries that a slot with such texts makes: one, or an ON and its OFF."""
    channels = tuple(int(number) for number in values.get("channel", "1").split("+"))
    days = _days(values)
    match kind.slot.shape:
        case "single":
            action = values.get("action", kind.slot.on_word)
            pulse = int(values["pulse"]) if action == PULSE_WORD else None
            on = action != kind.slot.off_word
            return (Entry(channels=channels, on=on, pulse_s=pulse, at=_time(kind, values, ""), days=days),)
        case "run":
            start = _clock(values)
            run_s = int(values.get("run", "0")) * 60
            ends: tuple[Time, Time] = (start, start.later(run_s))
        case "pair":
            ends = (_time(kind, values, "on_"), _time(kind, values, "off_"))
        case _:
            assert_never(kind.slot.shape)
    pulses = _pulses(values, ends[1])
    first = Entry(channels=channels, on=True, at=ends[0], days=days, repeat=pulses)
    return (first,) if pulses else (first, Entry(channels=channels, on=False, at=ends[1], days=days))


def _pulses(values: Shown, until: Time) -> Pulses | None:
    """Its spray and pause; none where it is on without a break."""
    spray, pause = (int(values.get(f"{n}_min", "0")) * 60 + int(values.get(f"{n}_s", "0")) for n in ("spray", "pause"))
    if not (spray and pause and isinstance(until, ClockTime)):
        return None
    return Pulses(on_s=spray, off_s=pause, until=until)


def _time(kind: Kind, values: Shown, half: str) -> Time:
    event = values.get(f"{half}event", CLOCK_WORD)
    if event == CLOCK_WORD:
        return _clock(values, half)
    named = next(each for each in kind.sun_events if event_word(kind, each) == event)
    offset = int(values.get(f"{half}offset", "0"))
    if kind.correction_dialogue is None:  # nothing else takes its margin off
        offset += -kind.margin_min if named.morning else kind.margin_min
    return SunTime(event=named, offset_min=offset)


def _clock(values: Shown, half: str = "") -> ClockTime:
    """Such as 06 and 40, or 6 PM and 40."""
    number, _, part = values.get(f"{half}hour", "00").partition(" ")
    hour = int(number) % 12 + (12 if part == "PM" else 0) if part else int(number)
    minute, second = (int(values.get(f"{half}{name}", "00")) for name in ("minute", "second"))
    return ClockTime(hour * 3600 + minute * 60 + second)


def _days(values: Shown) -> Days:
    if "mon" in values:
        mask = sum(1 << bit for bit, name in enumerate(WEEKDAYS) if values[name] != DARK)
    elif "days" in values:
        mask = _mask(values["days"])
    else:
        mask = EVERY_DAY
    days = Weekdays(mask)
    if "from_day" not in values:
        return days
    low, high = (int(values[f"{end}_month"]) * 100 + int(values[f"{end}_day"]) for end in ("from", "to"))
    return days if (low, high) == WHOLE_YEAR else Narrowed(days=days, between=(low, high))


def _mask(text: str) -> int:
    """The set of weekdays that a display lights."""
    return sum(1 << OWN_SHORT.index(name) for name in text.split())


def held_json(keypad: Keypad) -> dict[str, Any]:
    """What the keypad holds now, and where its display is; what the kind does not have is left out."""
    kind = keypad.kind
    found: dict[str, Any] = {"display": _display(keypad)}
    if kind.slot_dialogue is not None:
        slots = [entries_of(kind, values) for values in keypad.memory if values is not None]
        found["entries"] = [entry.to_json() for entries in slots for entry in entries]
    settings: dict[str, Callable[[Keypad], Any]] = {
        "clock": _clock_held,
        "place": _place_held,
        "rule": _rule_held,
        "holidays": _holidays_held,
    }
    names = {"rule": "dst"}
    for name, read in settings.items():
        if name in keypad.settings:
            found[names.get(name, name)] = read(keypad)
    if "correction" in keypad.settings:
        found |= _correction_held(keypad)
    if modes := _modes_held(keypad):
        found["modes"] = modes
    if "starts" in keypad.settings:
        found["programs"] = _programs_held(keypad)
    if "points" in keypad.settings:
        found["set_points"] = _points_held(keypad)
    return found


def _display(keypad: Keypad) -> str:
    if keypad.is_normal:
        return "normal"
    if not keypad.open:
        return "keys begun that lead nowhere yet"
    return f"slot {keypad.slot + 1}" if keypad.open == "slot" else keypad.open


def _clock_held(keypad: Keypad) -> dict[str, str]:
    """The time, with the date or the weekday where it has them."""
    clock, day = keypad.settings["clock"], keypad.settings.get("date", {})
    found = {"time": str(_clock(clock))}
    if {"year", "month", "day"} <= day.keys():
        found["date"] = f"{int(day['year']):04d}-{int(day['month']):02d}-{int(day['day']):02d}"
    if "weekday" in clock:
        found["weekday"] = WEEKDAYS[OWN_SHORT.index(clock["weekday"])]
    return found


def _degrees(text: str) -> float:
    """Such as 39.5 S."""
    number, side = text.split()
    return -float(number) if side in ("S", "W") else float(number)


def _place_held(keypad: Keypad) -> dict[str, Any]:
    values, found = keypad.settings["place"], {}
    if "region" in values:
        region = next(each for each in keypad.kind.sun.regions if each.name == values["region"])
        found = {"region": region.name, "latitude": region.latitude, "longitude": region.longitude}
    for field, name in (("latitude", "latitude"), ("longitude", "longitude"), ("table", "latitude")):
        if field in values:
            found[name] = _degrees(values[field])
    if "utc" in values:
        sign, (hours, minutes) = values["utc"][0], values["utc"][1:].split(":")
        found["utc_offset_min"] = (int(hours) * 60 + int(minutes)) * (-1 if sign == "-" else 1)
    return found


def _rule_held(keypad: Keypad) -> str | dict[str, Any]:
    values = keypad.settings["rule"]
    if values["rule"] != "own" or "from_week" not in values:
        return values["rule"]
    return {end: _change_day(values[f"{end}_month"], values[f"{end}_week"]) for end in ("from", "to")}


def _change_day(month: str, week: str) -> dict[str, int | str]:
    """A Sunday of a month: week 1 to 4, 5 for the last."""
    found: dict[str, int | str] = {"month": int(month), "week": 5 if week == "last" else int(week)}
    return found | {"weekday": "sun"}


def _correction_held(keypad: Keypad) -> dict[str, Any]:
    """In minutes without the unit's own margin; as clock times where it takes today's corrected times. A list by channel."""
    kind = keypad.kind
    rows = keypad.rows["correction"] or {(): keypad.settings["correction"]}
    name = "correction_at" if kind.sun.offset == "clock-time" else "correction_min"
    found: list[dict[str, Any]] = []
    for _, values in sorted(rows.items()):
        if name == "correction_at":
            found.append(
                {event: str(_clock(values, f"{half}_")) for event, half in (("sunrise", "rise"), ("sunset", "set"))}
            )
        else:
            rise, fall = (int(values.get(f"{half}_min", "0")) for half in ("rise", "set"))
            found.append({"sunrise_min": rise - kind.margin_min, "sunset_min": fall + kind.margin_min})
    return {name: found if kind.sun.per_channel else found[0]}


def _holidays_held(keypad: Keypad) -> list[dict[str, Any]]:
    found = []
    for _, values in sorted(keypad.rows["holidays"].items(), key=lambda row: int(row[0][0])):
        if values.get("year") != NO_HOLIDAY:
            found.append(_holiday(values).to_json())
    return found


def _holiday(values: Shown) -> Holiday:
    """From a date to another, both included; over the turn of the year where the second comes first."""
    once = values.get("year", EVERY_YEAR) != EVERY_YEAR
    year = int(values["year"]) if once else 2027
    low, high = ((int(values[f"{end}_month"]), int(values[f"{end}_day"])) for end in ("from", "to"))
    leap = not once and (2, 29) in (low, high)
    first, last = (_day(2028 if leap else year, *month_day) for month_day in (low, high))
    days = (last if high >= low else _day(year + 1, *high)) - first + 1
    return Holiday(start=Once(first) if once else Yearly(low[0] * 100 + low[1]), days=days)


def _day(year: int, month: int, day: int) -> int:
    return day_number(date(year, month, day))


def _modes_held(keypad: Keypad) -> dict[str, str]:
    kind, found = keypad.kind, {}
    if kind.modes:
        found["mode"] = kind.modes.cycle[keypad.mode].means
    if "channels" in keypad.settings:
        found["channel_mode"] = CHANNEL_MODES[kind.channel_modes.index(keypad.settings["channels"]["channel_mode"])]
    if "operating" in keypad.settings:
        found["operating"] = OPERATING[kind.operating.index(keypad.settings["operating"]["operating"]) + 1]
    return found


def _programs_held(keypad: Keypad) -> list[dict[str, Any]]:
    """Those that have a start; each named as the display names it."""
    several = len(program_words(keypad.kind)) > 1
    found = []
    for word in program_words(keypad.kind):
        mine = [row for row in keypad.rows["starts"].values() if not several or row.get("program") == word]
        used = [row for row in mine if row["hour"] != NO_HOUR]
        if used:
            found.append(_program_held(keypad, word, used, several=several))
    return found


def _program_held(keypad: Keypad, word: str, starts: list[Shown], *, several: bool) -> dict[str, Any]:
    own = {
        row.get("start", "1") for row in starts
    }  # where each start has a run time, that of one that is not used is idle

    def rows(name: str) -> list[Shown]:
        return [row for row in keypad.rows[name].values() if not several or row.get("program") == word]

    by_station = {
        row.get("station", word if several else "1"): float(row["minutes"])
        for row in rows("runs")
        if row.get("start", "1") in own or "start" not in row
    }
    runs = [{"station": int(n), "run_min": minutes} for n, minutes in by_station.items() if minutes]
    found: dict[str, Any] = {"name": word, "days": "daily"}
    found["starts"] = [str(at) for at in sorted((_clock(row) for row in starts), key=lambda at: at.seconds)]
    found["runs"] = sorted(runs, key=lambda run: run["station"])
    for row in rows("days"):
        found["days"] = _rule_of_days(row)
    found["adjust_pct"] = float(next((row["pct"] for row in rows("season")), "100"))
    months = {int(row["month"]): float(row["pct"]) for row in rows("months")}
    if any(pct != 100 for pct in months.values()):
        found["monthly_pct"] = [months.get(month, 100.0) for month in range(1, 13)]
    return found


def _rule_of_days(row: Shown) -> Any:
    """Weekdays, odd or even, or an interval: from when it counts is no matter of its keys."""
    match row.get("day_rule", "WEEK"):
        case "ODD":
            return {"parity": "odd"}
        case "EVEN":
            return {"parity": "even"}
        case "EVERY":
            return {"every": int(row["every"])}
    return _days(row).to_json()


def _points_held(keypad: Keypad) -> list[list[dict[str, Any]]]:
    """The set points of each zone, day by day of the week; days of equal points together."""
    kind = keypad.kind
    zones = kind.heating.zones if kind.heating else 1
    found = []
    for zone in range(1, zones + 1):
        by_day: dict[tuple[tuple[str, float], ...], int] = {}
        for bit, day in enumerate(OWN_SHORT):
            rows = [r for (z, d, _), r in keypad.rows["points"].items() if z in ("", str(zone)) and d == day]
            points = {(str(_clock(r)), float(r["degrees"])) for r in rows if r["hour"] != NO_HOUR}
            if points:
                key = tuple(sorted(points))
                by_day[key] = by_day.get(key, 0) | 1 << bit
        found.append(
            [
                {"days": Weekdays(mask).to_json(), "at": at, "c": c}
                for points, mask in by_day.items()
                for at, c in points
            ]
        )
    return found
