"""Units written down as they were found, and taken into the plan."""

from skavit.core.ground.records import Record
from skavit.core.plan.document import Plan
from skavit.crews.access import require_edit
from skavit.crews.models import Membership
from skavit.units.models import AsFound, PlanRevision, Unit
from skavit.units.services.revisions import edit
from skavit.units.trades import pages_of


def keep_as_found(
    unit: Unit,
    membership: Membership,
    *,
    shown: dict[str, str],
    lines: str,
    entries: tuple[Record, ...],
    instant: int,
) -> AsFound:
    """Write down a unit as it was found."""
    require_edit(membership)
    return AsFound.objects.create(
        unit=unit,
        shown=shown,
        lines=lines,
        entries=[entry.to_json() for entry in entries],
        looked_at=instant,
        author=membership.user,
    )


def take_as_found(
    unit: Unit, membership: Membership, base: int, found: Plan, *, windows: bool, now: int
) -> PlanRevision:
    """Take what a unit was found with into the plan; with ``windows`` what it makes as what is wanted too."""

    def change(plan: Plan) -> Plan:
        return pages_of(plan).taken(plan, found, windows=windows)

    return edit(unit, membership, base, change, "taken as found" if windows else "entries taken as found", now=now)
