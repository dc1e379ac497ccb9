"""Programs made from what the plants need, and what is said of them."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import date

import numpy as np

from skavit.core.plan.days import Calendar
from skavit.core.plan.document import Plan
from skavit.core.plan.water import Station, Water
from skavit.core.plan.water_edits import water_of
from skavit.core.sheet import program_text
from skavit.core.simulation.replay import replay
from skavit.core.text.wording import Words, capital, count
from skavit.core.water.fitting import fit_water
from skavit.core.water.losses import WaterLoss
from skavit.core.water.year import water_year
from skavit.units.trades import CannotFit, FitOption, Fitted

DAYS_LOOKED_AT = 4 * 365  # leap years do not matter
NEAR_A_WEEK = 0.4
# A fit of so many stations takes a second or two at the worst.
STATIONS_AT_ONCE = 24


def check_fit(plan: Plan) -> None:
    """Raise :class:`CannotFit` where there is nothing to fit yet."""
    water = water_of(plan)
    if not water.stations:
        raise CannotFit("There is no station yet. Accepted: at least one, with what grows there.")
    if water.climate is None:
        raise CannotFit("The average year is not known. Accepted: its twelve months, at Supply and rules.")


def fit_programs(plan: Plan, year: int) -> Fitted:
    """Make the programs from the stations in place."""
    found = fit_water(plan, year)
    return Fitted(plan=found.plan, lines=fit_lines(found.plan, found.losses), exact=not found.losses)


def fit_lines(plan: Plan, losses: tuple[WaterLoss, ...]) -> list[str]:
    """What a fit made and what it could not hold, a line each."""
    water = water_of(plan)
    made = f"{count(len(water.programs), 'program')} for {count(len(water.stations), 'station')}."
    asked = [line for number, station in enumerate(water.stations) if (line := _asked(water, number, station))]
    if not losses:
        return [f"{made} Every station keeps its plants well in the average year.", *asked]
    lines = [f"{made} Not everything can be held:"]
    lines += [loss_text(water, loss) for loss in losses]
    return lines + asked


def loss_text(water: Water, loss: WaterLoss) -> str:
    """What a fit could not hold, with the nearest that it does."""
    name = water.stations[loss.station - 1].name if loss.station else ""
    reason = loss.reason if not name or loss.reason.startswith(name) else f"{name}: {loss.reason}"
    return f"{capital(reason)}. Nearest: {loss.nearest}."


def _asked(water: Water, number: int, station: Station) -> str:
    """What becomes of a number of waterings a week that somebody asked for; empty where it is held, or none was asked for."""
    program = next((p for p in water.programs if any(run.station == number + 1 for run in p.runs)), None)
    if station.per_week is None or program is None:
        return ""
    days = np.arange(DAYS_LOOKED_AT)
    often = int(program.days.matches(Calendar(days)).sum()) / DAYS_LOOKED_AT * 7
    if abs(often - station.per_week) < NEAR_A_WEEK:
        return ""
    return f"{station.name}: asked for {count(station.per_week, 'time')} a week, waters {often:.1f} times: no days that water may flow on come nearer."


@dataclass(frozen=True, slots=True, kw_only=True)
class Layout:
    """A way to lay out programs: the limits that it keeps to beside the unit's own."""

    slug: str
    name: str
    when: str  # one would choose it
    bound: Callable[[Water], Water]


def _limits(**changes: object) -> Callable[[Water], Water]:
    return lambda water: replace(water, limits=replace(water.limits, **changes))  # type: ignore[arg-type]


LAYOUTS = (
    Layout(slug="need", name="As the soil asks", when="least water, any rule for days", bound=lambda water: water),
    Layout(slug="weekdays", name="On weekdays", when="people know them by heart", bound=_limits(days=("any",))),
    Layout(slug="one", name="One program", when="quickest to key and to explain", bound=_limits(programs=1)),
    Layout(
        slug="season", name="Without months", when="somebody turns the season by hand", bound=_limits(monthly=False)
    ),
)


def offered(plan: Plan) -> list[Layout]:
    """The layouts that a unit's limits leave."""
    limits = water_of(plan).limits
    found = []
    for layout in LAYOUTS:
        if layout.slug == "weekdays" and limits.days is not None and "any" not in limits.days:
            continue
        if (layout.slug == "one" and limits.stations is not None) or (layout.slug == "season" and not limits.monthly):
            continue
        found.append(layout)
    return found


def laid_out(plan: Plan, layout: Layout, year: int) -> tuple[Plan, tuple[WaterLoss, ...]]:
    """The plan with programs of one layout and the unit's own limits, and what it loses. Raises PlanError."""
    water = water_of(plan)
    found = fit_water(replace(plan, water=layout.bound(water)), year)
    return replace(plan, water=water.with_programs(water_of(found.plan).programs)), found.losses


def fit_options(plan: Plan, year: int, words: Words) -> list[FitOption]:
    """Each layout with its programs, what it uses in a year, and what it loses."""
    found = []
    for layout in offered(plan):
        made, losses = laid_out(plan, layout, year)
        run = water_year(replay(made, date(year, 1, 1), date(year, 12, 31)))
        assert run is not None
        used = f"{words.volume(run.litres)} a year{'' if losses else ', no plant runs dry'}"
        found.append(
            FitOption(
                name=layout.name,
                when=layout.when,
                plan=made,
                lines=[program_text(program, words) for program in water_of(made).programs],
                losses=[used, *(loss_text(water_of(plan), loss) for loss in losses)],
            )
        )
    return found
