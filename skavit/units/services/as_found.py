"""Units written down as they were found, and taken into the plan."""

from dataclasses import replace

from skavit.core.plan.document import Plan
from skavit.core.plan.entry import Entry
from skavit.core.plan.water import Program
from skavit.crews.access import require_edit
from skavit.crews.models import Membership
from skavit.units.models import AsFound, PlanRevision, Unit
from skavit.units.services.revisions import edit


def keep_as_found(
    unit: Unit,
    membership: Membership,
    *,
    shown: dict[str, str],
    lines: str,
    entries: tuple[Entry | Program, ...],
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
    """Take a found unit's entries into the plan; with ``windows`` what they make as what is wanted too.

    Of a unit that waters, its programs, and stations for those that nobody has named yet.
    """

    def change(plan: Plan) -> Plan:
        if found.water is not None:
            return replace(plan, water=found.water)
        taken = replace(plan, channels=found.channels) if windows else plan
        return taken.with_entries(found.unit.entries)

    return edit(unit, membership, base, change, "taken as found" if windows else "entries taken as found", now=now)
