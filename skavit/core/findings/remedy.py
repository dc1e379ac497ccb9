"""What can be done about a finding in one step: what it does in words, and what the unit then holds."""

import hashlib
import json
from abc import ABC, abstractmethod
from collections.abc import Iterable
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

from skavit.core.plan.days import Days
from skavit.core.plan.document import Plan
from skavit.core.plan.edits import with_load
from skavit.core.plan.entry import Entry
from skavit.core.plan.holidays import Holiday
from skavit.core.plan.load import Load
from skavit.core.plan.times import ClockTime, Time
from skavit.core.plan.window import Window
from skavit.core.text.wording import PLAIN, Words, capital, days_text

# Less than this of what a remedy leaves is not worth a word.
TOLD_S = 3600


class Act:
    """What is done, put into words when it is shown."""

    __slots__ = ()

    @abstractmethod
    def text(self, words: Words) -> str:
        """As a button says it."""


def times_text(times: Iterable[tuple[int, Time]], words: Words) -> str:
    """Slots (from 1) at other times."""
    return ", ".join(f"{words.slot(slot)} at {words.time(at)}" for slot, at in times)


@dataclass(frozen=True, slots=True)
class ClearSlot(Act):
    """Empty a slot (from 1)."""

    slot: int

    def text(self, words: Words) -> str:
        """As a button says it."""
        return f"Clear {words.slot(self.slot)}"


@dataclass(frozen=True, slots=True)
class Limit(Act):
    """Let a slot act not before, or not after, a clock time."""

    slot: int
    bound: ClockTime
    before: bool

    def text(self, words: Words) -> str:
        """As a button says it."""
        return f"{capital(words.slot(self.slot))}: not {'before' if self.before else 'after'} {words.time(self.bound)}"


@dataclass(frozen=True, slots=True)
class ChangeDays(Act):
    """Let a slot act on other days."""

    slot: int
    days: Days

    def text(self, words: Words) -> str:
        """As a button says it."""
        return f"{capital(words.slot(self.slot))}: {days_text(self.days)}"


@dataclass(frozen=True, slots=True)
class ChangeTimes(Act):
    """Let slots act at other times."""

    times: tuple[tuple[int, Time], ...]

    def text(self, words: Words) -> str:
        """As a button says it."""
        return capital(times_text(self.times, words))


@dataclass(frozen=True, slots=True)
class ChangePause(Act):
    """Let the pulses of a slot pause for other seconds."""

    slot: int
    seconds: int

    def text(self, words: Words) -> str:
        """As a button says it."""
        return f"{capital(words.slot(self.slot))}: pause {self.seconds} s"


@dataclass(frozen=True, slots=True)
class AddEntry(Act):
    """Key one more entry."""

    action: str
    at: Time
    days: Days

    def text(self, words: Words) -> str:
        """As a button says it."""
        return f"Add {self.action.upper()} {words.time(self.at)}, {days_text(self.days)}"


@dataclass(frozen=True, slots=True)
class AddDays(Act):
    """Key an entry that is there for more days."""

    action: str
    days: Days

    def text(self, words: Words) -> str:
        """As a button says it."""
        return f"Add {self.action.upper()} {days_text(self.days)}"


@dataclass(frozen=True, slots=True)
class FitAnew(Act):
    """Key all entries as `fit` makes them."""

    within_limits: bool = False

    def text(self, words: Words) -> str:
        """As a button says it."""
        return "Fit within its limits" if self.within_limits else "Fit all entries anew"


@dataclass(frozen=True, slots=True)
class EarlierHolidays(Act):
    """Let each holiday begin a day earlier."""

    def text(self, words: Words) -> str:
        """As a button says it."""
        return "Begin the holidays a day earlier"


@dataclass(frozen=True, slots=True)
class ClearHolidays(Act):
    """Take the holidays out."""

    def text(self, words: Words) -> str:
        """As a button says it."""
        return "Clear the holidays"


@dataclass(frozen=True, slots=True)
class NotOnHolidays(Act):
    """Take the unit's holidays out of what is wanted of a channel."""

    def text(self, words: Words) -> str:
        """As a button says it."""
        return "Nothing wanted on the holidays"


@dataclass(frozen=True, slots=True)
class ChangeStarts(Act):
    """Let a program of water start at other times."""

    program: str
    starts: tuple[Time, ...]

    def text(self, words: Words) -> str:
        """As a button says it."""
        return f"Program {self.program}: start at {', '.join(words.time(at) for at in self.starts)}"


@dataclass(frozen=True, slots=True)
class ChangeRun(Act):
    """Let a station run for other minutes."""

    program: str
    station: str
    minutes: float

    def text(self, words: Words) -> str:
        """As a button says it."""
        return f"Program {self.program}: {self.station} {self.minutes:g} min"


@dataclass(frozen=True, slots=True)
class SplitRuns(Act):
    """Let each run of a program be so many, each by a start of its own."""

    program: str
    times: int

    def text(self, words: Words) -> str:
        """As a button says it."""
        return f"Program {self.program}: each run in {self.times} parts, {self.times} times the starts"


@dataclass(frozen=True, slots=True)
class FullPercent(Act):
    """Set a program's percentage back to 100."""

    program: str

    def text(self, words: Words) -> str:
        """As a button says it."""
        return f"Program {self.program}: back to 100 %"


@dataclass(frozen=True, slots=True)
class LetGoOn(Act):
    """End a suspension of watering."""

    def text(self, words: Words) -> str:
        """As a button says it."""
        return "Let watering go on"


