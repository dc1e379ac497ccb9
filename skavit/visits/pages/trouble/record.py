"""What the record of a unit tells that may have begun a fault: visits to it, and power cuts."""

from datetime import timedelta

from skavit.core.causes import Happened
from skavit.core.plan.overrides import PowerCut
from skavit.server.now import site_digits
from skavit.units.models import Unit
from skavit.visits.models import Visit

# Older ones begin nothing that is asked about now.
MOST_DAYS, MOST_VISITS = 60, 50


def happened_to(unit: Unit, now: int) -> tuple[Happened, ...]:
    """The visits of the last weeks, and the power cuts of its plan."""
    since = timedelta(days=MOST_DAYS)
    visits = Visit.objects.filter(unit=unit, ended__isnull=False).order_by("-ended")[:MOST_VISITS]
    begun = [int(visit.begun.timestamp()) for visit in visits]
    there = [Happened(site_digits(unit.plan.site, at), "visit") for at in begun if at >= now - since.total_seconds()]
    cuts = [Happened(done.at, "power-cut") for done in unit.plan.overrides if isinstance(done.setting, PowerCut)]
    return (*there, *cuts)
