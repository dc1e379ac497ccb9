"""What of units is worked out in the background: fits, other ways, large imports, PDFs, and years gone stale."""

import json
from dataclasses import replace
from typing import Any

from django.template.loader import render_to_string
from django.urls import reverse
from django.utils.text import slugify

from skavit.background import services as background
from skavit.background.models import Job, State
from skavit.background.work import Outcome, Report, does
from skavit.bounds import check_plan
from skavit.core.fitting.fit import Fit, Loss, fit
from skavit.core.plan.document import Plan
from skavit.core.text.wording import Words, count
from skavit.crews.models import Membership
from skavit.now import this_year
from skavit.units import results, selectors, services
from skavit.units.models import Unit

FIT, WAYS, IMPORT, PDF, REFRESH = "fit", "ways", "import", "pdf", "refresh"
OVERTAKEN = "The plan has been changed meanwhile, so nothing was applied. Ask for it again."


# ------------------------------------------------------------------------------------------------------ asking


def ask_fit(unit: Unit, membership: Membership, base: int) -> Job:
    """A fit that takes longer than a page may wait."""
    return _ask(unit, membership, FIT, f"Fitting {unit.name}", {"base": base}, reverse("unit", args=[unit.pk]))


def ask_ways(unit: Unit, membership: Membership) -> Job:
    """What the unit could hold of the plan as it stands."""
    arguments = {"plan": unit.plan.content_hash()}
    return _ask(unit, membership, WAYS, f"Ways to fit {unit.name}", arguments, reverse("unit", args=[unit.pk]))


def ask_import(unit: Unit, membership: Membership, base: int, data: bytes) -> Job:
    """A plan file that is large."""
    back = reverse("unit", args=[unit.pk])
    return _ask(unit, membership, IMPORT, f"Import into {unit.name}", {"base": base}, back, upload=data)


def ask_pdf(unit: Unit, membership: Membership) -> Job:
    """The entry sheet on paper."""
    return _ask(unit, membership, PDF, f"Entry sheet of {unit.name}", {}, reverse("sheet", args=[unit.pk]))


def ask_refresh(membership: Membership) -> Job:
    """The kept years of all the crew's units that are stale."""
    return background.begin(membership, REFRESH, "Bringing the round up to date", {}, reverse("round"))


def _ask(
    unit: Unit,
    membership: Membership,
    work: str,
    title: str,
    arguments: dict[str, Any],
    back: str,
    upload: bytes | None = None,
) -> Job:
    return background.begin(membership, work, title, {"unit": unit.pk, **arguments}, back, upload)


# ------------------------------------------------------------------------------------------------------- doing


def _asked_by(job: Job) -> Membership:
    """The membership of who asked; refused where they are in the crew no more."""
    found = Membership.objects.select_related("crew", "user").filter(crew=job.crew, user=job.by, left=None).first()
    if found is None:
        raise background.Refused("Who asked for it is in the crew no more.")
    return found


def _unit_of(job: Job) -> Unit:
    found = selectors.units_of(job.crew).filter(pk=job.arguments["unit"]).first()
    if found is None:
        raise background.Refused("The unit is there no more.")
    return found


def _apply(job: Job, unit: Unit, membership: Membership, plan: Plan, note: str, told: str) -> Outcome:
    """Write a plan that was worked out, where the unit still stands at the one it was made for."""
    outcome = Outcome(told=told, then=reverse("unit", args=[unit.pk]))
    check_plan(plan)
    # Worked out before anything is locked; it is kept for the edit that follows.
    words = Words(twelve_hour=job.crew.twelve_hour)
    results.unit_year(replace(plan, site=unit.site.place), this_year(unit.site.place), words)
    try:
        with background.applying(job):
            services.edit(unit, membership, job.arguments["base"], lambda _: plan, note)
            background.finish(job, outcome)
    except services.StaleEdit as stale:
        raise background.Refused(OVERTAKEN) from stale
    return outcome


@does(FIT)
def do_fit(job: Job, report: Report) -> Outcome:
    """Make the entries, and key them."""
    unit, membership = _unit_of(job), _asked_by(job)
    if unit.head.number != job.arguments["base"]:
        raise background.Refused(OVERTAKEN)
    report(10, "searching")
    found = fit(unit.plan, this_year(unit.site.place))
    report(80, "replaying the year")
    told = "\n".join(fit_lines(found.plan, found.losses))
    return _apply(job, unit, membership, found.plan, "entries fitted", told)


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


@does(WAYS)
def do_ways(job: Job, report: Report) -> Outcome:
    """The fit and the ways beside it, kept to be looked at and taken."""
    unit = _unit_of(job)
    report(10, "searching")
    found = fit(unit.plan, this_year(unit.site.place))
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


@does(IMPORT)
def do_import(job: Job, report: Report) -> Outcome:
    """Read a plan file, and take it."""
    unit, membership = _unit_of(job), _asked_by(job)
    report(10, "reading the file")
    plan = services.read_file(bytes(job.upload or b""))
    report(50, "replaying the year")
    return _apply(job, unit, membership, plan, "plan file imported", services.IMPORTED)


@does(PDF)
def do_pdf(job: Job, report: Report) -> Outcome:
    """Draw the entry sheet of this moment."""
    from skavit.units.pdf import pdf_of  # its library is slow to load, and only this needs it

    unit, membership = _unit_of(job), _asked_by(job)
    report(10, "writing the steps")
    page = selectors.sheet_page(unit, Words(twelve_hour=membership.crew.twelve_hour))
    report(40, "drawing the pages")
    return Outcome(
        told="The entry sheet is ready.",
        answer=pdf_of(render_to_string("units/sheet_pdf.html", page)),
        answer_name=f"{slugify(f'{unit.site.name} {unit.name} entry sheet') or 'entry-sheet'}.pdf",
        answer_type="application/pdf",
    )


@does(REFRESH)
def do_refresh(job: Job, report: Report) -> Outcome:
    """Work out the year of each unit whose kept one is stale."""
    units = list(selectors.units_of(job.crew))
    stale = [unit for unit in units if not results.is_fresh(unit, this_year(unit.site.place))]
    for done, unit in enumerate(stale):
        report(100 * done // len(stale), f"{done} of {count(len(stale), 'unit')}")
        results.keep_result(unit)
    return Outcome(told=f"{count(len(stale), 'unit')} brought up to date.", then=reverse("round"))
