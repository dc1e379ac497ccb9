"""What watering gives the pages of units."""

import re
from dataclasses import replace
from datetime import date
from functools import partial
from typing import TYPE_CHECKING, Any

from skavit.charts.water_year import water_thumbnail, water_year_picture
from skavit.charts.year_sheet import OFF_THE_SHEET
from skavit.core.ground.budget import Budget
from skavit.core.kinds import Kind
from skavit.core.plan import water_edits
from skavit.core.plan.document import Plan
from skavit.core.plan.edits import Edit
from skavit.core.plan.water import Program
from skavit.core.plan.water_edits import water_of
from skavit.core.simulation.replay import Replay
from skavit.core.text.program_lines import PROGRAM_FORM, program_typed
from skavit.core.text.wording import Words, capital, count
from skavit.core.trades import WATERING
from skavit.core.water.stack import named_stations
from skavit.server.bounds import MOST_STATIONS
from skavit.units.ahead import moment_now
from skavit.units.models import Unit
from skavit.units.pages.handover.parts import Leaving
from skavit.units.pages.live import live_at
from skavit.units.pages.numbered_findings import NumberedFinding
from skavit.units.pages.unit.parts import ByHandRow, Strip
from skavit.units.pages.unit.trial import Trial
from skavit.units.pages.view import View
from skavit.units.trades import FitOption, Fitted, FoundLine, FoundPicture, Live, OutputRun, Shows, UnitPages
from skavit.units.years import UnitYear
from skavit.watering import fitting
from skavit.watering.pages import found as as_found
from skavit.watering.pages.leaving import leaving_programs
from skavit.watering.pages.unit.by_hand import WaterByHandForm, water_by_hand_rows
from skavit.watering.pages.unit.head import watering_strip
from skavit.watering.pages.unit.night import WateringNight, watering_night
from skavit.watering.pages.unit.page import WateringBody, altered, watering_body, year_picture
from skavit.watering.pages.unit.program_form import ProgramForm, free_name
from skavit.watering.pages.unit.rows import form_at
from skavit.watering.pages.unit.station_form import StationForm
from skavit.watering.pages.visit_fields import visit_fields

if TYPE_CHECKING:
    from collections.abc import Mapping

    from django.forms import Field
    from django.http import QueryDict

_ROW = re.compile(r"(station|program)-(\d+)")


