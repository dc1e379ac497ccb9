"""Usual programs: what is wanted of an output in the cases that come up again and again.

The clock times in them are common practice, no source: a place to begin from, to be changed at once.
"""

from dataclasses import dataclass

from skavit.core.plan.days import NAMED, Weekdays
from skavit.core.plan.times import ClockTime, SunTime
from skavit.core.plan.window import Cycle, Window
from skavit.core.sun import SunEvent

WORKDAYS = Weekdays(NAMED["weekdays"])


@dataclass(frozen=True, slots=True, kw_only=True)
class UsualProgram:
    """A usual program: its windows, when one would choose it, and what to mind."""

    slug: str
    name: str
    when: str
    windows: tuple[Window, ...]
    caution: str = ""
    holidays: bool = False  # public holidays usually belong to it


def _clock(hour: int, minute: int = 0) -> ClockTime:
    return ClockTime(hour * 3600 + minute * 60)


SUNSET, SUNRISE = SunTime(SunEvent.SUNSET), SunTime(SunEvent.SUNRISE)
DUSK, DAWN = SunTime(SunEvent.DUSK), SunTime(SunEvent.DAWN)

USUAL_PROGRAMS = (
    UsualProgram(
        slug="night",
        name="Dusk to dawn",
        when="Paths, yards and signs that must be lit all night.",
        windows=(Window(start=SUNSET, to=SUNRISE, ends_next_day=True),),
    ),
    UsualProgram(
        slug="civil-night",
        name="Civil dusk to dawn",
        when="Where there is light enough until civil twilight ends: half an hour less at either end, and less power.",
        windows=(Window(start=DUSK, to=DAWN, ends_next_day=True),),
    ),
    UsualProgram(
        slug="evening",
        name="Evening only",
        when="Gardens and shop fronts: nobody is there after the evening.",
        windows=(Window(start=SUNSET, to=_clock(22, 30)),),
    ),
    UsualProgram(
        slug="split",
        name="Split night",
        when="Lit in the evening and again before the day begins, dark in between.",
        windows=(Window(start=SUNSET, to=_clock(22, 30)), Window(start=_clock(5), to=SUNRISE)),
        caution="In midsummer the sun may rise before the morning begins.",
    ),
    UsualProgram(
        slug="working-week",
        name="Working week",
        when="Halls and signs of a business: working days only, not on public holidays.",
        windows=(Window(start=_clock(7, 30), to=_clock(17, 30), days=WORKDAYS),),
        holidays=True,
    ),
    UsualProgram(
        slug="hot-water",
        name="Hot water twice a day",
        when="A storage heater that is charged before the morning and before the evening.",
        windows=(Window(start=_clock(5), to=_clock(7)), Window(start=_clock(15, 30), to=_clock(17, 30))),
        caution="Stored hot water scalds, and kept lukewarm it breeds bacteria: keep to the local code for its temperature.",
    ),
    UsualProgram(
        slug="mist",
        name="Misting",
        when="Cuttings and seedlings: some seconds of mist every few minutes of the day.",
        windows=(Window(start=_clock(8), to=_clock(17), repeat=Cycle(on_s=8, every_s=240)),),
        caution="Spray and mains do not go together: mind where it drifts.",
    ),
    UsualProgram(
        slug="door",
        name="Door release hours",
        when="A door that is unlocked in working hours and locked on public holidays.",
        windows=(Window(start=_clock(8), to=_clock(17), days=WORKDAYS),),
        caution="An escape door must open from inside at any hour, whatever the timer does: keep to the local code.",
        holidays=True,
    ),
)


def usual_program(slug: str) -> UsualProgram | None:
    """The program of a slug; None where there is none."""
    return next((found for found in USUAL_PROGRAMS if found.slug == slug), None)
