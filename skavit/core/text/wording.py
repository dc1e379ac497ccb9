"""Times, dates and durations as people say them, in 24 or 12 hours."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from datetime import date
from typing import assert_never

import numpy as np

from skavit.core.ground.arrays import DAY_S, Ints
from skavit.core.plan.clock_settings import ByHand, DstRule, NamedRule, OwnRule
from skavit.core.plan.days import DAILY, Dated, Dates, Days, EveryNth, Holiday, Narrowed, Once, Parity, Weekdays, Yearly
from skavit.core.plan.entry import Entry
from skavit.core.plan.times import ClockTime, LimitedTime, SunTime, Time, day_of
from skavit.core.plan.window import Cycle
from skavit.core.text.quantities import (
    degrees_of,
    depth_of,
    flow_of,
    kelvin_hours_of,
    pressure_of,
    rate_of,
    volume_of,
    warmth_of,
)

MONTHS = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")
FULL_DAYS = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")
SHORT_DAYS = tuple(name[:3] for name in FULL_DAYS)
# Dates this close together are told as one stretch: a weekend or a day left out does not end it.
STRETCH_GAP_DAYS = 3
MAX_STRETCHES = 4
# The two words that crews have for it: the first in New Zealand and the United States, the second in Britain.
DAYLIGHT_SAVING, SUMMER_TIME = "daylight saving", "summer time"
YEAR_DAYS = 365


@dataclass(frozen=True, slots=True)
class Words:
    """How times are written; the plan file itself always has 24 hours."""

    twelve_hour: bool = False
    summer: str = DAYLIGHT_SAVING  # what the crew calls the clock being an hour ahead
    us_units: bool = False  # gallons, inches and feet in place of litres, millimetres and metres
    slots: tuple[str, ...] = ()  # what each entry's place is called; empty: by its number among the entries

    def said(self, text: str) -> str:
        """A text of this program with the crew's own word for daylight saving."""
        if self.summer == DAYLIGHT_SAVING:
            return text
        return text.replace(DAYLIGHT_SAVING, self.summer).replace(capital(DAYLIGHT_SAVING), capital(self.summer))

    def depth(self, mm: float) -> str:
        """A depth of water."""
        return depth_of(mm, us=self.us_units)

    def rate(self, mm_h: float) -> str:
        """A precipitation rate."""
        return rate_of(mm_h, us=self.us_units)

    def flow(self, l_min: float) -> str:
        """A flow."""
        return flow_of(l_min, us=self.us_units)

    def pressure(self, kpa: float) -> str:
        """A pressure."""
        return pressure_of(kpa, us=self.us_units)

    def volume(self, litres: float) -> str:
        """So much water."""
        return volume_of(litres, us=self.us_units)

    def warmth(self, c: float) -> str:
        """A temperature in the reader's units."""
        return warmth_of(c, us=self.us_units)

    def degrees(self, kelvin: float) -> str:
        """A difference of temperatures in the reader's units."""
        return degrees_of(kelvin, us=self.us_units)

    def kelvin_hours(self, kelvin_hours: float) -> str:
        """Degrees times hours in the reader's units."""
        return kelvin_hours_of(kelvin_hours, us=self.us_units)

    def of_slots(self, slots: tuple[str, ...]) -> "Words":
        """The same, with places called so."""
        return replace(self, slots=slots)

    def slot(self, number: int) -> str:
        """What the place of an entry (from 1) is called: slot 3; or pair 2, its OFF."""
        return self.slots[number - 1] if number <= len(self.slots) else f"slot {number}"

    def both_slots(self, first: int, second: int) -> str:
        """Two of them: slots 1 and 2; or pair 1, its OFF, and pair 2, its ON."""
        return f"{self.slot(first)}, and {self.slot(second)}" if self.slots else f"slots {first} and {second}"

    def slot_of(self, number: int) -> str:
        """The same where the entry's action is told beside it: slot 3; or pair 2."""
        return self.slot(number).split(",")[0]

    def clock(self, seconds: int) -> str:
        """Seconds after midnight as a clock time, with seconds only where there are any."""
        if seconds == DAY_S:
            return "midnight" if self.twelve_hour else "24:00"
        seconds %= DAY_S
        if not self.twelve_hour:
            return str(ClockTime(seconds))
        hours, rest = divmod(seconds, 3600)
        tail = f":{rest % 60:02d}" if rest % 60 else ""
        return f"{(hours - 1) % 12 + 1}:{rest // 60:02d}{tail} {'am' if hours < 12 else 'pm'}"

    def minute(self, seconds: int) -> str:
        """The same, to the nearest minute."""
        return self.clock((seconds + 30) // 60 * 60 % DAY_S)

    def time(self, time: Time) -> str:
        """A time of a plan."""
        match time:
            case ClockTime():
                return self.clock(time.seconds)
            case SunTime():
                name = time.event.name.lower()
                if not time.offset_min:
                    return name
                return f"{name} {'+' if time.offset_min > 0 else '−'} {abs(time.offset_min)} min"
            case LimitedTime():
                return self._limited(time)
            case _:
                assert_never(time)

    def _limited(self, time: LimitedTime) -> str:
        parts = [self.time(time.at)]
        parts += [f"not before {self.clock(time.not_before.seconds)}"] if time.not_before else []
        parts += [f"not after {self.clock(time.not_after.seconds)}"] if time.not_after else []
        return ", ".join(parts)


PLAIN = Words()


def date_text(day: int) -> str:
    """A day number as 14 Nov."""
    found = day_of(day)
    return f"{found.day} {MONTHS[found.month - 1]}"


def weekday_date(day: int) -> str:
    """A day number as Mon 6 Dec."""
    return f"{SHORT_DAYS[day_of(day).weekday()]} {date_text(day)}"


def dated_text(day: int) -> str:
    """A day number as 14 Nov 2027."""
    return f"{date_text(day)} {day_of(day).year}"


def months_text(months: Iterable[int]) -> str:
    """Months (from 0) by their names: Jan, Feb."""
    return ", ".join(MONTHS[month] for month in months)


def month_day_words(month_day: int) -> str:
    """1225 as 25 Dec."""
    return f"{month_day % 100} {MONTHS[month_day // 100 - 1]}"


RULE_TEXT = {
    "zone": "as the law has it at the site",
    "none": "no daylight saving",
    "us": "the rule of the United States",
    "us-1987": "the rule of the United States before 2007",
    "eu": "the rule of the European Union",
    "own": "a rule of its own, a month and a week for either change",
    "by-hand": "moved by hand",
}


def rule_text(rule: DstRule, words: Words = PLAIN) -> str:
    """A daylight-saving rule in words."""
    match rule:
        case NamedRule(name):
            return words.said(RULE_TEXT[name])
        case OwnRule():
            return RULE_TEXT["own"]
        case ByHand():
            return RULE_TEXT["by-hand"]
        case _:
            assert_never(rule)


def unit_rule_text(rule: DstRule, words: Words, *, by_hand: bool) -> str:
    """The same of a unit that may know no rule: whoever comes then moves it as the law has it."""
    if by_hand and rule == NamedRule("zone"):
        return "moved by hand, on the dates of the law"
    return rule_text(rule, words)


def start_words(dated: Dated) -> str:
    """25 Dec for each year's, 14 Nov 2027 for one year's."""
    match dated:
        case Once(day):
            return dated_text(day)
        case Yearly(month_day):
            return month_day_words(month_day)
        case _:
            assert_never(dated)


def stretches(days: Ints, gap: int = STRETCH_GAP_DAYS) -> list[tuple[int, int]]:
    """Rising day numbers gathered into (first, last) stretches with gaps of less than ``gap`` days."""
    if not days.size:
        return []
    breaks = np.nonzero(np.diff(days) > gap)[0]
    firsts, lasts = days[np.concatenate([[0], breaks + 1])], days[np.concatenate([breaks, [days.size - 1]])]
    return [(int(a), int(b)) for a, b in zip(firsts, lasts, strict=True)]


def dates_text(days: Ints) -> str:
    """Dates as a person lists them: 1-13 Jan, 25 Sep, 4 Nov-31 Dec."""
    found = stretches(days)
    if len(found) > MAX_STRETCHES:
        found = [(found[0][0], found[-1][1])]
    return ", ".join(_stretch_text(first, last) for first, last in found)


def _stretch_text(first: int, last: int) -> str:
    if first == last:
        return date_text(first)
    a, b = day_of(first), day_of(last)
    if a.year != b.year:
        return f"{date_text(first)} {a.year} to {date_text(last)} {b.year}"
    if a.month == b.month:
        return f"{a.day}–{date_text(last)}"
    return f"{date_text(first)}–{date_text(last)}"


def days_text(days: Days) -> str:
    """A day rule in words."""
    match days:
        case Weekdays():
            return "every day" if days == DAILY else _weekdays_text(days.mask)
        case Parity():
            return f"{'odd' if days.odd else 'even'} dates"
        case EveryNth():
            return f"every {_ordinal(days.interval)} day from {dated_text(days.start)}"
        case Dates():
            once = [dated_text(day) for day in days.once]
            return ", ".join([*_yearly_texts(days.yearly), *map(_span_text, days.spans), *once])
        case Narrowed():
            return _narrowed_text(days)
        case _:
            assert_never(days)


def _span_text(span: Holiday) -> str:
    """So many days from a date: 24 Dec for 10 days."""
    return f"{start_words(span.start)} for {count(span.days, 'day')}"


_LEAST_RUN = 3  # so many dates in a row are told as a stretch


def _yearly_texts(dates: Iterable[int]) -> list[str]:
    """Months and days as texts, in their order; those in a row as one: 24 Dec to 2 Jan."""
    runs: list[list[int]] = []
    for month_day in dates:
        if runs and _day_after(runs[-1][-1]) == month_day:
            runs[-1].append(month_day)
        else:
            runs.append([month_day])
    texts = []
    for run in runs:
        words = [month_day_words(month_day) for month_day in run]
        texts += [f"{words[0]} to {words[-1]}"] if len(words) >= _LEAST_RUN else words
    return texts


def _day_after(month_day: int) -> int:
    """The month and day after another, in a leap year."""
    after = date.fromordinal(date(2028, month_day // 100, month_day % 100).toordinal() + 1)
    return after.month * 100 + after.day


def _weekdays_text(mask: int) -> str:
    bits = [bit for bit in range(7) if mask >> bit & 1]
    if len(bits) > 2 and bits == list(range(bits[0], bits[-1] + 1)):
        return f"{SHORT_DAYS[bits[0]]} to {SHORT_DAYS[bits[-1]]}"
    return ", ".join(SHORT_DAYS[bit] for bit in bits)


def _narrowed_text(days: Narrowed) -> str:
    text = days_text(days.days)
    if days.between:
        text += f", {month_day_words(days.between[0])} to {month_day_words(days.between[1])}"
    if days.without:
        text += " except " + " and ".join(_season_text(rule) for rule in days.without)
    return text


def _season_text(days: Days) -> str:
    """A rule inside `except`: a plain season without its "every day"."""
    if isinstance(days, Narrowed) and days.days == DAILY and days.between and not days.without:
        if days.between[0] == days.between[1]:
            return month_day_words(days.between[0])
        return f"{month_day_words(days.between[0])} to {month_day_words(days.between[1])}"
    return days_text(days)


def _ordinal(number: int) -> str:
    if number == 1:
        return "single"
    tail = "th" if number % 100 in (11, 12, 13) else {1: "st", 2: "nd", 3: "rd"}.get(number % 10, "th")
    return f"{number}{tail}"


def switching_text(action: str, at: Time, days: Days, words: Words) -> str:
    """What an entry does: OFF 22:40, every day."""
    return f"{action.upper()} {words.time(at)}, {days_text(days)}"


def duration_text(seconds: float) -> str:
    """A duration in its two largest units: 12 h, 1 h 05 min, 3 min 20 s, 365 d; from two years on in years."""
    total = round(abs(seconds))
    days, rest = divmod(total, DAY_S)
    if days >= 2 * YEAR_DAYS:
        return f"{days / YEAR_DAYS:.0f} years"
    hours, rest = divmod(rest, 3600)
    minutes, left = divmod(rest, 60)
    if days:
        return f"{days} d" + (f" {hours} h" if hours else "")
    if hours:
        return f"{hours} h" + (f" {minutes:02d} min" if minutes else "")
    if minutes:
        return f"{minutes} min" + (f" {left:02d} s" if left else "")
    return f"{left} s"


PULSE_S = 120  # what is on no longer is told by its count and its seconds, not in hours


def on_time_text(lengths: Ints, *, pulses: bool) -> str:
    """How long something is on in all, from the seconds of each time (n,): 812 h, 40 min; of pulses 1,560 pulses of 8 s."""
    total, longest = int(lengths.sum()), int(lengths.max(initial=0))
    if pulses and longest:
        of = "of" if (lengths == longest).all() else "of up to"
        return f"{lengths.size:,} pulse{'s' * (lengths.size > 1)} {of} {duration_text(longest)}"
    return f"{total / 3600:,.0f} h" if total >= 3600 or not total else duration_text(total)


def are_pulses(lengths: Ints) -> bool:
    """Whether what is on for so many seconds each time (n,) comes in pulses."""
    return 0 < int(lengths.max(initial=0)) <= PULSE_S


def minutes_text(minutes: float) -> str:
    """18 min; 1 h 12 min."""
    whole = round(minutes, 1)
    if whole < 60 or whole % 1:
        return f"{whole:g} min"
    return f"{whole // 60:.0f} h {whole % 60:02.0f} min"


def pulses_text(entry: Entry, words: Words) -> str:
    """How an entry that ends itself pulses: for 5 s; 8 s on and 4 min pause until 16:25."""
    if entry.repeat is None:
        return f"for {duration_text(entry.pulse_s or 0)}"
    on, pause = duration_text(entry.repeat.on_s), duration_text(entry.repeat.off_s)
    return f"{on} on and {pause} pause until {words.clock(entry.repeat.until.seconds)}"


def cycle_text(cycle: Cycle | None) -> str:
    """How a window pulses: 8 s every 4 min; continuously where it does not."""
    return f"{duration_text(cycle.on_s)} every {duration_text(cycle.every_s)}" if cycle else "continuously"


def ahead_text(seconds: float) -> str:
    """How far a clock is out, and which way: 1 h ahead."""
    return f"{duration_text(seconds)} {'ahead' if seconds > 0 else 'behind'}"


def count(number: int, singular: str, plural: str | None = None) -> str:
    """A number with its noun: 1 day, 44 days."""
    return f"{number} {singular if number == 1 else plural or singular + 's'}"


def in_a_row(names: Sequence[str]) -> str:
    """Names as they are told: A, B and C."""
    *first, last = names
    return f"{', '.join(first)} and {last}" if first else last


def capital(text: str) -> str:
    """The text with its first letter large and the rest as it is."""
    return text[:1].upper() + text[1:]
