"""Limits of what the application accepts, checked before any work begins. The core has limits of its own."""

from http import HTTPStatus
from typing import Any, ClassVar

from django.conf import settings

from skavit.core.ground.arrays import DAY_S, YEAR_DAYS
from skavit.core.ground.errors import PlanError, UserError
from skavit.core.plan.document import Plan

# How many bytes a request may send: by nobody, by a person, and by a person at the pages that take files.
BODY_OF_NOBODY = 64_000
BODY_OF_A_PERSON = 1_000_000
BODY_OF_A_FILE = 2_500_000
FILE_BYTES = 2_000_000
BODY_OF_A_PHOTO = 12_500_000
TAKES_FILES, TAKES_PHOTOS = "/import/", "/photos/"
PHOTO_BYTES = 12_000_000
MOST_PHOTOS = 40  # of a visit
MOST_NOTE_PHOTOS = 6

# What a plan may hold: a unit's page with all of it is worked out in some two seconds.
MOST_CHANNELS = 64
MOST_WINDOWS = 300
MOST_ENTRIES = 300  # of all keyings together
MOST_ENTRY_CHANNELS = 1_000  # each entry counted once for each of its channels
MOST_KEYINGS = 24
MOST_OVERRIDES = 400
MOST_HOLIDAYS = 200
MOST_PULSES = 300_000  # a year, of windows and of entries
MOST_STATIONS = 96
MOST_PROGRAMS = 60
MOST_STARTS = 200  # of all programs together
MOST_RUNS = 1_000
MOST_TURNS = 600  # of stations on a day on which every program waters
MOST_DATES = 100  # days off, rain delays, windows of allowed water
MOST_LAMPS = 600  # of all channels together: a network of so many is worked out in a tenth of a second
MOST_ZONES = 24
MOST_TICKS = 1_000  # of steps of an entry sheet that a browser has kept, sent at once
MOST_POINTS = 120  # of a zone, wanted or keyed
# What may be written down of a unit as found.
MOST_LINES = 400
LINES_BYTES = 40_000
# A fit of more than this is not tried while a page waits for it.
WINDOWS_AT_ONCE, CHANNELS_AT_ONCE = 24, 8
STEPS_AT_ONCE = 6_000_000
IMPORT_AT_ONCE_BYTES = 60_000


class Busy(UserError):
    """So many large plans are being worked out that one more would keep other pages waiting."""

    status: ClassVar[HTTPStatus] = HTTPStatus.SERVICE_UNAVAILABLE


def body_limit(path: str, *, logged_in: bool) -> int:
    """How many bytes may be sent to an address."""
    if not logged_in:
        return BODY_OF_NOBODY
    if path.endswith(TAKES_PHOTOS):
        return BODY_OF_A_PHOTO
    return BODY_OF_A_FILE if path.endswith(TAKES_FILES) else BODY_OF_A_PERSON


def has_session(cookies: str) -> bool:
    """Whether a Cookie header claims a session; whether it is one, only the database knows."""
    return f"{settings.SESSION_COOKIE_NAME}=" in cookies


def check_plan(plan: Plan) -> None:
    """Raise :class:`PlanError` where a plan holds more than the application works with, naming what it accepts."""
    entries = plan.unit.all_entries
    for path, held, most, what in (
        ("channels", len(plan.channels), MOST_CHANNELS, "channels"),
        ("windows", sum(len(channel.windows) for channel in plan.channels), MOST_WINDOWS, "windows in all channels"),
        ("unit.entries", len(entries), MOST_ENTRIES, "entries in all"),
        ("unit.entries", sum(len(e.channels) for e in entries), MOST_ENTRY_CHANNELS, "entries, each channel counted"),
        ("unit.keyings", len(plan.unit.keyings), MOST_KEYINGS, "keyings"),
        ("unit.holidays", len(plan.unit.holidays), MOST_HOLIDAYS, "holidays"),
        ("overrides", len(plan.overrides), MOST_OVERRIDES, "overrides"),
        ("repeat", pulses_a_year(plan), MOST_PULSES, "pulses a year"),
        ("channels", sum(len(c.load.run.lamps) for c in plan.channels if c.load and c.load.run), MOST_LAMPS, "lamps"),
        *_of_water(plan),
        *_of_heat(plan),
    ):
        if held > most:
            raise PlanError(path, f"{held:,} are too many", f"at most {most:,} {what}")


