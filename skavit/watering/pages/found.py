"""A unit that waters as it was found: its programs, and what its stations got."""

from typing import Any

from skavit.charts.water_year import water_year_picture
from skavit.charts.year_sheet import OFF_THE_SHEET
from skavit.core.ground.strict_json import Node
from skavit.core.plan.document import Plan
from skavit.core.plan.times import ClockTime
from skavit.core.plan.water import Program
from skavit.core.plan.water_edits import water_as_found, water_of
from skavit.core.text.wording import Words, days_text
from skavit.units.pages.numbered_findings import NumberedFinding, marks_of
from skavit.units.trades import FoundLine, FoundPicture
from skavit.units.years import UnitYear

MOST_PICTURES = 12  # of stations


def found_plan(plan: Plan, held: list[Any]) -> Plan:
    """The plan of a unit that holds some programs, given as JSON."""
    return water_as_found(plan, tuple(Program.read(Node(raw, "entries")) for raw in held))


def found_pictures(run: UnitYear, listed: list[NumberedFinding], words: Words) -> list[FoundPicture]:
    """What each station got all year."""
    stations = len(water_of(run.replay.plan).stations)
    return [_picture(run, index, listed, words) for index in range(min(stations, MOST_PICTURES))]


def _picture(run: UnitYear, station: int, listed: list[NumberedFinding], words: Words) -> FoundPicture:
    water, year = water_of(run.replay.plan), run.station_year(station)
    assert year is not None
    pictures = [
        water_year_picture(year, marks=marks_of(listed, station + 1), cursor=OFF_THE_SHEET, today=None, narrow=narrow)
        for narrow in (False, True)
    ]
    litres = run.water.litres_by_month(station).sum() if run.water else 0.0
    summary = f"{words.volume(float(litres))} a year" if litres else "nothing waters it"
    name = f"{station + 1} {water.stations[station].name}"
    return FoundPicture(name=name, summary=[summary], sheets=(pictures[0], pictures[1]))


def found_lines(plan: Plan, words: Words) -> list[FoundLine]:
    """The programs that it held, each with the hours in which its stations run one after another."""
    water = water_of(plan)
    found = []
    for program in water.programs:
        seconds = sum(program.run_seconds(0, water.run_step_s))
        hours = ", ".join(
            f"{words.time(at)}" + (f" to {words.clock(at.seconds + seconds)}" if isinstance(at, ClockTime) else "")
            for at in program.starts
        )
        runs = ", ".join(f"station {run.station} {run.run_min:g} min" for run in program.runs)
        season = f", at {program.adjust_pct:g} %" if program.adjust_pct != 100 else ""
        text = f"{hours}, {days_text(program.days)}: {runs}{season}"
        found.append(FoundLine(slot=program.name, action="", text=text))
    return found
