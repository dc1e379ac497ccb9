"""Units that water, for reading."""

from django.http import Http404

from skavit.crews.models import Crew
from skavit.units.models import Unit
from skavit.units.selectors import unit_of


def watering_unit(crew: Crew, pk: int) -> Unit:
    """One of the crew's units that waters; 404 for any other."""
    unit = unit_of(crew, pk)
    if unit.plan.water is None:
        raise Http404(pk)
    return unit