def _of_water(plan: Plan) -> list[tuple[str, int, int, str]]:
    """The same of its watering side."""
    water = plan.water
    if water is None:
        return []
    dates = len(water.off_dates) + len(water.rain_delays) + len(water.allowed or ())
    return [
        ("water.stations", len(water.stations), MOST_STATIONS, "stations"),
        ("water.programs", len(water.programs), MOST_PROGRAMS, "programs"),
        (
            "water.programs",
            sum(len(program.starts) for program in water.programs),
            MOST_STARTS,
            "starts in all programs",
        ),
        ("water.programs", sum(len(program.runs) for program in water.programs), MOST_RUNS, "runs in all programs"),
        ("water.programs", water.turns_a_day, MOST_TURNS, "turns of stations a day"),
        ("water", dates, MOST_DATES, "days off, rain delays and windows of allowed water"),
        ("water.by_hand", len(water.by_hand), MOST_OVERRIDES, "things done by hand"),
    ]


def _of_heat(plan: Plan) -> list[tuple[str, int, int, str]]:
    """The same of its heating side."""
    heat = plan.heat
    if heat is None:
        return []
    longest = max(max(len(zone.wanted), len(zone.keyed)) for zone in heat.zones)
    return [
        ("heat.zones", len(heat.zones), MOST_ZONES, "zones"),
        ("heat.zones", longest, MOST_POINTS, "set points of a zone"),
        ("heat.overrides", len(heat.overrides), MOST_OVERRIDES, "things done by hand"),
    ]


def check_lists(raw: Any) -> None:
    """The same of a plan's document that has not been read yet, by the length of its longest lists."""
    unit, water, heat = (raw.get(name) if isinstance(raw, dict) else None for name in ("unit", "water", "heat"))
    for path, listed, most in (
        ("water.stations", water.get("stations") if isinstance(water, dict) else None, MOST_STATIONS),
        ("water.programs", water.get("programs") if isinstance(water, dict) else None, MOST_PROGRAMS),
        ("heat.zones", heat.get("zones") if isinstance(heat, dict) else None, MOST_ZONES),
        ("heat.overrides", heat.get("overrides") if isinstance(heat, dict) else None, MOST_OVERRIDES),
        ("channels", raw.get("channels") if isinstance(raw, dict) else None, MOST_CHANNELS),
        ("overrides", raw.get("overrides") if isinstance(raw, dict) else None, MOST_OVERRIDES),
        ("unit.entries", unit.get("entries") if isinstance(unit, dict) else None, MOST_ENTRIES),
    ):
        if isinstance(listed, list) and len(listed) > most:
            raise PlanError(path, f"{len(listed):,} are too many", f"at most {most:,} {path.split('.')[-1]}")


def pulses_a_year(plan: Plan) -> int:
    """How many pulses windows and entries make in a year at most."""
    trains = []
    for window in (w for channel in plan.channels for w in channel.windows):
        if window.repeat is None:
            continue
        long = (window.for_min or 0) * 60 or (DAY_S if window.to is None else _long(window.start, window.to))
        trains.append((long, window.repeat.every_s))
    for entry in plan.unit.all_entries:
        if entry.repeat is not None:
            trains += [(_long(entry.at, entry.repeat.until), entry.repeat.cycle_s)] * len(entry.channels)
    return sum(-(-long // cycle) * YEAR_DAYS for long, cycle in trains)


def _long(start: object, end: object) -> int:
    """Seconds from one time to another, the next day's where it is not later; with a sun time, the whole day."""
    low, high = (getattr(time, "seconds", None) for time in (start, end))
    if low is None or high is None:
        return DAY_S
    return int((high - low) % DAY_S or DAY_S)
