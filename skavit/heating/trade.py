"""What heating gives the pages of units."""

from datetime import date
from functools import partial
from typing import TYPE_CHECKING, Any

from django.http import Http404

from skavit.charts.warmth_sheet import warmth_sheet, warmth_thumbnail
from skavit.charts.year_sheet import OFF_THE_SHEET
from skavit.core.ground.budget import Budget
from skavit.core.heat.targets import targets
from skavit.core.kinds import Kind
from skavit.core.plan import heat_edits
from skavit.core.plan.document import Plan
from skavit.core.plan.edits import Edit
from skavit.core.plan.heat_edits import heat_of
from skavit.core.simulation.replay import Replay
from skavit.core.text.wording import Words, count
from skavit.core.trades import HEATING
from skavit.heating import fitting
from skavit.heating.pages.leaving import leaving_zones
from skavit.heating.pages.unit.by_hand import HeatByHandForm, heat_by_hand_rows
from skavit.heating.pages.unit.day import HeatDay, heat_day
from skavit.heating.pages.unit.page import HeatingBody, altered, form_at, heating_body, heating_strip, year_picture
from skavit.heating.pages.unit.points_form import Place, PointsForm
from skavit.units.ahead import zones_at
from skavit.units.models import Unit
from skavit.units.pages.handover.parts import Leaving
from skavit.units.pages.live import live_at
from skavit.units.pages.numbered_findings import NumberedFinding
from skavit.units.pages.unit.parts import ByHandRow, Strip
from skavit.units.pages.unit.trial import Trial
from skavit.units.pages.view import View
from skavit.units.trades import (
    FitOption,
    Fitted,
    FoundLine,
    FoundPicture,
    Live,
    NotWritten,
    OutputRun,
    Shows,
    UnitPages,
)
from skavit.units.years import UnitYear

if TYPE_CHECKING:
    from django.http import QueryDict


class HeatingPages(UnitPages):
    """Units that hold temperatures by set points."""

    trade = HEATING
    work = "heating/_unit_work.html"
    day_part = "heating/_day.html"
    row_part = "heating/_points_form.html"
    unknown_label = "It holds temperatures, kind not known"
    unknown_help = "Zones and set points without limits."
    first_label = "Say how warm"
    fit_label = "Fit the set points"
    fit_help = "into the unit's days and periods"
    fit_note = "set points fitted"
    hazards = frozenset({"heater"})

    def rows(self, plan: Plan) -> int:
        return len(heat_of(plan).zones)

    def wanted_text(self, plan: Plan) -> str:
        points = sum(len(zone.wanted) for zone in heat_of(plan).zones)
        return count(points, "set point") if points else ""

    def keyed_text(self, plan: Plan) -> str:
        points = sum(len(zone.keyed) for zone in heat_of(plan).zones)
        return count(points, "set point") if points else ""

    def first_place(self, view: View) -> str:
        return f"wanted-{view.channel}-new"

    def pictures(self, shows: Shows) -> tuple[str, str]:
        return year_picture(shows, turned=False), year_picture(shows, turned=True)

    def strip(self, shows: Shows) -> Strip:
        zones = shows.found.zones(shows.now)
        return heating_strip(shows.unit.plan, zones, shows.view, shows.words, shows.now)

    def day(self, found: UnitYear, view: View, words: Words, now: int) -> HeatDay:
        return heat_day(found, view, words, now)

    def body(self, shows: Shows) -> HeatingBody:
        return heating_body(shows)

    def form_at(
        self, place: str, plan: Plan, revision: int, words: Words, view: View, data: "QueryDict | None" = None
    ) -> PointsForm:
        return form_at(place, plan, revision, words, data)

    def altered(self, trial: Trial, form: PointsForm, words: Words) -> list[str]:
        return altered(trial, form, words)

    def row_action(
        self, plan: Plan, place: str, action: str, data: "QueryDict", view: View, words: Words
    ) -> tuple[Edit, str] | None:
        at = Place.read(place)
        if at.index is None or action != "remove":
            raise Http404(place)
        return partial(heat_edits.remove_group, zone=at.zone, side=at.side, index=at.index), "set points removed"

    def by_hand_rows(self, plan: Plan, kind: Kind | None, words: Words) -> list[ByHandRow]:
        return heat_by_hand_rows(plan, words)

    def by_hand_form(
        self, plan: Plan, view: View, words: Words, data: "QueryDict | None" = None, **more: Any
    ) -> HeatByHandForm:
        more["initial"] = {"zone": view.channel} | more.get("initial", {})
        return HeatByHandForm(data, plan=plan, words=words, **more)

    def by_hand_removed(self, index: int) -> Edit:
        return partial(heat_edits.remove_done, index=index)

    def check_fit(self, plan: Plan) -> None:
        fitting.check_fit(plan)

    def fit_size(self, plan: Plan) -> float:
        return fitting.fit_size(plan)

    def fit(self, plan: Plan, year: int, words: Words, budget: Budget | None = None) -> Fitted:
        return fitting.fit_set_points(plan, year, words)

    def fit_options(self, plan: Plan, year: int, words: Words, budget: Budget | None = None) -> list[FitOption]:
        return fitting.fit_options(plan, year, words)

    def leaving(self, unit: Unit, now: int, words: Words) -> Leaving:
        return leaving_zones(unit, now, words)

    def live(self, unit: Unit, now: int, words: Words) -> Live:
        zones = zones_at(unit, now)
        coming = min((zone for zone in zones if zone.until is not None), key=lambda zone: zone.until or 0, default=None)
        if coming is None:
            held = zones[0].c
            return Live(when="–", what="off" if held is None else f"{words.warmth(held)} held")
        then = "off" if coming.then_c is None else words.warmth(coming.then_c)
        return live_at(unit, coming.until or 0, then, words)

    def sheet_picture(self, found: UnitYear, words: Words) -> str:
        warmth = found.warmth_year(0)
        assert warmth is not None
        return warmth_sheet(warmth, marks=[], cursor=OFF_THE_SHEET, today=None, words=words)

    def outputs(self, run: Replay) -> list[OutputRun]:
        warmed = targets(run)
        assert warmed is not None
        channels = [OutputRun(name=channel.name, spans=channel.actual) for channel in run.channels]
        return channels + [OutputRun(name=zone.zone.name, held=zone.actual) for zone in warmed.zones]

    def check_written(self) -> None:
        raise NotWritten("What it holds is written down day by day: type its set points in at Keyed in.")

    def read_line(self, line: str, path: str, plan: Plan, today: date) -> Any:
        self.check_written()

    def found_plan(self, plan: Plan, held: list[Any]) -> Plan:
        """As it is: nothing is written down of it."""
        return plan

    def taken(self, plan: Plan, found: Plan, *, windows: bool) -> Plan:
        return found

    def found_pictures(self, run: UnitYear, listed: list[NumberedFinding], words: Words) -> list[FoundPicture]:
        return []

    def found_lines(self, plan: Plan, slots: tuple[str, ...], words: Words) -> list[FoundLine]:
        return []

    def thumbnail(self, found: UnitYear, ident: str) -> str:
        heat = found.heat
        assert heat is not None
        apart = [zone.too_warm_kh + zone.too_cold_kh for zone in heat.zones]
        warmth = found.warmth_year(apart.index(max(apart)))
        return warmth_thumbnail(warmth, ident) if warmth else ""


PAGES = HeatingPages()
