"""A crew's units, read with what their pages need."""

from django.db.models import QuerySet
from django.shortcuts import get_object_or_404

from skavit.crews.models import Crew
from skavit.units.models import Unit


def units_of(crew: Crew) -> QuerySet[Unit]:
    """The crew's units with what their pages need."""
    return Unit.objects.filter(site__crew=crew).select_related(
        "site", "kind", "head", "head__author", "head__parent", "result"
    )


def unit_of(crew: Crew, pk: int) -> Unit:
    """One of the crew's units; 404 for any other."""
    return get_object_or_404(units_of(crew), pk=pk)
