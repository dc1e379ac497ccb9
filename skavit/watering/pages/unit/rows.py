"""The rows of a watering unit's page: stations in place, programs as keyed in, and the forms that open in them."""

import re
from dataclasses import dataclass
from typing import Any

from django.http import Http404, QueryDict

from skavit.core.plan.document import Plan
from skavit.core.plan.water import HUNDRED, Program, Water
from skavit.core.plan.water_edits import water_of
from skavit.core.text.wording import Words, count, days_text, minutes_text
from skavit.core.water.need import least_soak_min, longest_run_min
from skavit.core.water.tables import HEADS, told_by
from skavit.core.water.year import WaterYear
from skavit.units.pages.numbered_findings import NumberedFinding
from skavit.units.pages.unit.parts import Forms
from skavit.watering.pages.unit.program_form import ProgramForm
from skavit.watering.pages.unit.station_form import StationForm

_PLACE = re.compile(r"(?P<what>station|program)-(?P<index>\d+|new)")


@dataclass(frozen=True, slots=True, kw_only=True)
class StationRow:
    """A station in place."""

    place: str
    index: int
    number: int
    name: str
    plant: str  # what grows, on which ground
    rate: str
    runoff: str  # how long it may run, and must then soak; empty where that never binds
    year: str  # millimetres and dry days
    dry: bool
    form: Any


@dataclass(frozen=True, slots=True, kw_only=True)
class RunPart:
    """A station's run in a program."""

    station: int
    name: str
    minutes: str


@dataclass(frozen=True, slots=True, kw_only=True)
class ProgramRow:
    """A program as keyed in."""

    place: str
    index: int
    name: str
    starts: list[str]
    days: str
    runs: list[RunPart]
    total: str  # 42 min in all; at 130 % 54.6 min, runs as 55
    months: list[tuple[str, str]]  # empty where every month is 100
    findings: list[NumberedFinding]
    form: Any


def form_at(
    place: str, plan: Plan, revision: int, words: Words, data: QueryDict | None = None
) -> StationForm | ProgramForm:
    """The form of a place, showing the row there, or bound to what was typed; 404 for no place of the plan."""
    match = _PLACE.fullmatch(place)
    if match is None:
        raise Http404(place)
    water = water_of(plan)
    index, initial = None if match["index"] == "new" else int(match["index"]), {"revision": revision}
    if match["what"] == "station":
        shown = _at(water.stations, index)
        return StationForm(data, place=place, index=index, plan=plan, words=words, shown=shown, initial=initial)
    shown = _at(water.programs, index)
    return ProgramForm(data, place=place, index=index, plan=plan, words=words, shown=shown, initial=initial)


def _at(rows: tuple[Any, ...], index: int | None) -> Any:
    if index is None:
        return None
    if index >= len(rows):
        raise Http404(index)
    return rows[index]


def station_rows(plan: Plan, year: WaterYear, words: Words, forms: Forms) -> list[StationRow]:
    """The stations with what the year does to each."""
    rows = []
    for index, station in enumerate(water_of(plan).stations):
        told = told_by(station)
        longest = longest_run_min(station)
        runoff = "" if longest == float("inf") else (
            f"runs off after {minutes_text(int(longest))}, then soaks {minutes_text(round(least_soak_min(station)))}"
        )  # fmt: skip
        grows = ", ".join(part for part in (told.plant or ("as measured" if station.soil else ""), told.ground) if part)
        dry = year.dry_days(index)
        given = year.season.irrigation[:, index].sum() if year.season is not None else None
        rows.append(
            StationRow(
                place=f"station-{index}",
                index=index,
                number=index + 1,
                name=station.name,
                plant=grows,
                rate=words.rate(station.rate) if station.rate else words.flow(station.flow_l_min),
                runoff=runoff,
                year="" if given is None else f"{words.depth(float(given))}, {count(dry, 'dry day')}",
                dry=dry > 0,
                form=forms.get(f"station-{index}"),
            )
        )
    return rows


def program_rows(
    plan: Plan, year: WaterYear, findings: list[NumberedFinding], words: Words, forms: Forms
) -> list[ProgramRow]:
    """The programs in order, each with what it comes to."""
    water = water_of(plan)
    rows = []
    for index, program in enumerate(water.programs):
        rows.append(
            ProgramRow(
                place=f"program-{index}",
                index=index,
                name=program.name,
                starts=[words.time(at) for at in program.starts],
                days=days_text(program.days),
                runs=[
                    RunPart(station=r.station, name=water.stations[r.station - 1].name, minutes=minutes_text(r.run_min))
                    for r in program.runs
                ],
                total=total_text(program, water),
                months=_months(program),
                findings=[
                    n for n in findings
                    if getattr(n.finding.facts, "program", None) == program.name and n.finding.severity != "note"
                ],
                form=forms.get(f"program-{index}"),
            )
        )  # fmt: skip
    return rows


def _months(program: Program) -> list[tuple[str, str]]:
    if program.monthly_pct == HUNDRED:
        return []
    letters = "JFMAMJJASOND"
    return [(letter, f"{pct:g}") for letter, pct in zip(letters, program.monthly_pct, strict=True)]


def total_text(program: Program, water: Water) -> str:
    """What one start of it comes to: keyed, by the season, and as the unit then runs it."""
    total = sum(run.run_min for run in program.runs)
    text = f"{minutes_text(total)} in all"
    if program.adjust_pct != 100:
        exact = total * program.adjust_pct / 100
        from_100 = Program(name="-", starts=(), runs=program.runs, adjust_pct=program.adjust_pct)
        as_run = sum(from_100.run_seconds(0, water.run_step_s)) / 60
        text += f"; at {program.adjust_pct:g} % {exact:g} min"
        text += f", runs as {as_run:g}" if abs(as_run - exact) > 1e-6 else ""
        total = as_run
    starts = len(program.starts)
    return text + (f", {starts} times on its days: {minutes_text(total * starts)} a day" if starts > 1 else "")


def supply_line(plan: Plan, words: Words) -> list[tuple[str, str]]:
    """Supply and rules at a glance."""
    water = water_of(plan)
    if water.allowed is None:
        hours = "at any time"
    else:
        hours = (
            "; ".join(
                f"{words.time(w.start)} to {words.time(w.to) if w.to else f'{w.for_min} min on'}"
                + ("" if days_text(w.days) == "every day" else f", {days_text(w.days)}")
                for w in water.allowed
            )
            or "never"
        )
    found = [("Water may flow", hours)]
    supply = f"{words.flow(water.supply_l_min)} at once" if water.supply_l_min else "not measured"
    if water.supply_kpa:
        supply += f", {words.pressure(water.supply_kpa)} left"
    found.append(("Supply", supply))
    found += _weak(water, words)
    if water.price_m3 is not None:
        found.append(("A cubic metre costs", f"{water.price_m3:g}"))
    return found


def _weak(water: Water, words: Words) -> list[tuple[str, str]]:
    """Heads that usually want more pressure than is left."""
    heads = {told_by(station).head for station in water.stations} - {""}
    short = sorted(name for name in heads if water.supply_kpa and HEADS[name].pressure_kpa > water.supply_kpa)
    if not short:
        return []
    told = ", ".join(f"{name} {words.pressure(HEADS[name].pressure_kpa)}" for name in short)
    return [("Too little", f"usually wanted: {told}. Heads then throw short and water unevenly")]
