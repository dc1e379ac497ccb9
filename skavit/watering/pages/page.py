"""What the page of a watering unit shows."""

from dataclasses import dataclass
from typing import Any

from skavit.charts.water_year import in_inches, water_year_picture
from skavit.core.ground.arrays import DAY_S
from skavit.core.plan.document import Plan
from skavit.core.text.wording import Words, capital
from skavit.core.water.usual_climate import usual_climate
from skavit.core.water.year import WaterYear, change_lines
from skavit.now import local_digits
from skavit.units.models import Unit
from skavit.units.pages.numbered import Numbered, marks_of, numbered
from skavit.units.pages.plan.by_hand_rows import ByHandRow
from skavit.units.pages.plan.forms import ImportForm
from skavit.units.pages.plan.night import Strip
from skavit.units.pages.plan.page import changed_text, today_text
from skavit.units.pages.plan.rows import Forms
from skavit.units.pages.plan.trial import tried
from skavit.units.pages.view import View
from skavit.units.pages.way import Way, way_of
from skavit.units.results import UnitYear, unit_year
from skavit.watering.pages.by_hand import WaterByHandForm, water_by_hand_rows
from skavit.watering.pages.head import watering_strip
from skavit.watering.pages.night import WateringNight, watering_night
from skavit.watering.pages.program_form import ProgramForm
from skavit.watering.pages.rows import (
    ProgramRow,
    StationRow,
    form_at,
    program_rows,
    station_rows,
    supply_line,
    total_text,
)
from skavit.watering.pages.station_form import StationForm


@dataclass(frozen=True, slots=True, kw_only=True)
class Saved:
    """What the year uses beside the same run times all year."""

    used: str
    all_year: str
    saved: str  # empty where nothing is
    money: str  # empty where the price is not known


@dataclass(frozen=True, slots=True, kw_only=True)
class WateringPage:
    """A watering unit's page: what it does, what is wrong, what is wanted and what is keyed in."""

    unit: Unit
    plan: Plan
    revision: int
    changed: str
    view: View
    findings: list[Numbered]
    untold: int
    worst: Numbered | None
    serious: list[Numbered]
    notes: list[Numbered]
    sheet: str  # empty where the need of the station is not known
    sheet_turned: str
    station: str  # the name of the one that is shown
    strip: Strip
    night: WateringNight
    channels: list[Any]  # none: findings name channels of other units by them
    stations: list[StationRow]
    station_new: Any
    programs: list[ProgramRow]
    program_new: Any
    wanted: bool
    entries: bool
    can_fit: bool
    usual_year: bool  # the climate is the stand-in of the latitude
    supply: list[tuple[str, str]]
    saved: Saved | None
    way: Way
    by_hand: list[ByHandRow]
    by_hand_new: Any
    undo: bool
    redo: bool
    import_form: ImportForm


def watering_page(
    unit: Unit, view: View, words: Words, now: int, forms: Forms | None = None, *, may_edit: bool = True
) -> WateringPage:
    """All that the page shows; ``forms`` are those open by their place, refused ones with what was typed."""
    plan, revision = unit.plan, unit.head_revision
    assert plan.water is not None
    forms = forms or {}
    if may_edit and not plan.water.stations:
        place = "station-new"  # the first question of an empty unit stands open
        forms = {place: form_at(place, plan, revision.number, words), **forms}
    found = unit_year(plan, view.year)
    water, here = found.water, found.moment(now)
    assert water is not None
    assert here is not None
    listed = numbered(found, words)
    serious = [n for n in listed if n.finding.severity != "note"]
    picture = [_picture(found, view, listed, words, now, narrow=narrow) for narrow in (False, True)]
    return WateringPage(
        unit=unit,
        plan=plan,
        revision=revision.number,
        changed=changed_text(plan, revision, words),
        view=view,
        findings=listed,
        untold=len(found.findings) - len(listed),
        worst=serious[0] if serious else None,
        serious=serious,
        notes=[n for n in listed if n.finding.severity == "note"],
        sheet=picture[0],
        sheet_turned=picture[1],
        station=plan.water.stations[view.channel - 1].name if plan.water.stations else "",
        strip=watering_strip(plan, here, words, now),
        night=watering_night(found, view, words, now),
        channels=[],
        stations=station_rows(plan, water, words, forms),
        station_new=forms.get("station-new"),
        programs=program_rows(plan, water, listed, words, forms),
        program_new=forms.get("program-new"),
        wanted=bool(plan.water.stations),
        entries=bool(plan.water.programs),
        can_fit=water.season is not None,
        usual_year=plan.water.climate == usual_climate(plan.site.latitude),
        supply=supply_line(plan, words),
        saved=_saved(water, words) if plan.water.programs else None,
        way=way_of(unit, found, words, now, may_edit=may_edit),
        by_hand=water_by_hand_rows(plan, words),
        by_hand_new=forms.get("by-hand")
        or WaterByHandForm(plan=plan, initial={"revision": revision.number, "date": today_text(plan, now)}),
        undo=revision.parent_id is not None,
        redo=revision.children.exists(),
        import_form=forms.get("import") or ImportForm(initial={"revision": revision.number}),
    )


def _picture(found: UnitYear, view: View, listed: list[Numbered], words: Words, now: int, *, narrow: bool) -> str:
    year = found.station_year(view.channel - 1)
    if year is None:
        return ""
    today = local_digits(found.replay.plan, now) // DAY_S - year.first
    return water_year_picture(
        in_inches(year) if words.us_units else year,
        marks=marks_of(listed, view.channel),
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


def altered_lines(unit: Unit, form: StationForm | ProgramForm, year: int) -> list[str]:
    """What a valid form alters in a year, and what it would newly be found fault with. Raises PlanError for too large a plan."""
    trial = tried(unit.plan, form.edit, year)
    before, after = trial.before.water, trial.after.water
    lines: list[str] = []
    if isinstance(form, ProgramForm) and form.program is not None and trial.plan.water is not None:
        lines.append(f"{capital(total_text(form.program, trial.plan.water))}.")
    if before is not None and after is not None:
        lines += change_lines(before, after, form.words) or ["Alters nothing this year."]
    return lines + trial.new_headlines(form.words)
