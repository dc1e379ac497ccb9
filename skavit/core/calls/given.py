"""What the calls of the command line are given: files, dates, places and quantities, each refused in words."""

import argparse
from datetime import date
from pathlib import Path

import numpy as np

from skavit.core.ground.arrays import DAY_S
from skavit.core.ground.errors import UserError, quoted
from skavit.core.ground.strict_json import MAX_BYTES, Node
from skavit.core.ground.zones import timezones
from skavit.core.plan.document import Plan, Site, parse_plan
from skavit.core.plan.times import day_of, read_date, read_local_datetime
from skavit.core.site.clock import zone_clock
from skavit.core.water.weather import Weather, read_weather

MOST_TOLERANCE_MIN = 120
ALTITUDES_M = (-450, 9_000)  # from the shore of the Dead Sea to above the highest ground


def date_of(text: str, flag: str) -> date:
    """Return the date of a flag."""
    return read_date(Node(text, flag))


def bytes_of(path: str, what: str) -> bytes:
    """Read a file, or say which sort of file is accepted."""
    try:
        with Path(path).open("rb") as file:
            return file.read(MAX_BYTES + 1)
    except OSError as error:
        raise UserError(f"{quoted(path)}: {error.strerror}; accepted: a readable {what}") from error


def load_plan(path: str) -> Plan:
    """Return the plan of a file."""
    return parse_plan(bytes_of(path, "plan file"))


def load_weather(path: str) -> Weather:
    """Return the weather of a CSV file."""
    return read_weather(bytes_of(path, "weather file"))


def degrees(text: str, flag: str, limit: float) -> float:
    """Return an angle, from minus to plus a limit."""
    return number(text, flag, "degrees", -limit, limit)


def number(text: str, flag: str, what: str, low: float, high: float) -> float:
    """Return a number in a range, in the unit named by ``what``."""
    try:
        value = float(text)
    except ValueError:
        Node(text, flag).refuse(f"{what} from {low:g} to {high:g}")
    return Node(value, flag).number(low, high)


def minutes_of(text: str, name: str) -> int:
    """Return whole minutes of a flag."""
    flag = "--" + name.replace("_", "-")
    if not text.isascii() or not text.isdigit():
        Node(text, flag).refuse(f"whole minutes from 0 to {MOST_TOLERANCE_MIN}")
    return Node(int(text), flag).integer(0, MOST_TOLERANCE_MIN)


def site_of(options: argparse.Namespace) -> Site:
    """Return the place that the flags name."""
    if options.timezone not in timezones():
        Node(options.timezone, "--timezone").refuse("a zone name such as Pacific/Auckland")
    return Site(
        name="-",
        latitude=degrees(options.latitude, "--latitude", 90),
        longitude=degrees(options.longitude, "--longitude", 180),
        timezone=options.timezone,
    )


def instant_of(plan: Plan, options: argparse.Namespace) -> int:
    """The instant at which the site's clock shows ``--at``."""
    digits = read_local_datetime(Node(options.at, "--at"))
    year = day_of(digits // DAY_S).year
    clock = zone_clock(plan.site.timezone, year - 1, year + 1)
    return int(clock.first(np.array([digits]))[0])


def altitude_of(options: argparse.Namespace) -> float:
    """Return the metres above the sea of ``--altitude``."""
    return number(options.altitude, "--altitude", "metres", *ALTITUDES_M)
