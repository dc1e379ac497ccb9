"""Taking what mends a finding."""

from skavit.crews.access import require_edit
from skavit.crews.models import Membership
from skavit.units import computing
from skavit.units.models import PlanRevision, Unit
from skavit.units.services.revisions import NothingTo, edit, head_at


def apply_remedy(unit: Unit, membership: Membership, base: int, year: int, key: str, *, now: int) -> PlanRevision:
    """Take the remedy of that key among those of the findings of a year. Raises :class:`NothingTo`."""
    require_edit(membership)
    unit.head = head_at(unit, base)
    findings = computing.unit_year(unit.plan, year).findings
    remedy = next((f.remedy for f in findings if f.remedy and f.remedy.key == key), None)
    if remedy is None:
        raise NothingTo("This finding is no longer there.")
    return edit(unit, membership, base, remedy.applied, f"remedy: {remedy.label}"[:200], now=now)
