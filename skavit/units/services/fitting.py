"""Entries made from windows: in the page while that is quick, in the background where it is not; and remedies taken."""

import json
from typing import Any

from django.urls import reverse

from skavit.background import services as background
from skavit.background.models import Job, State
from skavit.background.work import EDITORS, Outcome, Report, does
from skavit.bounds import CHANNELS_AT_ONCE, WINDOWS_AT_ONCE
from skavit.core.fitting import Fit, Loss, fit
from skavit.core.ground.budget import Budget
from skavit.core.plan.document import Plan
from skavit.core.text.wording import count
from skavit.crews.access import require_edit
from skavit.crews.models import Membership
from skavit.now import read_now, year_at
from skavit.units import results
from skavit.units.models import PlanRevision, Unit
from skavit.units.services.jobs import OVERTAKEN, ask, unit_as_asked, unit_of_job, write_plan
from skavit.units.services.revisions import NothingTo, edit, head_at

FIT = "fit"
WAYS = "ways"


def fit_entries(
    unit: Unit, membership: Membership, base: int, *, now: int, budget: Budget | None = None
) -> tuple[PlanRevision, tuple[Loss, ...]]:
    """Make the entries from the windows, within the unit's limits; gives what could not be held too.

    With a ``budget`` the search is one of many steps only: raises :class:`TooLong` where that was not enough.
    """
    losses: list[Loss] = []

    def change(plan: Plan) -> Plan:
        if budget is not None and not fits_at_once(plan):
            raise TooLong
        result = fit(plan, year_at(plan.site, now), budget)
        if budget is not None and result.ended:
            raise TooLong
        losses.extend(result.losses)
        return result.plan

    revision = edit(unit, membership, base, change, "entries fitted", now=now)
    return revision, tuple(losses)


class TooLong(Exception):
    """A search takes longer than a page may wait; it is work for the background."""


def fits_at_once(plan: Plan) -> bool:
    """Whether a fit may be tried while a page waits for it."""
    windows = sum(len(channel.windows) for channel in plan.channels)
    return windows <= WINDOWS_AT_ONCE and len(plan.channels) <= CHANNELS_AT_ONCE


def apply_remedy(unit: Unit, membership: Membership, base: int, year: int, key: str, *, now: int) -> PlanRevision:
    """Take the remedy of that key among those of the findings of a year."""
    require_edit(membership)
    unit.head = head_at(unit, base)
    findings = results.unit_year(unit.plan, year).findings
    remedy = next((f.remedy for f in findings if f.remedy and f.remedy.key == key), None)
    if remedy is None:
        raise NothingTo("This finding is no longer there.")
    return edit(unit, membership, base, remedy.applied, f"remedy: {remedy.label}"[:200], now=now)


def ask_fit(unit: Unit, membership: Membership, base: int) -> Job:
    """A fit that takes longer than a page may wait."""
    return ask(unit, membership, FIT, f"Fitting {unit.name}", {"base": base}, reverse("unit", args=[unit.pk]))


def ask_ways(unit: Unit, membership: Membership) -> Job:
    """What the unit could hold of the plan as it stands."""
    arguments = {"plan": unit.plan.content_hash()}
    return ask(unit, membership, WAYS, f"Ways to fit {unit.name}", arguments, reverse("unit", args=[unit.pk]))


@does(FIT, EDITORS)
def do_fit(job: Job, report: Report) -> Outcome:
    """Make the entries, and key them."""
    unit, membership = unit_as_asked(job), background.asked_by(job)
    report(10, "searching")
    found = fit(unit.plan, year_at(unit.site.place, read_now()))
    report(80, "replaying the year")
    told = "\n".join(fit_lines(found.plan, found.losses))
    return write_plan(job, unit, membership, found.plan, "entries fitted", told)


def fit_lines(plan: Plan, losses: tuple[Loss, ...]) -> list[str]:
    """What a fit made, and what it could not hold, a sentence each."""
    made = count(len(plan.unit.entries), "entry", "entries")
    if not losses:
        return [f"{made} made; eleven years replayed, nothing is lost."]
    lines = []
    for loss in losses:
        name = plan.channels[loss.channel - 1].name
        lost = f"{loss.hours_a_year:.1f} h a year" if loss.hours_a_year >= 0.05 else "under 3 min a year"
        lines.append(f"{made} made. {name}: {lost} differ. {loss.reason[:1].upper()}{loss.reason[1:]}.")
    return [*lines, "What else the unit could hold stands under Other ways to fit."]


@does(WAYS, EDITORS)
def do_ways(job: Job, report: Report) -> Outcome:
    """The fit and the ways beside it, kept to be looked at and taken."""
    unit = unit_of_job(job)
    report(10, "searching")
    found = fit(unit.plan, year_at(unit.site.place, read_now()))
    if unit.plan.content_hash() != job.arguments["plan"]:
        raise background.Refused(OVERTAKEN)
    return Outcome(
        told="Worked out.", then=reverse("fits", args=[unit.pk]), answer=json.dumps(_ways_json(found)).encode()
    )


def _ways_json(found: Fit) -> list[dict[str, Any]]:
    lost = sum(loss.hours_a_year for loss in found.losses)
    reasons = [f"{found.plan.channels[loss.channel - 1].name}: {loss.reason}" for loss in found.losses]
    first = {"plan": found.plan.to_json(), "hours": lost if found.losses else None, "lost": "; ".join(reasons)}
    others = [
        {"plan": found.plan.with_entries(other.entries).to_json(), "hours": other.hours_a_year, "lost": other.lost}
        for other in found.others
    ]
    return [first, *others]


def ways_of(unit: Unit) -> list[dict[str, Any]] | None:
    """The ways that were worked out for the plan as it stands; None where none were yet."""
    done = Job.objects.filter(crew=unit.site.crew_id, does=WAYS, state=State.DONE)
    kept = done.filter(arguments={"unit": unit.pk, "plan": unit.plan.content_hash()}).first()
    return None if kept is None or kept.answer is None else json.loads(bytes(kept.answer))
