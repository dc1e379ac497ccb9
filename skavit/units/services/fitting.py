"""What is wanted made into what is keyed: in the page while that is quick, in the background where it is not."""

import json

from django.urls import reverse

from skavit.background import services as background
from skavit.background.models import Job, State
from skavit.background.work import EDITORS, Outcome, Report, does
from skavit.core.ground.budget import Budget
from skavit.core.ground.strict_json import Node
from skavit.core.plan.document import Plan, read_plan
from skavit.core.text.wording import Words
from skavit.crews.models import Membership
from skavit.server.bounds import STEPS_AT_ONCE
from skavit.server.now import read_now, year_at
from skavit.units.models import PlanRevision, Unit
from skavit.units.services.jobs import OVERTAKEN, ask, unit_as_asked, unit_of_job, write_plan
from skavit.units.services.revisions import edit
from skavit.units.trades import FitOption, Fitted, TooLong, pages_of

FIT = "fit"
OPTIONS = "options"


def fit_now(unit: Unit, membership: Membership, base: int, words: Words, *, now: int) -> tuple[PlanRevision, Fitted]:
    """Fit what is wanted into the unit while a page waits, and key it.

    Raises :class:`~skavit.units.trades.TooLong` where that takes longer than a page may, and
    :class:`~skavit.units.trades.CannotFit`.
    """
    pages, made = pages_of(unit.plan), []

    def change(plan: Plan) -> Plan:
        pages.check_fit(plan)
        if pages.fit_size(plan) > 1:
            raise TooLong
        made.append(pages.fit(plan, year_at(plan.site, now), words, Budget(STEPS_AT_ONCE)))
        return made[0].plan

    revision = edit(unit, membership, base, change, pages.fit_note, now=now)
    return revision, made[0]


def ask_fit(unit: Unit, membership: Membership, base: int) -> Job:
    """Ask for a fit that takes longer than a page may wait. Raises :class:`~skavit.units.trades.CannotFit`."""
    pages_of(unit.plan).check_fit(unit.plan)
    return ask(unit, membership, FIT, f"Fitting {unit.name}", {"base": base}, reverse("unit", args=[unit.pk]))


@does(FIT, EDITORS)
def do_fit(job: Job, report: Report) -> Outcome:
    """Fit what is wanted into a unit, and key it."""
    unit, membership = unit_as_asked(job), background.asked_by(job)
    report(10, "searching")
    pages = pages_of(unit.plan)
    found = pages.fit(unit.plan, year_at(unit.site.place, read_now()), job.crew.words)
    report(80, "replaying the year")
    return write_plan(job, unit, membership, found.plan, pages.fit_note, "\n".join(found.lines))


def options_of(unit: Unit, words: Words, now: int) -> list[FitOption] | None:
    """Several ways to fit a unit's plan; None where they take longer than a page may wait, and nobody has asked yet.

    Raises :class:`~skavit.units.trades.CannotFit`.
    """
    plan, pages = unit.plan, pages_of(unit.plan)
    pages.check_fit(plan)
    done = Job.objects.filter(crew=unit.site.crew_id, does=OPTIONS, state=State.DONE)
    kept = done.filter(arguments={"unit": unit.pk, "plan": plan.content_hash()}).first()
    if kept is not None and kept.answer is not None:
        return [_option(raw) for raw in json.loads(bytes(kept.answer))]
    if pages.options_size(plan) > 1:
        return None
    try:
        return pages.fit_options(plan, year_at(plan.site, now), words, Budget(STEPS_AT_ONCE))
    except TooLong:
        return None


def ask_options(unit: Unit, membership: Membership) -> Job:
    """Ask for several ways to fit the plan as it is now. Raises :class:`~skavit.units.trades.CannotFit`."""
    pages_of(unit.plan).check_fit(unit.plan)
    arguments = {"plan": unit.plan.content_hash()}
    return ask(unit, membership, OPTIONS, f"Ways to fit {unit.name}", arguments, reverse("options", args=[unit.pk]))


@does(OPTIONS, EDITORS)
def do_options(job: Job, report: Report) -> Outcome:
    """Work out several ways to fit, kept to be looked at and taken."""
    unit = unit_of_job(job)
    report(10, "searching")
    found = pages_of(unit.plan).fit_options(unit.plan, year_at(unit.site.place, read_now()), job.crew.words)
    if unit.plan.content_hash() != job.arguments["plan"]:
        raise background.Refused(OVERTAKEN)
    answer = [
        {"name": o.name, "when": o.when, "plan": o.plan.to_json(), "lines": o.lines, "losses": o.losses} for o in found
    ]
    return Outcome(told="Worked out.", then=reverse("options", args=[unit.pk]), answer=json.dumps(answer).encode())


def _option(raw: dict[str, object]) -> FitOption:
    """One as it was kept."""
    return FitOption(**{**raw, "plan": read_plan(Node(raw["plan"]))})  # type: ignore[arg-type]
