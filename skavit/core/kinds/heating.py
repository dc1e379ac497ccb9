"""What a kind that holds temperatures is like: its zones, the periods of its day, how it says that one is unused, and its holiday."""

from dataclasses import dataclass

from skavit.core.ground.records import Record, flag, listed, member, record, text, whole, word
from skavit.core.plan.heat import DEGREES, FROST_C, NO_HEAT_LIMITS, HeatLimits

UNUSED = ("dashes", "equal-times", "skipped")
HOLIDAYS = ("until", "today", "tomorrow")
MOST_ZONES = 24
USUAL_PERIODS, COLDEST_C, WARMEST_C, USUAL_STEP_C = 4, 5.0, 30.0, 0.5


@dataclass(frozen=True, slots=True, kw_only=True)
class Heating(Record):
    """The heating side of a kind."""

    zones: int = member(whole(1, MOST_ZONES), default=1)
    limits: HeatLimits = member(record(HeatLimits), default=NO_HEAT_LIMITS)
    frost_c: float = member(DEGREES, default=FROST_C)
    period_words: tuple[str, ...] = member(listed(text("a word of its display", 20), "words"), default=())
    unused: str = member(word(UNUSED), default="dashes")  # how it says that a period is not used
    holiday: str = member(
        word(HOLIDAYS), default="until"
    )  # until a date and time, or by days with today counted or not
    any_key_ends: bool = member(flag(), default=False)  # any key ends a holiday
    off_protects: bool = member(flag(), default=False)  # off still protects from frost

    @property
    def periods(self) -> int:
        """How many set points each day group has."""
        return self.limits.periods or USUAL_PERIODS

    def period(self, place: int) -> str:
        """What its display calls a period (from 0)."""
        return self.period_words[place] if place < len(self.period_words) else str(place + 1)

    def degrees(self) -> tuple[float, ...]:
        """The degrees that its display steps through."""
        low = COLDEST_C if self.limits.c_min is None else self.limits.c_min
        high = WARMEST_C if self.limits.c_max is None else self.limits.c_max
        step = self.limits.c_step or USUAL_STEP_C
        return tuple(round(low + n * step, 3) for n in range(round((high - low) / step) + 1))


def temperature_word(c: float) -> str:
    """Degrees as a display has them."""
    return f"{c:.1f}"
