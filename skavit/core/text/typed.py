"""What a person types, in the words of the plan file: clock times, dates, days, and whole entries on a line."""

import re
from collections.abc import Sequence
from datetime import date
from typing import Any

from skavit.core.ground.errors import PlanError
from skavit.core.ground.strict_json import Node
from skavit.core.plan.days import MAX_HOLIDAY_DAYS, NAMED, WEEKDAYS
from skavit.core.plan.entry import Entry, read_entry
from skavit.core.plan.sun_settings import SunSettings
from skavit.core.plan.times import read_date
from skavit.core.text.wording import FULL_DAYS, MONTHS

_TWELVE = re.compile(r"(\d{1,2})(?:[:.]?(\d{2}))?(?:[:.](\d{2}))?\s*([ap])\.?m\.?", re.IGNORECASE)
_LOOSE = re.compile(r"(\d{1,2})(?:[:.h]?(\d{2})(?:[:.](\d{2}))?)?")
_DAY_MONTH = re.compile(r"(\d{1,2})\.?\s*([a-z]{3})[a-z]*|([a-z]{3})[a-z]*\s*(\d{1,2})", re.IGNORECASE)


def clock_word(text: str) -> str:
    """A typed clock time in the plan file's form where it is one; else as typed, for the core to refuse."""
    text = text.strip()
    if match := _TWELVE.fullmatch(text):
        hours, minutes, seconds = int(match[1]), int(match[2] or 0), match[3]
        if 1 <= hours <= 12 and minutes < 60:
            hours = hours % 12 + (12 if match[4].lower() == "p" else 0)
            return f"{hours:02d}:{minutes:02d}" + (f":{seconds}" if seconds and seconds != "00" else "")
    if match := _LOOSE.fullmatch(text):
        seconds = f":{match[3]}" if match[3] and match[3] != "00" else ""
        return f"{int(match[1]):02d}:{match[2] or '00'}{seconds}"
    return text


def month_day_word(text: str) -> str:
    """14 Nov, Nov 14 or 11-14 in the plan file's form; else as typed, for the core to refuse."""
    text = text.strip()
    if match := _DAY_MONTH.fullmatch(text):
        name = (match[2] or match[3]).capitalize()
        if name in MONTHS:
            return f"{MONTHS.index(name) + 1:02d}-{int(match[1] or match[4]):02d}"
    return text


_ISO = re.compile(r"\d{4}-\d{2}-\d{2}")
_NUMBERS = re.compile(r"(\d{1,2})[./-](\d{1,2})[./-](\d{4}|\d{2})")  # the day first
_DAY_FIRST = re.compile(r"(\d{1,2})[.\s/-]*([a-z]{3})[a-z]*[.\s/-]*(\d{4}|\d{2})?", re.IGNORECASE)
CLOCK_TYPED_FORM = "a clock time such as 06:40, 16.30 or 4:30 pm"
DATE_TYPED_FORM = "a date such as 15 Feb 2027 or 2027-02-15"


def date_typed(text: str, path: str, today: date) -> date:
    """2027-02-15, 15.2.2027, 15 Feb 2027, 15 Feb 27 or 15 Feb; a year left out is this one. Raises :class:`PlanError`."""
    text = text.strip()
    if _ISO.fullmatch(text):
        return read_date(Node(text, path))
    if numbers := _NUMBERS.fullmatch(text):
        return read_date(Node(_iso(numbers[3], int(numbers[2]), int(numbers[1])), path))
    match = _DAY_FIRST.fullmatch(text)
    if match is None or match[2].capitalize() not in MONTHS:
        Node(text, path).refuse(DATE_TYPED_FORM)
    month = MONTHS.index(match[2].capitalize()) + 1
    return read_date(Node(_iso(match[3] or str(today.year), month, int(match[1])), path))


def _iso(year: str, month: int, day: int) -> str:
    """A date of the plan file; a year of two digits is one of this century."""
    return f"{int(year) + (2000 if len(year) == 2 else 0):04d}-{month:02d}-{day:02d}"


def dated_words(text: str) -> list[str]:
    """25 Dec, 6 Feb 2027 as 12-25 and 2027-02-06; what is no date stays as typed, for the core to refuse."""
    found = []
    for part in filter(None, (part.strip() for part in re.split("[,;]", text))):
        match, numbers = _DAY_FIRST.fullmatch(part), _NUMBERS.fullmatch(part)
        if numbers:
            found.append(_iso(numbers[3], int(numbers[2]), int(numbers[1])))
        elif match and match[3] and match[2].capitalize() in MONTHS:
            found.append(_iso(match[3], MONTHS.index(match[2].capitalize()) + 1, int(match[1])))
        else:
            found.append(month_day_word(part))
    return found


_FOR_DAYS = re.compile(r"(.+?)\s+for\s+(\d{1,3})\s+days?", re.IGNORECASE)
_UNTIL = re.compile(r"(.+?)\s+to\s+(.+)", re.IGNORECASE)


def dates_typed(text: str) -> list[str | dict[str, Any]]:
    """The same with stretches: 24 Dec for 10 days, or 24 Dec to 2 Jan as each of its dates."""
    found: list[str | dict[str, Any]] = []
    for part in filter(None, (part.strip() for part in re.split("[,;]", text))):
        found += _stretch(part) or dated_words(part)
    return found


