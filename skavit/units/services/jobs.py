"""What the background work of units shares: who asked, for which unit, and how a plan worked out is written."""

from dataclasses import replace
from typing import Any

from django.urls import reverse

from skavit.background import services as background
from skavit.background.models import Job
from skavit.background.work import Outcome
from skavit.core.plan.document import Plan
from skavit.crews.models import Membership
from skavit.server.bounds import check_plan
from skavit.server.now import read_now, year_at
from skavit.units import computing, selectors
from skavit.units.models import Unit
from skavit.units.services import revisions

OVERTAKEN = "The plan has been changed meanwhile, so nothing was applied. Ask for it again."


def ask(
    unit: Unit,
    membership: Membership,
    work: str,
    title: str,
    arguments: dict[str, Any],
    back: str,
    upload: bytes | None = None,
) -> Job:
    """Begin a kind of work on a unit; ``back`` is the page that asked."""
    return background.begin(membership, work, title, {"unit": unit.pk, **arguments}, back, upload)


def unit_of_job(job: Job) -> Unit:
    """The unit that the work is on; refused where it is there no more."""
    found = selectors.units_of(job.crew).filter(pk=job.arguments["unit"]).first()
    if found is None:
        raise background.Refused("The unit is gone.")
    return found


def unit_as_asked(job: Job) -> Unit:
    """The same; refused too where its plan has been changed since the work was asked for."""
    unit = unit_of_job(job)
    if unit.head_revision.number != job.arguments["base"]:
        raise background.Refused(OVERTAKEN)
    return unit


def write_plan(job: Job, unit: Unit, membership: Membership, plan: Plan, note: str, told: str) -> Outcome:
    """Write a plan that was worked out, where the unit's plan is still the one it was made for."""
    outcome = Outcome(told=told, then=reverse("unit", args=[unit.pk]))
    check_plan(plan)
    # Worked out before anything is locked; it is kept for the edit that follows.
    now = read_now()
    computing.unit_year(replace(plan, site=unit.site.place), year_at(unit.site.place, now))
    try:
        with background.applying(job):
            revisions.edit(unit, membership, job.arguments["base"], lambda _: plan, note, now=now)
            background.finish(job, outcome)
    except revisions.StaleEdit as stale:
        raise background.Refused(OVERTAKEN) from stale
    return outcome
