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
    told = computing.finding_of(unit.plan, year, lambda one: one.remedy is not None and one.remedy.key == key)
    if told is None or told.remedy is None:
        raise NothingTo("This finding is no longer there.")
    return edit(unit, membership, base, told.remedy.applied, f"remedy: {told.remedy.label}"[:200], now=now)
