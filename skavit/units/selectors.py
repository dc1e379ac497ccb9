"""A crew's units, read with what their pages need."""

from django.db.models import QuerySet
from django.http import Http404
from django.shortcuts import get_object_or_404

from skavit.core.plan.trade import Trade
from skavit.crews.models import Crew
from skavit.sites.models import Site
from skavit.units.models import Unit


def _there(crew: Crew) -> QuerySet[Unit]:
    """The crew's units, but for those that were removed, or their sites."""
    return Unit.objects.there().filter(site__crew=crew, site__removed=None)


def units_of(crew: Crew) -> QuerySet[Unit]:
    """The crew's units with what their pages need."""
    return _there(crew).select_related("site", "kind", "head", "head__author", "head__parent", "result", "keyed")


def units_at_work(crew: Crew) -> QuerySet[Unit]:
    """The crew's units that are on the round: neither they nor their sites are archived or removed."""
    return Unit.objects.at_work().filter(site__crew=crew, site__removed=None, site__archived=None)


def units_away(site: Site) -> int:
    """How many of a site's units are archived or removed."""
    return site.units.exclude(removed=None, archived=None).count()


def bare_unit_of(crew: Crew, pk: int) -> Unit:
    """One of the crew's units without its plan, which is fetched if asked for; 404 for any other."""
    bare = _there(crew).select_related("site", "head__author").defer("head__document")
    return get_object_or_404(bare, pk=pk)


def unit_of(crew: Crew, pk: int) -> Unit:
    """One of the crew's units; 404 for any other."""
    return get_object_or_404(units_of(crew), pk=pk)


def unit_of_trade(crew: Crew, pk: int, trade: Trade) -> Unit:
    """One of the crew's units whose plan has a part of a trade; 404 for any other."""
    unit = unit_of(crew, pk)
    if not trade.is_in(unit.plan):
        raise Http404(pk)
    return unit
