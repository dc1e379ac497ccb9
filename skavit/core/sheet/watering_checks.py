"""The last steps of a watering unit: all read back, the walk, the mode, what runs next."""

import numpy as np

from skavit.core.ground.arrays import DAY_S, Ints
from skavit.core.sheet.carried import Builder, carried_by
from skavit.core.sheet.handing_over import to_mode
from skavit.core.sheet.occasion import Occasion
from skavit.core.sheet.step import Display, DisplayRow, Step, keyed
from skavit.core.sheet.water_seasons import controller_of, water_of
from skavit.core.sheet.watering import SPRAY
from skavit.core.text.wording import MONTHS, count, minutes_text, weekday_date
from skavit.core.water.seasons import standing
from skavit.core.water.stack import Stack, stack
from skavit.core.water.state import WaterState, state_at


def readback(occasion: Occasion) -> list[Step]:
    """What each program comes to, and the marks that must and must not show."""
    water, has = water_of(occasion), controller_of(occasion)
    if not water.programs:
        return []
    month = occasion.day.month - 1
    rows = []
    for program in standing(water, occasion.digits // DAY_S):
        seconds = sum(program.run_seconds(month, water.run_step_s))
        starts = count(len(program.starts), "start")
        rows.append(
            DisplayRow(word=program.name, value=minutes_text(seconds / 60), detail=f"each of {starts}, this month")
        )
    seasoned = any(program.adjust_pct != 100 for program in water.programs)
    watch = [
        f"{has.season_mark} {'shows' if seasoned else 'does not show'}: the season stands {'away from' if seasoned else 'at'} 100.",
        f"{has.off_mark} does not show: watering is not suspended.",
    ]
    dark = [p.name for p in standing(water, occasion.digits // DAY_S) if not p.monthly_pct[month]]
    if dark:
        watch.append(
            f"{MONTHS[month]} is off for program {', '.join(dark)}: it waters nothing this month, and may say so."
        )
    if water.rain_delays:
        watch.append("A rain delay that was keyed ends by itself; its mark goes with it.")
    step = Step(
        kind="readback", title="All read back", say="Go through every program once more, then look at the marks.",
        display=Display(rows=tuple(rows)), watch=tuple(watch),
    )  # fmt: skip
    return [keyed(step, [program.to_json() for program in water.programs])]


def walk(occasion: Occasion) -> list[Step]:
    """Each station run by hand, and looked at."""
    water, has = water_of(occasion), controller_of(occasion)
    if not water.stations:
        return []
    say = "Run each station by hand for two minutes and look at every head: right ground, upright, no leak."
    if not has.manual_while_off:
        say += " This unit runs nothing by hand while it is suspended."
    step = Step(
        kind="walk", title="Walk the stations", say=say, caution=SPRAY,
        watch=tuple(f"{n}: {s.name}" for n, s in enumerate(water.stations, start=1)),
    )  # fmt: skip
    return [keyed(step, [s.name for s in water.stations])]


def mode(occasion: Occasion) -> list[Step]:
    """The mode in which programs run."""
    kind, has = occasion.kind, controller_of(occasion)
    word = kind.modes.word("auto") if kind and kind.modes else "automatic"
    say = f"Leave the unit in {word}. {has.off_mark} on the display means that nothing waters until somebody ends it."
    shown = Display(rows=(DisplayRow(word="mode", value=word),))
    step = Step(kind="mode", title="The mode", say=say, display=shown, brief=word, presses=to_mode(kind, word))
    return [keyed(step)]


def _stack_of(occasion: Occasion) -> Stack:
    found = stack(occasion.ahead or occasion.year)
    assert found is not None
    return found


def cover(occasion: Occasion) -> list[Step]:
    """What runs at this moment, and the next start as the unit will show it."""
    water, has = water_of(occasion), controller_of(occasion)
    here = state_at(_stack_of(occasion), occasion.instant)
    now = ", ".join(water.stations[turn.station].name for turn in here.running)
    counted = "each station" if has.stations_each else "the whole program"
    say = "Shut the cover, then look again. " + (
        f"{now} must be running; the display counts down {counted}." if now else "Nothing must be running."
    )
    step = Step(
        kind="output", title="Cover shut, valves seen", say=say,
        watch=tuple(_coming(occasion, here)), brief=f"{now} running" if now else "nothing runs",
    )  # fmt: skip
    return [keyed(step, [program.to_json() for program in water.programs])]


def _coming(occasion: Occasion, here: WaterState) -> list[str]:
    """The next start of each of a few programs, by the site's time."""
    water, clock = water_of(occasion), (occasion.ahead or occasion.year).site_clock
    found = []
    for coming in here.following:
        day, seconds = divmod(int(clock.digits(np.array([coming.begin]))[0]), DAY_S)
        name = water.program_name(coming.program)
        long = minutes_text((coming.end - coming.begin) / 60)
        found.append(f"Program {name}: {occasion.words.minute(seconds)}, {weekday_date(day)}, {long}.")
    return found or ["No start comes this year."]


def by_turns(build: Builder) -> Builder:
    """The steps of a builder as they stand now, and as they will after each run begins or ends until tomorrow's end."""

    def cuts(occasion: Occasion) -> Ints:
        runs = _stack_of(occasion).runs
        turns = np.unique(np.concatenate([runs.on, runs.off]))
        found: Ints = turns[(turns > occasion.instant) & (turns < occasion.midnights[-1])]
        return found

    return carried_by(build, cuts)
