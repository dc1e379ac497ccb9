"""Programs that stand in a controller on some dates only, what is keyed anew with the seasons, and the winter."""

from skavit.core.ground.arrays import DAY_S
from skavit.core.kinds.watering import Watering
from skavit.core.plan.days import dated_in
from skavit.core.plan.times import day_of
from skavit.core.plan.water import Program, Water
from skavit.core.sheet.holidays import holiday_text
from skavit.core.sheet.occasion import Occasion
from skavit.core.sheet.step import Step, keyed
from skavit.core.text.wording import Words, dated_text, days_text
from skavit.core.water.seasons import bare_days, next_season, standing

_CONTROLLER = Watering()


def water_of(occasion: Occasion) -> Water:
    """The water of the plan that is keyed."""
    assert occasion.plan.water is not None
    return occasion.plan.water


def controller_of(occasion: Occasion) -> Watering:
    """What the unit's controller can do; a plain one where no kind is known."""
    return (occasion.kind.watering if occasion.kind else None) or _CONTROLLER


def seasons(occasion: Occasion) -> list[Step]:
    """What is keyed anew with the seasons, and the winter in which the unit is laid up."""
    water, today = water_of(occasion), occasion.digits // DAY_S
    found = []
    day = next_season(water, today)
    if day is not None:
        held, coming = standing(water, today), standing(water, day)
        told = [f"Program {p.name}: nothing any more" for p in held if p.name not in {c.name for c in coming}]
        told += [program_text(program, occasion.words) for program in coming if program not in held]
        step = Step(
            kind="rekey", title=f"Key anew on {dated_text(day)}", say="Another season: what changes is below.",
            watch=tuple(told),
        )  # fmt: skip
        found.append(keyed(step, day, told))
    return [*found, *_lay_up(occasion)]


def program_text(program: Program, words: Words) -> str:
    """A program in one line."""
    starts = ", ".join(words.time(at) for at in program.starts)
    runs = ", ".join(f"station {run.station} {run.run_min:g} min" for run in program.runs)
    season = f"; {program.adjust_pct:g} %" if program.adjust_pct != 100 else ""
    return f"Program {program.name}: {starts} on {days_text(bare_days(program))}; {runs}{season}"


# Common practice, no source.
LAID_UP = (
    "Water off at the main, and the valve before the backflow preventer shut.",
    "Drain at the lowest point; blow out only as the local code and the makers of pipe and valves allow.",
    "Controller to off, its program kept. A battery unit: cells out, and it indoors.",
    "Write down the day: somebody must start it up again.",
)
STARTED_UP = (
    "Clock, date and daylight saving: a winter without power has lost them.",
    "Fresh cells. Every program read back before the water is on.",
    "Water on slowly, flush each line, then walk the stations.",
    "Back into automatic, and nothing suspended.",
)


# A unit is laid up and started up within so many days of the dates: common practice, no source.
NEAR_DAYS = 21


def _lay_up(occasion: Occasion) -> list[Step]:
    """Laying up for the winter, or starting up again, about the time of it; the rest of the year *Due* has their dates."""
    winter, today = water_of(occasion).lay_up, occasion.digits // DAY_S
    if winter is None:
        return []
    year = day_of(today).year
    starts = dated_in(winter.start, range(year - 1, year + 2))
    found = []
    if any(-NEAR_DAYS <= today - start < winter.days // 2 for start in starts):
        caution = "Compressed air bursts pipes and hurts eyes: low pressure, goggles, and whoever has done it before."
        down = Step(
            kind="layup", title="Laying up for the winter", say=f"From {holiday_text(winter)} nothing waters.",
            caution=caution, watch=LAID_UP,
        )  # fmt: skip
        found.append(keyed(down, winter.to_json(), LAID_UP))
    if any(-(winter.days - winter.days // 2) <= today - start - winter.days <= NEAR_DAYS for start in starts):
        up = Step(kind="layup", title="Starting up again", say="After the winter, in this order.", watch=STARTED_UP)
        found.append(keyed(up, winter.to_json(), STARTED_UP))
    return found
