"""The kinds that there are, for reading."""

from dataclasses import dataclass

from django.http import Http404
from django.shortcuts import get_object_or_404

from skavit.core.kinds import Kind as CoreKind
from skavit.core.kinds import shipped_kinds
from skavit.core.plan.trade import Trade, trades
from skavit.crews.models import Crew
from skavit.kinds.models import Kind


@dataclass(frozen=True, slots=True, kw_only=True)
class Listed:
    """A kind in a list: ``own`` is its number among the crew's, None for one that ships."""

    kind: CoreKind
    own: int | None = None

    @property
    def trade(self) -> Trade:
        """What a unit of it does."""
        return self.kind.trade

    @property
    def heading(self) -> str:
        """What the units of its trade are called, above them in a list."""
        return self.trade.heading

    @property
    def reference(self) -> str:
        """What a form sends for it."""
        return self.kind.slug if self.own is None else f"own-{self.own}"


def shipped() -> list[Listed]:
    """The kinds that ship, each trade together, those that switch first."""
    order = [trade.slug for trade in reversed(trades())]
    return sorted((Listed(kind=kind) for kind in shipped_kinds()), key=lambda found: order.index(found.trade.slug))


def own_kinds(crew: Crew) -> list[Listed]:
    """The crew's kinds, but for archived and removed ones."""
    return [Listed(kind=row.kind, own=row.pk) for row in Kind.objects.at_work().filter(crew=crew)]


def own_kind(crew: Crew, pk: int) -> Kind:
    """One of the crew's kinds; 404 for any other."""
    return get_object_or_404(Kind.objects.there(), crew=crew, pk=pk)


def shipped_kind(slug: str) -> CoreKind:
    """A kind that ships, by its slug; 404 for no such."""
    for kind in shipped_kinds():
        if kind.slug == slug:
            return kind
    raise Http404("no such kind")
