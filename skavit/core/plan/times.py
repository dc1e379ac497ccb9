"""The plan's words for times: clock times, sun times, times with limits; each parses itself and prints itself."""

import re
from dataclasses import dataclass, replace
from datetime import date
from typing import Any, assert_never

from skavit.core.ground.arrays import DAY_S
from skavit.core.ground.errors import PlanError, quoted
from skavit.core.ground.records import Form, Record, member, pattern
from skavit.core.ground.strict_json import Node, ObjectNode
from skavit.core.sun import FIRST_YEAR, LAST_YEAR, SunEvent

MAX_OFFSET_MIN = 720
CLOCK_FORM = "a clock time such as 06:40 or 06:40:30, from 00:00 to 23:59:59"
SUN_FORM = "sunrise, sunset, dawn or dusk, with whole minutes from 0 to 720 such as sunset+10"
TIME_FORM = f"{CLOCK_FORM}; {SUN_FORM}"
DATE_FORM = "a date such as 2027-01-31"
MOMENT_FORM = "a local date and time without offset, such as 2027-01-31T06:30"

_CLOCK = re.compile(r"([01][0-9]|2[0-3]):([0-5][0-9])(?::([0-5][0-9]))?")
_SUN = re.compile(r"(dawn|sunrise|sunset|dusk)(?:([+-])([0-9]{1,3}))?")
_DATE = re.compile(r"[0-9]{4}-[0-9]{2}-[0-9]{2}")
_MOMENT = re.compile(r"([0-9]{4}-[0-9]{2}-[0-9]{2})T([0-9]{2}:[0-9]{2}(?::[0-9]{2})?)")
# The nominal clock of docs/plan-file.md ("Windows"), by which a left-out `ends` is decided; minutes.
NOMINAL_MIN = {SunEvent.DAWN: 330, SunEvent.SUNRISE: 360, SunEvent.SUNSET: 1080, SunEvent.DUSK: 1110}


@dataclass(frozen=True, slots=True, order=True)
class ClockTime:
    """A local clock time, in seconds after midnight; 86400 is 24:00, the next midnight."""

    seconds: int

    def __str__(self) -> str:
        hours, rest = divmod(self.seconds, 3600)
        minutes, seconds = divmod(rest, 60)
        return f"{hours:02d}:{minutes:02d}" + (f":{seconds:02d}" if seconds else "")

    @property
    def nominal_s(self) -> int:
        """Seconds after midnight on the nominal clock."""
        return self.seconds

    def later(self, seconds: int) -> "ClockTime":
        """The clock time so many seconds on, or back, round the clock."""
        return ClockTime((self.seconds + seconds) % DAY_S)

    def to_json(self) -> str:
        """The form of the plan file."""
        return str(self)


@dataclass(frozen=True, slots=True)
class SunTime:
    """A sun event and whole minutes after it (negative: before it)."""

    event: SunEvent
    offset_min: int = 0

    def __str__(self) -> str:
        return self.event.name.lower() + (f"{self.offset_min:+d}" if self.offset_min else "")

    @property
    def nominal_s(self) -> int:
        """Seconds after midnight on the nominal clock, offsets added and not wrapped."""
        return (NOMINAL_MIN[self.event] + self.offset_min) * 60

    def to_json(self) -> str:
        """The form of the plan file."""
        return str(self)


def read_clock_time(node: Node) -> ClockTime:
    """A clock time from 00:00 to 23:59:59."""
    match = _CLOCK.fullmatch(node.value) if isinstance(node.value, str) else None
    if match is None:
        node.refuse(CLOCK_FORM)
    hours, minutes, seconds = (int(part or 0) for part in match.groups())
    return ClockTime(hours * 3600 + minutes * 60 + seconds)


def _read_plain_time(node: Node) -> ClockTime | SunTime:
    match = _SUN.fullmatch(node.value) if isinstance(node.value, str) else None
    if match is None:
        if isinstance(node.value, str) and _CLOCK.fullmatch(node.value):
            return read_clock_time(node)
        node.refuse(TIME_FORM)
    event, sign, digits = match.groups()
    minutes = int(digits or 0)
    if minutes > MAX_OFFSET_MIN:
        node.refuse(f"an offset of 0 to {MAX_OFFSET_MIN} whole minutes")
    return SunTime(SunEvent[event.upper()], -minutes if sign == "-" else minutes)


