"""Units that hold temperatures, for reading."""

from django.http import Http404

from skavit.crews.models import Crew
from skavit.units.models import Unit
from skavit.units.selectors import unit_of


def heating_unit(crew: Crew, pk: int) -> Unit:
    """One of the crew's units that holds temperatures; 404 for any other."""
    unit = unit_of(crew, pk)
    if unit.plan.heat is None:
        raise Http404(pk)
    return unit