@dataclass(frozen=True, slots=True)
class FitSetPoints(Act):
    """Key the set points as a fit makes them."""

    def text(self, words: Words) -> str:
        """As a button says it."""
        return "Fit all set points anew"


@dataclass(frozen=True, slots=True)
class BackToProgram(Act):
    """End what was set by hand in a zone."""

    zone: str

    def text(self, words: Words) -> str:
        """As a button says it."""
        return f"{self.zone}: back to automatic"


@dataclass(frozen=True, slots=True)
class FrostForOff(Act):
    """Protect a zone from frost in place of leaving it off."""

    zone: str

    def text(self, words: Words) -> str:
        """As a button says it."""
        return f"{self.zone}: frost protection in place of off"


@dataclass(frozen=True, slots=True)
class HolidayDay(Act):
    """Let a holiday last a day longer."""

    zone: str
    days: int

    def text(self, words: Words) -> str:
        """As a button says it."""
        return f"{self.zone}: {self.days} days of holiday"


@dataclass(frozen=True, slots=True)
class MendRun(Act):
    """Lay or feed a run of lamps otherwise."""

    channel: str
    how: str
    lowest_v: float
    highest_v: float

    def text(self, words: Words) -> str:
        """As a button says it."""
        return f"{self.channel}: {self.how}; every lamp {self.lowest_v:.1f} to {self.highest_v:.1f} V"


@dataclass(frozen=True, slots=True)
class WireOtherwise(Act):
    """Put a load on the other contact."""

    channel: str
    contact: str

    def text(self, words: Words) -> str:
        """As a button says it."""
        return f"{self.channel}: on the normally {self.contact} contact"


@dataclass(frozen=True, slots=True)
class PinSet(Act):
    """Say that a PIN of one's own stands there."""

    def text(self, words: Words) -> str:
        """As a button says it."""
        return "A PIN of our own is set now"


class Change(ABC):
    """An edit of a plan that is told apart by what it leaves."""

    @abstractmethod
    def applied(self, plan: Plan) -> Plan:
        """The plan after it."""

    @abstractmethod
    def leaves(self) -> Any:
        """What it leaves, as JSON."""


@dataclass(frozen=True, slots=True)
class WithEntries(Change):
    """Other entries in the memory: of the unit, or of the n-th of its keyings."""

    entries: tuple[Entry, ...]
    keying: int = 0

    def applied(self, plan: Plan) -> Plan:
        """The plan after it."""
        return plan.with_set(self.keying, self.entries)

    def leaves(self) -> Any:
        """The set, and its entries."""
        return [self.keying, [entry.to_json() for entry in self.entries]]


@dataclass(frozen=True, slots=True)
class WithHolidays(Change):
    """Other holidays in the memory."""

    holidays: tuple[Holiday, ...]

    def applied(self, plan: Plan) -> Plan:
        """The plan after it."""
        return replace(plan, unit=replace(plan.unit, holidays=self.holidays))

    def leaves(self) -> Any:
        """The holidays."""
        return [holiday.to_json() for holiday in self.holidays]


@dataclass(frozen=True, slots=True)
class WithWindows(Change):
    """Other windows wanted of a channel (from 1)."""

    channel: int
    windows: tuple[Window, ...]

    def applied(self, plan: Plan) -> Plan:
        """The plan after it."""
        channels = tuple(
            replace(channel, windows=self.windows) if place == self.channel else channel
            for place, channel in enumerate(plan.channels, start=1)
        )
        return replace(plan, channels=channels)

    def leaves(self) -> Any:
        """The channel, and its windows."""
        return [self.channel, [window.to_json() for window in self.windows]]


@dataclass(frozen=True, slots=True)
class WithLoad(Change):
    """Another load on a channel (from 1)."""

    channel: int
    load: Load

    def applied(self, plan: Plan) -> Plan:
        """The plan after it."""
        return with_load(plan, self.channel, self.load)

    def leaves(self) -> Any:
        """The channel, and its load."""
        return [self.channel, self.load.to_json()]


@dataclass(frozen=True, slots=True)
class WithPin(Change):
    """Another thing known of the PIN."""

    pin: str

    def applied(self, plan: Plan) -> Plan:
        """The plan after it."""
        return replace(plan, unit=replace(plan.unit, pin=self.pin))

    def leaves(self) -> Any:
        """What is known."""
        return self.pin


@dataclass(frozen=True, kw_only=True)
class Remedy:
    """An edit of the plan with a sentence and a stable id; so many seconds of what the finding explains may stay."""

    act: Act
    change: Change
    left_s: int = 0

    def text(self, words: Words) -> str:
        """What it does, as a button says it, and what it leaves."""
        left = f"; {self.left_s / 3600:.0f} h are left" if self.left_s >= TOLD_S else ""
        return f"{self.act.text(words)}{left}"

    @property
    def label(self) -> str:
        """The same in plain words."""
        return self.text(PLAIN)

    @cached_property
    def key(self) -> str:
        """Return a stable id: a hash of the resulting state."""
        told = [type(self.change).__name__, self.change.leaves()]
        return hashlib.sha256(json.dumps(told).encode()).hexdigest()[:16]

    def applied(self, plan: Plan) -> Plan:
        """The plan after it."""
        return self.change.applied(plan)

    def in_keying(self, keying: int) -> "Remedy":
        """The same for the entries of one of the plan's keyings."""
        if not isinstance(self.change, WithEntries):
            return self
        return replace(self, change=replace(self.change, keying=keying))
