"""Plan files taken: at once where they are small, in the background where they are large."""

from django.urls import reverse

from skavit.background import services as background
from skavit.background.models import Job
from skavit.background.work import EDITORS, Outcome, Report, does
from skavit.core.ground.errors import PlanError
from skavit.core.ground.strict_json import Node, parse_json
from skavit.core.plan.document import Plan, read_plan
from skavit.crews.models import Membership
from skavit.server.bounds import check_lists, check_plan
from skavit.units.models import PlanRevision, Unit
from skavit.units.services.jobs import ask, unit_of_job, write_plan
from skavit.units.services.revisions import edit

IMPORTED = "Plan file imported. The place is this site's; the rest is the file's."

IMPORT = "import"


def import_plan(unit: Unit, membership: Membership, base: int, data: bytes, *, now: int) -> PlanRevision:
    """Take unit and channels of a plan file; the place stays the site's. Raises PlanError for a malformed file."""
    found = read_file(data, unit)
    return edit(unit, membership, base, lambda _: found, "plan file imported", now=now)


def read_file(data: bytes, unit: Unit) -> Plan:
    """The plan of a file for a unit; its lists are counted before they are read.

    Raises :class:`PlanError`, also where it is of a unit of another sort.
    """
    raw = parse_json(data)
    check_lists(raw)
    plan = read_plan(Node(raw))
    trade = unit.core_kind.trade if unit.core_kind else plan.trade
    if trade is not plan.trade:
        accepted = f"the plan of a unit that {trade.does}"
        raise PlanError(plan.trade.key, "the file is of another sort of unit", accepted)
    check_plan(plan)
    return plan


def ask_import(unit: Unit, membership: Membership, base: int, data: bytes) -> Job:
    """A plan file that is large."""
    back = reverse("unit", args=[unit.pk])
    return ask(unit, membership, IMPORT, f"Import into {unit.name}", {"base": base}, back, upload=data)


@does(IMPORT, EDITORS)
def do_import(job: Job, report: Report) -> Outcome:
    """Read a plan file, and take it."""
    unit, membership = unit_of_job(job), background.asked_by(job)
    report(10, "reading the file")
    plan = read_file(bytes(job.upload or b""), unit)
    report(50, "replaying the year")
    return write_plan(job, unit, membership, plan, "plan file imported", IMPORTED)
