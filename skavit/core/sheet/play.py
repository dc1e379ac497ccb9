"""The entry sheet followed on a kind's keypad: each press, and what the display then shows."""

from collections.abc import Iterator
from dataclasses import dataclass, field, replace
from datetime import date

import numpy as np

from skavit.core.fitting import fit
from skavit.core.ground.arrays import DAY_S
from skavit.core.ground.errors import UserError
from skavit.core.heat.fitting import refitted
from skavit.core.kinds.fields import field_text
from skavit.core.kinds.kind import Kind
from skavit.core.kinds.parts import Press
from skavit.core.kinds.place import plan_for_kind
from skavit.core.kinds.soundness import lacks
from skavit.core.plan.days import DAILY, NAMED, Weekdays
from skavit.core.plan.document import Channel, Plan, Site
from skavit.core.plan.heat import Heat, SetPoint, Zone
from skavit.core.plan.times import ClockTime, SunTime, day_number
from skavit.core.plan.water import Program, Run, Station, Water
from skavit.core.plan.window import Cycle, Window
from skavit.core.sheet.assembly import steps, untried
from skavit.core.sheet.checking import pressed
from skavit.core.sheet.keypad import Keypad
from skavit.core.sheet.step import Step
from skavit.core.simulation.handover import handover
from skavit.core.simulation.replay import replay
from skavit.core.site.clock import zone_clock
from skavit.core.text.wording import PLAIN

# A place and an afternoon to play a kind through with; invented.
SAMPLE_SITE = Site(name="Bay", latitude=-39.49, longitude=176.91, timezone="Pacific/Auckland")
SAMPLE_DAY = date(2027, 2, 16)
MOST_FRAMES = 400
# A memory of thousands of slots is followed so far: the keys are the same from slot to slot.
MOST_PRESSES = 5_000


@dataclass(frozen=True, slots=True, kw_only=True)
class Frame:
    """One press of a step, and what the display shows after it."""

    title: str  # of the step
    press: Press | None  # None: the step has no keys
    shows: tuple[tuple[str, str], ...]  # each field's word and text
    turned: str = ""  # the word of the field that the press has turned
    slot: int = 0  # from 1, where a slot is open
    wrong: str = ""  # why nothing came of the press


@dataclass(frozen=True, slots=True, kw_only=True)
class Played:
    """A kind played through with a sample plan."""

    frames: tuple[Frame, ...]
    more: int  # presses that are not shown
    wrong: tuple[str, ...] = field(default=())  # step and reason, of what cannot be keyed

    @property
    def is_sound(self) -> bool:
        """Whether every step of the sheet can be keyed."""
        return not self.wrong


# A lawn watered before dawn; invented.
_SAMPLE_WATER = Water(
    stations=(Station(name="Lawn", flow_l_min=20.0),),
    programs=(Program(name="A", starts=(ClockTime(4 * 3600),), runs=(Run(station=1, run_min=15.0),)),),
)

# A room that is warm by day; invented.
_SAMPLE_HEAT = Heat(
    zones=(
        Zone(
            name="Room",
            wanted=(
                SetPoint(days=Weekdays(NAMED["weekdays"]), at=ClockTime(7 * 3600), c=20.0),
                SetPoint(days=Weekdays(NAMED["weekends"]), at=ClockTime(8 * 3600), c=20.0),
                SetPoint(at=ClockTime(22 * 3600), c=15.0),
            ),
        ),
    )
)


def sample_plan(kind: Kind) -> Plan:
    """A plan that a kind holds: each output from sunset, or 18:00, till 22:30; in pulses where that is all it can.

    Where it waters, one program of one station; where it holds temperatures, a zone that is warm by day.
    """
    if kind.watering is not None:
        return plan_for_kind(Plan(site=SAMPLE_SITE, channels=(), water=_SAMPLE_WATER), kind)
    if kind.heating is not None:
        plan = plan_for_kind(Plan(site=SAMPLE_SITE, channels=(), heat=_SAMPLE_HEAT), kind)
        return replace(plan, heat=refitted(plan))
    events = kind.sun_events
    start = SunTime(event=events[-1], offset_min=0) if events else ClockTime(18 * 3600)
    plain = Window(start=start, to=ClockTime(22 * 3600 + 1800), days=DAILY)
    actions = kind.limits.actions
    only_repeats = actions is not None and "repeat" in actions and "on" not in actions
    window = replace(plain, repeat=Cycle(on_s=10, every_s=240)) if only_repeats else plain
    channels = tuple(Channel(name=f"Output {n}", windows=(window,)) for n in range(1, min(kind.channels, 2) + 1))
    plan = plan_for_kind(Plan(site=SAMPLE_SITE, channels=channels), kind)
    return fit(plan, SAMPLE_DAY.year).plan


def played(kind: Kind) -> Played:
    """Follow the sheet of the sample plan on the kind's keypad."""
    try:
        sheet, tried = _sample_sheets(kind)
    except UserError as error:
        return Played(frames=(), more=0, wrong=(*lacks(kind), f"The sheet: {error}"))
    keypad, wrong = Keypad(kind), [*lacks(kind), *(f"{step.title}: {step.refused}" for step in sheet if step.refused)]
    frames: list[Frame] = []
    for step in sheet:
        for frame in _followed(keypad, step):
            frames.append(frame)
            if frame.wrong:
                wrong.append(f"{step.title}: {frame.wrong}")
            if frame.wrong or len(frames) == MOST_PRESSES:
                break
        else:
            continue
        break
    if not wrong:
        wrong = [f"{step.title}: {step.unknown}" for step in tried if step.unknown]
    return Played(frames=tuple(frames[:MOST_FRAMES]), more=max(len(frames) - MOST_FRAMES, 0), wrong=tuple(wrong))


def _sample_sheets(kind: Kind) -> tuple[tuple[Step, ...], tuple[Step, ...]]:
    """The sheet of the sample plan with all keys that the kind names, and with those alone that set what they say."""
    plan, day = sample_plan(kind), day_number(SAMPLE_DAY)
    clock = zone_clock(SAMPLE_SITE.timezone, SAMPLE_DAY.year - 1, SAMPLE_DAY.year + 1)
    year = replay(plan, date(SAMPLE_DAY.year, 1, 1), date(SAMPLE_DAY.year, 12, 31))
    instant = int(clock.first(np.array([day * DAY_S + DAY_S // 2]))[0])
    made = plan, year, handover(plan, instant), instant, PLAIN, kind
    return untried(*made), steps(*made)


def _followed(keypad: Keypad, step: Step) -> Iterator[Frame]:
    """The frames of one step; the last has what went wrong, where something did."""
    done = False
    for press in pressed(keypad, step):
        done = True
        try:
            keypad.press(press)
        except UserError as error:
            yield _frame(keypad, step, press, wrong=str(error))
            return
        yield _frame(keypad, step, press)
    if not done:
        yield _frame(keypad, step, None)


def _frame(keypad: Keypad, step: Step, press: Press | None, wrong: str = "") -> Frame:
    kind = keypad.kind
    shows = tuple((field_text(name), keypad.draft[name]) for name in keypad.asked)
    if keypad.shows_empty and kind.slot.empty:
        shows = (("", kind.slot.empty),)
    if not keypad.open:
        shows = (("mode", keypad.read("mode")),) if kind.modes else ()
    turned = field_text(press.field) if press and press.field else ""
    slot = keypad.slot + 1 if keypad.open == "slot" else 0
    return Frame(title=step.title, press=press, shows=shows, turned=turned, slot=slot, wrong=wrong)
