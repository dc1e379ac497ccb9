"""What is done to a watering unit beyond an edit of its plan: programs made from what the plants need."""

import numpy as np
from django.urls import reverse

from skavit.background import services as background
from skavit.background.models import Job
from skavit.background.work import EDITORS, Outcome, Report, does
from skavit.core.ground.errors import UserError
from skavit.core.plan.days import Calendar
from skavit.core.plan.document import Plan
from skavit.core.plan.water import Station, Water
from skavit.core.text.wording import capital, count
from skavit.core.water.fitting import WaterLoss, fit_water
from skavit.crews.models import Membership
from skavit.now import read_now, year_at
from skavit.units.models import PlanRevision, Unit
from skavit.units.services.jobs import ask, unit_as_asked, write_plan
from skavit.units.services.revisions import edit

DAYS_LOOKED_AT = 4 * 365  # leap years do not matter
NEAR_A_WEEK = 0.4
# A fit of so many stations takes a second or two at the worst; one of more is work for the background.
STATIONS_AT_ONCE = 24
FIT_PROGRAMS = "fit-programs"


class CannotFit(UserError):
    """Nothing can be fitted yet."""


def fit_programs(
    unit: Unit, membership: Membership, base: int, *, now: int
) -> tuple[PlanRevision, tuple[WaterLoss, ...]]:
    """Make the programs from the stations in place; gives what they cannot hold too. Raises :class:`CannotFit`."""
    losses: list[WaterLoss] = []

    def change(plan: Plan) -> Plan:
        _can_fit(plan)
        found = fit_water(plan, year_at(plan.site, now))
        losses.extend(found.losses)
        return found.plan

    revision = edit(unit, membership, base, change, "programs fitted", now=now)
    return revision, tuple(losses)


def _can_fit(plan: Plan) -> None:
    """Raise :class:`CannotFit` where there is nothing to fit yet."""
    water = plan.water
    if water is None or not water.stations:
        raise CannotFit("There is no station yet. Accepted: at least one, with what grows there.")
    if water.climate is None:
        raise CannotFit("The average year is not known. Accepted: its twelve months, at Supply and rules.")


def fits_at_once(plan: Plan) -> bool:
    """Whether a fit may be done while a page waits for it."""
    return plan.water is None or len(plan.water.stations) <= STATIONS_AT_ONCE


def ask_fit(unit: Unit, membership: Membership, base: int) -> Job:
    """A fit that takes longer than a page may wait. Raises :class:`CannotFit`."""
    _can_fit(unit.plan)
    back = reverse("unit", args=[unit.pk])
    return ask(unit, membership, FIT_PROGRAMS, f"Fitting {unit.name}", {"base": base}, back)


@does(FIT_PROGRAMS, EDITORS)
def do_fit(job: Job, report: Report) -> Outcome:
    """Make the programs, and key them."""
    unit, membership = unit_as_asked(job), background.asked_by(job)
    report(10, "searching")
    found = fit_water(unit.plan, year_at(unit.site.place, read_now()))
    report(80, "replaying the year")
    return write_plan(
        job, unit, membership, found.plan, "programs fitted", "\n".join(fit_lines(found.plan, found.losses))
    )


def fit_lines(plan: Plan, losses: tuple[WaterLoss, ...]) -> list[str]:
    """What a fit made and what it could not hold, a line each."""
    water = plan.water
    assert water is not None
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
