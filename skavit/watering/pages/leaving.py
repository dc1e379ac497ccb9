"""The moment of leaving a unit that waters: what each program does, and its next starts."""

from skavit.core.plan.water_edits import water_of
from skavit.core.sheet import mode_words
from skavit.core.simulation.handover import look_ahead
from skavit.core.text.wording import Words, minutes_text
from skavit.core.water.state import state_at
from skavit.core.water.year import water_year
from skavit.units.models import Unit
from skavit.units.pages.handover.parts import HandoverRow, Leaving, when_text

NEXT_STARTS, LOOKED_AT = 3, 60  # that are told of each program, and among which they are looked for


def leaving_programs(unit: Unit, now: int, words: Words) -> Leaving:
    """Each program at an instant."""
    plan, kind = unit.plan, unit.core_kind
    water = water_of(plan)
    year = water_year(look_ahead(plan, now))
    assert year is not None
    auto = mode_words(kind, "auto")
    has = kind.watering if kind else None
    rows = []
    for number, program in enumerate(water.programs):
        here = state_at(year.stack, now, LOOKED_AT)
        running = [turn for turn in here.running if turn.program == number]
        coming = [each for each in here.following if each.program == number][:NEXT_STARTS]
        names = ", ".join(water.stations[turn.station].name for turn in running)
        rows.append(
            HandoverRow(
                name=f"Program {program.name}",
                state="RUNS" if running else "OFF",
                leave=auto,
                back=f"{names} until {when_text(plan, max(turn.off for turn in running), words)}." if running
                else f"If a test runs a station: stop it, and back to {auto}.",
                differs="",
                next=[
                    (when_text(plan, each.begin, words), "starts", minutes_text((each.end - each.begin) / 60))
                    for each in coming
                ],
                prospects=[],
            )
        )  # fmt: skip
    counts = "each station by itself" if has and has.stations_each else "the whole program"
    off = has.off_mark if has else "OFF"
    return Leaving(
        rows=rows,
        test=(
            "Run station 1 by hand: its heads come up, and a number counts down on the display.",
            f"The display counts down {counts}; some show the next start in between: it must be the one above.",
            f"Stop it. {auto} stands on the display, and {off} does not.",
        ),
        warnings=("Water on paths, and heads that come up under people: look before you run a station.",),
    )