class WateringPages(UnitPages):
    """Units that water by programs."""

    trade = WATERING
    work = "watering/_unit_work.html"
    day_part = "watering/_night.html"
    row_part = "watering/_form.html"
    unknown_label = "It waters, kind not known"
    unknown_help = "Stations and programs without limits."
    first_label = "Add a station"
    fit_label = "Fit the programs"
    fit_help = "from what the plants need, within what the unit holds and the hours allow"
    fit_note = "programs fitted"
    hazards = frozenset({"valve"})
    lines_label = "The programs it holds, a line each"
    lines_help = f"{capital(PROGRAM_FORM)}."
    take_label = "Take these programs"

    def rows(self, plan: Plan) -> int:
        return len(water_of(plan).stations)

    def wanted_text(self, plan: Plan) -> str:
        stations = len(water_of(plan).stations)
        return count(stations, "station") if stations else ""

    def keyed_text(self, plan: Plan) -> str:
        programs = len(water_of(plan).programs)
        return count(programs, "program") if programs else ""

    def first_place(self, view: View) -> str:
        return "station-new"

    def can_fit(self, found: UnitYear) -> bool:
        return found.water is not None and found.water.season is not None

    def pictures(self, shows: Shows) -> tuple[str, str]:
        return year_picture(shows, narrow=False), year_picture(shows, narrow=True)

    def strip(self, shows: Shows) -> Strip:
        here = shows.found.water_at(shows.now)
        assert here is not None
        return watering_strip(shows.unit.plan, here, shows.words, shows.now)

    def day(self, found: UnitYear, view: View, words: Words, now: int) -> WateringNight:
        return watering_night(found, view, words, now)

    def body(self, shows: Shows) -> WateringBody:
        return watering_body(shows)

    def form_at(
        self, place: str, plan: Plan, revision: int, words: Words, view: View, data: "QueryDict | None" = None
    ) -> StationForm | ProgramForm:
        return form_at(place, plan, revision, words, data)

    def altered(self, trial: Trial, form: StationForm | ProgramForm, words: Words) -> list[str]:
        return altered(trial, form, words)

    def row_action(
        self, plan: Plan, place: str, action: str, data: "QueryDict", view: View, words: Words
    ) -> tuple[Edit, str] | None:
        match = _ROW.fullmatch(place)
        if match is None:
            return None
        index = int(match[2])
        copied = partial(water_edits.copy_program, index=index, name=free_name(plan))
        edits: dict[tuple[str, str], tuple[Edit, str]] = {
            ("station", "remove"): (partial(water_edits.remove_station, index=index), "station removed"),
            ("station", "copy"): (partial(water_edits.copy_station, index=index), "station copied"),
            ("program", "remove"): (partial(water_edits.remove_program, index=index), "program cleared"),
            ("program", "copy"): (copied, "program copied"),
        }
        return edits.get((match[1], action))

    def by_hand_rows(self, plan: Plan, kind: Kind | None, words: Words) -> list[ByHandRow]:
        return water_by_hand_rows(plan, words)

    def visit_fields(self) -> "Mapping[str, Mapping[str, Field]]":
        return visit_fields()

    def by_hand_form(
        self, plan: Plan, view: View, words: Words, data: "QueryDict | None" = None, **more: Any
    ) -> WaterByHandForm:
        return WaterByHandForm(data, plan=plan, **more)

    def by_hand_removed(self, index: int) -> Edit:
        return partial(water_edits.remove_done, index=index)

    def check_fit(self, plan: Plan) -> None:
        fitting.check_fit(plan)

    def fit_size(self, plan: Plan) -> float:
        return len(water_of(plan).stations) / fitting.STATIONS_AT_ONCE

    def fit(self, plan: Plan, year: int, words: Words, budget: Budget | None = None) -> Fitted:
        return fitting.fit_programs(plan, year)

    def fit_options(self, plan: Plan, year: int, words: Words, budget: Budget | None = None) -> list[FitOption]:
        return fitting.fit_options(plan, year, words)

    def leaving(self, unit: Unit, now: int, words: Words) -> Leaving:
        return leaving_programs(unit, now, words)

    def live(self, unit: Unit, now: int, words: Words) -> Live:
        here = moment_now(unit, now)
        assert here is not None
        if here.running:
            station = water_of(unit.plan).stations[here.running[0].station]
            return Live(when="now", what=f"{station.name} running")
        if not here.following:
            return Live(when="–", what="nothing waters")
        return live_at(unit, here.following[0].begin, "waters", words)

    def sheet_picture(self, found: UnitYear, words: Words) -> str:
        year = found.station_year(0)
        return water_year_picture(year, marks=[], cursor=OFF_THE_SHEET, today=None) if year else ""

    def outputs(self, run: Replay) -> list[OutputRun]:
        channels = [OutputRun(name=channel.name, spans=channel.actual) for channel in run.channels]
        stations = [OutputRun(name=name, spans=spans, waters=True) for name, spans in named_stations(run)]
        return channels + stations

    def read_line(self, line: str, path: str, plan: Plan, today: date) -> Program:
        return program_typed(line, path, MOST_STATIONS, today)

    def found_plan(self, plan: Plan, held: list[Any]) -> Plan:
        return as_found.found_plan(plan, held)

    def taken(self, plan: Plan, found: Plan, *, windows: bool) -> Plan:
        """Its programs, and stations for those that nobody has named yet."""
        return replace(plan, water=found.water)

    def found_pictures(self, run: UnitYear, listed: list[NumberedFinding], words: Words) -> list[FoundPicture]:
        return as_found.found_pictures(run, listed, words)

    def found_lines(self, plan: Plan, slots: tuple[str, ...], words: Words) -> list[FoundLine]:
        return as_found.found_lines(plan, words)

    def thumbnail(self, found: UnitYear, ident: str) -> str:
        water = found.water
        stations = range(self.rows(found.replay.plan))
        driest = max(stations, key=water.dry_days, default=None) if water is not None else None
        year = None if driest is None else found.station_year(driest)
        return water_thumbnail(year, ident) if year else ""


PAGES = WateringPages()
