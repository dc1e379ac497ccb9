"""The two columns of a unit that waters, and what else its page shows."""

from dataclasses import dataclass
from typing import Any

from skavit.charts.water_year import in_inches, water_year_picture
from skavit.core.ground.arrays import DAY_S
from skavit.core.plan.water_edits import water_of
from skavit.core.text.wording import Words, capital
from skavit.core.water.usual_climate import usual_climate
from skavit.core.water.year import WaterYear, change_lines
from skavit.server.now import local_digits
from skavit.units.pages.numbered_findings import marks_of
from skavit.units.pages.unit.trial import Trial
from skavit.units.trades import Shows
from skavit.watering.pages.unit.program_form import ProgramForm
from skavit.watering.pages.unit.rows import ProgramRow, StationRow, program_rows, station_rows, supply_line, total_text
from skavit.watering.pages.unit.station_form import StationForm


@dataclass(frozen=True, slots=True, kw_only=True)
class Saved:
    """What the year uses beside the same run times all year."""

    used: str
    all_year: str
    saved: str  # empty where nothing is
    money: str  # empty where the price is not known


@dataclass(frozen=True, slots=True, kw_only=True)
class WateringBody:
    """The stations in place, and the programs as keyed in."""

    station: str  # the name of the one that is shown
    stations: list[StationRow]
    station_new: Any
    programs: list[ProgramRow]
    program_new: Any
    usual_year: bool  # the climate is the stand-in of the latitude
    supply: list[tuple[str, str]]
    saved: Saved | None


def watering_body(shows: Shows) -> WateringBody:
    """Work out the two columns."""
    plan, words, forms = shows.unit.plan, shows.words, shows.forms
    water, year = water_of(plan), shows.found.water
    assert year is not None
    return WateringBody(
        station=water.stations[shows.view.channel - 1].name if water.stations else "",
        stations=station_rows(plan, year, words, forms),
        station_new=forms.get("station-new"),
        programs=program_rows(plan, year, shows.listed, words, forms),
        program_new=forms.get("program-new"),
        usual_year=water.climate == usual_climate(plan.site.latitude),
        supply=supply_line(plan, words),
        saved=_saved(year, words) if water.programs else None,
    )


def year_picture(shows: Shows, *, narrow: bool) -> str:
    """The year of the station that is shown, as SVG; empty where there is none."""
    found, view = shows.found, shows.view
    year = found.station_year(view.channel - 1)
    if year is None:
        return ""
    today = local_digits(found.replay.plan, shows.now) // DAY_S - year.first
    return water_year_picture(
        in_inches(year) if shows.words.us_units else year,
        marks=marks_of(shows.listed, view.channel),
        cursor=view.day - year.first,
        today=today if 0 <= today < year.count else None,
        narrow=narrow,
    )


def _saved(water: WaterYear, words: Words) -> Saved:
    saved = water.saved_litres
    money = water.cost(saved)
    return Saved(
        used=words.volume(water.litres),
        all_year=words.volume(water.all_year_litres),
        saved=words.volume(saved) if saved >= 1 else "",
        money=f"{money:,.2f}" if money is not None and saved >= 1 else "",
    )


def altered(trial: Trial, form: StationForm | ProgramForm, words: Words) -> list[str]:
    """What a valid form alters in the year of a trial, a line each."""
    before, after = trial.before.water, trial.after.water
    assert before is not None
    assert after is not None
    total = []
    if isinstance(form, ProgramForm) and form.program is not None:
        total = [f"{capital(total_text(form.program, water_of(trial.plan)))}."]
    return total + (change_lines(before, after, words) or ["Alters nothing this year."])