CLOCK_TEXT = pattern(read_clock_time, str, "^([01][0-9]|2[0-3]):[0-5][0-9](:[0-5][0-9])?$")
CLOCK = CLOCK_TEXT.named("clockTime")
_PLAIN = Form(
    read=_read_plain_time,
    write=str,
    schema=lambda: {
        "anyOf": [CLOCK.schema(), {"type": "string", "pattern": "^(dawn|sunrise|sunset|dusk)([+-][0-9]{1,3})?$"}]
    },
)


@dataclass(frozen=True, slots=True, kw_only=True)
class LimitedTime(Record):
    """A time kept within local clock times of the same date."""

    at: ClockTime | SunTime = member(_PLAIN)
    not_before: ClockTime | None = member(CLOCK, default=None)
    not_after: ClockTime | None = member(CLOCK, default=None)

    def __str__(self) -> str:
        parts = [str(self.at)]
        parts += [f"not before {self.not_before}"] if self.not_before else []
        parts += [f"not after {self.not_after}"] if self.not_after else []
        return ", ".join(parts)

    @property
    def nominal_s(self) -> int:
        """That of the time itself: limits are ignored."""
        return self.at.nominal_s

    @classmethod
    def judged(cls, keys: ObjectNode, given: dict[str, Any]) -> dict[str, Any]:
        """Refuse a latest time before the earliest."""
        before, after = given.get("not_before"), given.get("not_after")
        if before and after and before > after:
            keys.refuse('a "not before" no later than the "not after"', '"not before" comes later than "not after"')
        return given


Time = ClockTime | SunTime | LimitedTime


def sun_time_of(time: Time) -> SunTime | None:
    """The sun time within a time, or None for a clock time."""
    match time:
        case SunTime():
            return time
        case LimitedTime(at=SunTime() as at):
            return at
        case ClockTime() | LimitedTime():
            return None
        case _:
            assert_never(time)


def read_time(node: Node) -> Time:
    """A time of any form."""
    return LimitedTime.read(node) if isinstance(node.value, dict) else _read_plain_time(node)


def _read_end(node: Node) -> Time:
    return ClockTime(DAY_S) if node.value == "24:00" else read_time(node)


TIME_OF_ANY_FORM = Form(
    read=read_time,
    write=lambda time: time.to_json(),
    schema=lambda: {"anyOf": [_PLAIN.schema(), LimitedTime.schema()]},
)
TIME = TIME_OF_ANY_FORM.named("time")
# The end of a window may be 24:00, the next midnight.
END = replace(TIME, read=_read_end, schema=lambda: {"anyOf": [TIME.schema(), {"const": "24:00"}]})


def read_date(node: Node) -> date:
    """A calendar date within the years that the sun tables are good for."""
    if not isinstance(node.value, str) or not _DATE.fullmatch(node.value):
        node.refuse(DATE_FORM)
    try:
        found = date.fromisoformat(node.value)
    except ValueError:
        node.refuse(DATE_FORM, f"{quoted(node.value)} does not exist")
    if not FIRST_YEAR <= found.year <= LAST_YEAR:
        node.refuse(f"a date in the years {FIRST_YEAR} to {LAST_YEAR}")
    return found


def read_local_datetime(node: Node) -> int:
    """A local date and time, as seconds since 1970-01-01 of the digits shown."""
    match = _MOMENT.fullmatch(node.value) if isinstance(node.value, str) else None
    if match is None:
        node.refuse(MOMENT_FORM)
    try:
        day = read_date(Node(match[1], node.path))
        clock = read_clock_time(Node(match[2], node.path))
    except PlanError as error:
        node.refuse(MOMENT_FORM, error.wrong)
    return day_number(day) * DAY_S + clock.seconds


def day_number(day: date) -> int:
    """A date as days since 1970-01-01."""
    return day.toordinal() - date(1970, 1, 1).toordinal()


def day_of(number: int) -> date:
    """The date of a number of days since 1970-01-01."""
    return date.fromordinal(int(number) + date(1970, 1, 1).toordinal())


def local_datetime_text(digits: int) -> str:
    """Seconds of digits since 1970-01-01 in the plan file's form."""
    seconds = digits % DAY_S
    return f"{day_of(digits // DAY_S).isoformat()}T{ClockTime(seconds)}"


DAY = pattern(lambda node: day_number(read_date(node)), lambda day: day_of(day).isoformat(), f"^{_DATE.pattern}$")
LOCAL_DATETIME = pattern(
    read_local_datetime, local_datetime_text, "^[0-9]{4}-[0-9]{2}-[0-9]{2}T[0-9]{2}:[0-9]{2}(:[0-9]{2})?$"
)
