"""What a remedy does, in the words of its button."""

from abc import abstractmethod
from collections.abc import Iterable
from dataclasses import dataclass

from skavit.core.plan.days import Days
from skavit.core.plan.times import ClockTime, Time
from skavit.core.text.wording import Words, capital, days_text

# Less than this of what a remedy leaves is not worth a word.


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
    """Say that a PIN of one's own is there."""

    def text(self, words: Words) -> str:
        """As a button says it."""
        return "A PIN of our own is set now"


@dataclass(frozen=True, slots=True)
class UseLaw(Act):
    """Give the unit the site's rule for daylight saving, or none and move it by hand."""

    def text(self, words: Words) -> str:
        """As a button says it."""
        return f"Use the site's {words.summer}"