def _stretch(part: str) -> Sequence[str | dict[str, Any]]:
    """What a stretch is in the plan file; nothing where it is no stretch, or not one of dates."""
    if match := _FOR_DAYS.fullmatch(part):
        (first,), days = dated_words(match[1]) or [""], int(match[2])
        fits = _day_of(first) is not None and 1 <= days <= MAX_HOLIDAY_DAYS
        return [{"from": first, "days": days}] if fits else []
    if match := _UNTIL.fullmatch(part):
        (first,), (last,) = (dated_words(end) or [""] for end in (match[1], match[2]))
        days = _days_between(first, last)
    else:
        return []
    start = _day_of(first)
    if start is None or not 1 <= days <= MAX_HOLIDAY_DAYS:
        return []
    dates = (date.fromordinal(start.toordinal() + n) for n in range(days))
    return [day.isoformat() if _ISO.fullmatch(first) else f"{day.month:02d}-{day.day:02d}" for day in dates]


_A_LEAP_YEAR = 2028


def _day_of(word: str) -> date | None:
    """A date of the plan file; a month and day in a leap year."""
    try:
        return date.fromisoformat(word if _ISO.fullmatch(word) else f"{_A_LEAP_YEAR}-{word}")
    except ValueError:
        return None


def _days_between(first: str, last: str) -> int:
    """How many days two dates span, both included; 0 where they do not go together."""
    start, end = _day_of(first), _day_of(last)
    if start is None or end is None or bool(_ISO.fullmatch(first)) != bool(_ISO.fullmatch(last)):
        return 0
    days = (end - start).days + 1
    return days if days > 0 or _ISO.fullmatch(first) else days + MAX_HOLIDAY_DAYS


def weekday_of(word: str) -> int | None:
    """Tu, Tue or Tuesday as 1; None where it is none."""
    low = word.lower()
    for number, name in enumerate(FULL_DAYS):
        if len(low) >= MIN_DAY_LETTERS and name.lower().startswith(low):
            return number
    return None


MIN_DAY_LETTERS = 2
LINE_FORM = "on or off, a time, then days or nothing, such as: on sunset+10, off 22:40 mo-fr, c2 on 6:15 am sa su"
_SLOT = re.compile(r"\d{1,3}[.:)]?")
_CHANNELS = re.compile(r"c(?:h)?(\d{1,2}(?:\+\d{1,2})*)", re.IGNORECASE)
_HALF = re.compile(r"[ap]\.?m\.?", re.IGNORECASE)


def slot_typed(text: str) -> int | None:
    """The slot number typed before an entry on a line; None where there is none."""
    words = text.replace(",", " ").split()
    numbered = len(words) > 1 and _SLOT.fullmatch(words[0]) is not None
    return int(words[0].rstrip(".:)")) if numbered else None


def entry_line(text: str, path: str, channels: int, sun: SunSettings) -> Entry:
    """One entry typed on a line: its slot number if any, channel if any, on or off, time, days.

    Raises :class:`PlanError` with ``path`` for what is none.
    """
    words = text.replace(",", " ").split()
    if slot_typed(text) is not None:
        words = words[1:]
    chosen = [1] if channels == 1 else list(range(1, channels + 1))
    if words and (match := _CHANNELS.fullmatch(words[0])):
        chosen, words = [int(part) for part in match[1].split("+")], words[1:]
    if len(words) < 2 or words[0].lower() not in ("on", "off"):
        Node(text, path).refuse(LINE_FORM)
    action, time, rest = words[0].lower(), words[1], words[2:]
    if rest and _HALF.fullmatch(rest[0]):
        time, rest = time + rest[0], rest[1:]
    while rest and re.fullmatch(r"[+-]\d*|\d+", rest[0]) and not time[0].isdigit():
        time, rest = time + rest[0], rest[1:]
    time = time.lower() if not time[0].isdigit() else clock_word(time)
    raw = {"channels": chosen, "action": action, "at": time, "days": days_typed(rest, text, path, LINE_FORM)}
    try:
        return read_entry(Node(raw, path), channels, sun)
    except PlanError as error:
        raise PlanError(path, error.wrong, error.accepted) from error


def days_typed(words: list[str], text: str, path: str, form: str) -> Any:
    """Nothing for every day, a name, weekdays, or a range such as mo-fr; the plan file's words.

    Raises :class:`PlanError` for a word that names no day of the line ``text``, of which ``form`` is accepted.
    """
    if not words or [word.lower() for word in words] in (["every", "day"], ["all"]):
        return "daily"
    if len(words) == 1 and words[0].lower() in NAMED:
        return words[0].lower()
    found: list[int] = []
    for word in words:
        first, _, last = word.partition("-")
        low, high = weekday_of(first), weekday_of(last) if last else weekday_of(first)
        if low is None or high is None:
            Node(text, path).refuse(form, f"{word!r} names no day")
        found += [(low + step) % 7 for step in range((high - low) % 7 + 1)]
    return [WEEKDAYS[number] for number in sorted(set(found))]
