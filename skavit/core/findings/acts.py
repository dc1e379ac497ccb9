"""What a remedy does, in the words of its button."""

from abc import abstractmethod
from dataclasses import dataclass

from skavit.core.plan.days import Dated, Days
from skavit.core.plan.entry import Entry
from skavit.core.plan.times import ClockTime, Time
from skavit.core.repair import Edit, edit_text
from skavit.core.text.wording import Words, capital, days_text, start_words, switching_text


class Act:
    """What is done, put into words when it is shown."""

    __slots__ = ()

    @abstractmethod
    def text(self, words: Words) -> str:
        """As a button says it."""


@dataclass(frozen=True, slots=True)
class ClearSlot(Act):
    """Empty a slot (from 1)."""

    slot: int

    def text(self, words: Words) -> str:
        """As a button says it."""
        return f"Clear {words.slot(self.slot)}"


@dataclass(frozen=True, slots=True)
class MakeChanges(Act):
    """Make changes of a repair, in the entries as they are."""

    edits: tuple[Edit, ...]
    entries: tuple[Entry, ...]

    def text(self, words: Words) -> str:
        """As a button says it."""
        return "; ".join(edit_text(edit, self.entries, words) for edit in self.edits)


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
        return f"Add {switching_text(self.action, self.at, self.days, words)}"


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
    """Let some holidays begin a day earlier."""

    starts: tuple[Dated, ...]

    def text(self, words: Words) -> str:
        """As a button says it."""
        return f"Begin {_holidays_text(self.starts)} a day earlier"


@dataclass(frozen=True, slots=True)
class ClearHolidays(Act):
    """Take some holidays out."""

    starts: tuple[Dated, ...]

    def text(self, words: Words) -> str:
        """As a button says it."""
        return f"Clear {_holidays_text(self.starts)}"


_MOST_NAMED = 3


def _holidays_text(starts: tuple[Dated, ...]) -> str:
    """Holidays by their first dates, or how many they are."""
    if len(starts) > _MOST_NAMED:
        return f"{len(starts)} holidays"
    return f"the holiday{'s' * (len(starts) > 1)} from {' and '.join(map(start_words, starts))}"


@dataclass(frozen=True, slots=True)
class NotOnHolidays(Act):
    """Take the unit's holidays out of what is wanted of a channel."""

    def text(self, words: Words) -> str:
        """As a button says it."""
        return "Nothing wanted on the holidays"


@dataclass(frozen=True, slots=True)
class ChangeStarts(Act):
    """Let programs of water, by their names, start at other times."""

    programs: tuple[tuple[str, tuple[Time, ...]], ...]

    def text(self, words: Words) -> str:
        """As a button says it."""
        return "; ".join(
            f"Program {name}: start at {', '.join(words.time(at) for at in starts)}" for name, starts in self.programs
        )


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
    apart_min: int
    soak_min: float

    def text(self, words: Words) -> str:
        """As a button says it."""
        soak = f", at least {self.soak_min:.0f} min to soak in between" if self.soak_min else ""
        return f"Program {self.program}: each run in {self.times} parts, {self.apart_min} min from start to start{soak}"


@dataclass(frozen=True, slots=True)
class WaterByNeed(Act):
    """Give all stations the run times and months that their need asks for."""

    saves_l: float  # a year

    def text(self, words: Words) -> str:
        """As a button says it."""
        return f"Water by need: {words.volume(self.saves_l)} a year less"


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
