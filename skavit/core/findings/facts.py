"""What a finding says, kept as numbers and dates and put into words when it is shown.

Each rule has its :class:`Facts`, a record: it can be kept as JSON and read again, and is worded in the reader's clock.
"""

from abc import abstractmethod
from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from skavit.core.ground.arrays import DAY_S, Ints
from skavit.core.ground.records import Form, Record, listed, member, plain, record, whole, word
from skavit.core.ground.strict_json import Node
from skavit.core.plan.days import DAYS_REF, Days
from skavit.core.plan.entry import SWITCHES_ON, Entry
from skavit.core.plan.times import DAY, TIME, Time
from skavit.core.text.wording import PULSE_S, Words, count, dates_text, duration_text, switching_text

Runs = tuple[tuple[int, int], ...]  # dates as their unbroken runs: the first and the last day number of each
# A number of any size, as a replay gives it.
NUMBER = plain(lambda node: node.number(-1e12, 1e12), {"type": "number"})
WHOLE = whole(-(10**12), 10**12)
SAID = plain(lambda node: node.text(longest=2000), {"type": "string"})


def runs_of(days: Ints) -> Runs:
    """Rising day numbers as their runs."""
    if not days.size:
        return ()
    breaks = np.nonzero(np.diff(days) > 1)[0]
    firsts, lasts = np.concatenate([[0], breaks + 1]), np.concatenate([breaks, [days.size - 1]])
    return tuple((int(days[a]), int(days[b])) for a, b in zip(firsts, lasts, strict=True))


def days_in(runs: Runs) -> Ints:
    """The day numbers of runs, rising."""
    return np.concatenate([np.zeros(0, dtype=np.int64), *(np.arange(a, b + 1) for a, b in runs)])


def _read_runs(node: Node) -> Runs:
    return tuple((DAY.read(a), DAY.read(b)) for a, b in (pair.items("dates", least=2) for pair in node.items("runs")))


RUNS = Form(
    read=_read_runs,
    write=lambda runs: [[DAY.write(a), DAY.write(b)] for a, b in runs],
    schema=lambda: listed(listed(DAY, least=2)).schema(),
)


def runs_text(runs: Runs) -> str:
    """The dates in words."""
    return dates_text(days_in(runs))


class Facts(Record):
    """What one finding says."""

    __slots__ = ()

    @abstractmethod
    def headline(self, words: Words) -> str:
        """What shows, in a line."""

    def why(self, words: Words) -> str:
        """Why it does; empty where the headline says it."""
        return ""


def _no_reading(node: Node) -> Facts:
    node.refuse("facts that are kept: those of a trial are not")


# Facts within facts: only of trials, which nothing keeps.
ANY_FACTS = Form(read=_no_reading, write=lambda facts: facts.to_json(), schema=lambda: {"type": "object"})


@dataclass(frozen=True, slots=True, kw_only=True)
class SlotFact(Record):
    """An entry as a person names it."""

    number: int = member(WHOLE)  # of its slot, from 1
    action: str = member(word(SWITCHES_ON))
    at: Time = member(TIME)
    days: Days = member(DAYS_REF)

    @classmethod
    def of(cls, index: int, entry: Entry) -> "SlotFact":
        """The fact of the entry at an index from 0."""
        return cls(number=index + 1, action=entry.action, at=entry.at, days=entry.days)

    def entry_text(self, words: Words) -> str:
        """What it does: OFF 22:40, every day."""
        return switching_text(self.action, self.at, self.days, words)

    def text(self, words: Words) -> str:
        """Such as slot 3 (OFF 22:40)."""
        return f"{words.slot_of(self.number)} ({self.action.upper()} {words.time(self.at)})"


SLOT = record(SlotFact)
SLOTS = listed(SLOT)


def slots_text(slots: Iterable[SlotFact], words: Words, between: str = ", ") -> str:
    """Entries in words, one after the other."""
    return between.join(slot.text(words) for slot in slots)


# Beginnings and ends that lie no further apart are told as one time.
STEADY_S = 300
SPREAD = listed(WHOLE, least=2)


@dataclass(frozen=True, slots=True, kw_only=True)
class Period(Record):
    """When an output is on though not wanted, or off though wanted: times of the day, and the dates."""

    shows: str = member(word(["on", "off"]))
    from_s: int = member(WHOLE)  # local clock times, the middle ones
    to_s: int = member(WHOLE)
    from_spread_s: tuple[int, ...] = member(SPREAD, default=(0, 0))  # how much earlier and later it begins
    to_spread_s: tuple[int, ...] = member(SPREAD, default=(0, 0))
    longest_s: int = member(WHOLE)
    dates: Runs = member(RUNS)

    def text(self, words: Words) -> str:
        """On, not wanted, from ... to ... on so many days, in which dates."""
        days = days_in(self.dates)
        if self.longest_s > DAY_S and self.shows == "on":
            return f"On continuously, not wanted, up to {self.longest_s / 3600:.0f} h at a time, on {count(days.size, 'day')}"
        what = "On, not wanted" if self.shows == "on" else "Off, though wanted"
        if self.longest_s <= PULSE_S:
            return f"{what}, up to {duration_text(self.longest_s)} {self._begins(words)} on {count(days.size, 'day')}, {dates_text(days)}"
        times = self.times(words)
        comma = "," if times.endswith("at a time") else ""
        return f"{what}, {times}{comma} on {count(days.size, 'day')}, {dates_text(days)}"

    def times(self, words: Words) -> str:
        """From when to when, where that holds on those dates; else between which times, and for how long at most."""
        begin, end = self._edge(self.from_s, self.from_spread_s, words), self._edge(self.to_s, self.to_spread_s, words)
        if begin and end:
            return f"from {begin} to {end}"
        low, high = words.minute(self.from_s + self.from_spread_s[0]), words.minute(self.to_s + self.to_spread_s[1])
        if begin and self.to_spread_s[1] - self.to_spread_s[0] < DAY_S // 2:
            return f"from {begin} to {words.minute(self.to_s + self.to_spread_s[0])}–{high}"
        if end and self.from_spread_s[1] - self.from_spread_s[0] < DAY_S // 2:
            return f"from {low}–{words.minute(self.from_s + self.from_spread_s[1])} to {end}"
        whole_s = (self.to_s - self.from_s) % DAY_S + self.to_spread_s[1] - self.from_spread_s[0]
        at_a_time = f"up to {duration_text(self.longest_s)} at a time"
        return f"between {low} and {high}, {at_a_time}" if whole_s < DAY_S * 3 // 4 else at_a_time

    def _begins(self, words: Words) -> str:
        """At which time, or between which times, something short begins."""
        if at := self._edge(self.from_s, self.from_spread_s, words):
            return f"at {at}"
        low, high = (words.minute(self.from_s + away) for away in self.from_spread_s)
        return f"between {low} and {high}"

    @staticmethod
    def _edge(middle_s: int, spread_s: tuple[int, ...], words: Words) -> str:
        """A beginning or an end as one time; empty where it moves over the dates."""
        return words.minute(middle_s) if spread_s[1] - spread_s[0] <= STEADY_S else ""


PERIOD = record(Period)


@dataclass(frozen=True, slots=True, kw_only=True)
class PeriodFacts(Facts):
    """A finding that is told by its period."""

    period: Period = member(PERIOD)

    def headline(self, words: Words) -> str:
        """The period."""
        return self.period.text(words)
