"""What lasts: sites, units and kinds of a crew, by how they stand."""

from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime

from django.urls import reverse

from skavit.crews.models import Crew, Membership
from skavit.crews.soft_delete import SoftDelete, SoftDeleteQuerySet, purge, remove
from skavit.kinds.models import Kind
from skavit.kinds.services import remove_kind
from skavit.sites.models import Site
from skavit.units.models import Unit

Removal = Callable[[Membership, SoftDelete, datetime], None]


@dataclass(frozen=True, slots=True, kw_only=True)
class Sort:
    """A sort of row: how a crew's are found, how one is removed, and where one lands afterwards."""

    heading: str
    all: Callable[[Crew], SoftDeleteQuerySet]
    remove: Removal
    after: Callable[[SoftDelete], str]
    at: Callable[[SoftDelete], str]  # its own page


SORTS: dict[str, Sort] = {
    "site": Sort(
        heading="Sites",
        all=lambda crew: Site.objects.filter(crew=crew),
        remove=remove,
        after=lambda _: reverse("round"),
        at=lambda row: reverse("site", args=[row.pk]),
    ),
    "unit": Sort(
        heading="Units",
        all=lambda crew: Unit.objects.filter(site__crew=crew, site__removed=None).select_related("site"),
        remove=remove,
        after=lambda row: reverse("site", args=[row.site_id]),  # type: ignore[attr-defined]  # a unit has a site
        at=lambda row: reverse("unit", args=[row.pk]),
    ),
    "kind": Sort(
        heading="Kinds",
        all=lambda crew: Kind.objects.filter(crew=crew),
        remove=remove_kind,  # type: ignore[arg-type]  # it takes a kind
        after=lambda _: reverse("kinds"),
        at=lambda row: reverse("kind-own", args=[row.pk]),
    ),
}


@dataclass(frozen=True, slots=True, kw_only=True)
class ArchiveRow:
    """One archived or removed row as the page shows it."""

    what: str
    pk: int
    name: str
    at: str  # its page; empty where it is removed
    since: datetime | None
    until: datetime | None  # till when it can be brought back, where it is removed


def rows_of(crew: Crew) -> list[tuple[str, list[ArchiveRow], list[ArchiveRow]]]:
    """Each sort with its archived and its removed rows; sorts that have neither are left out."""
    found = []
    for what, sort in SORTS.items():
        archived = [_row(what, sort, row) for row in sort.all(crew).filter(removed=None).exclude(archived=None)]
        removed = [_row(what, sort, row) for row in sort.all(crew).exclude(removed=None)]
        if archived or removed:
            found.append((sort.heading, archived, removed))
    return found


def _row(what: str, sort: Sort, row: SoftDelete) -> ArchiveRow:
    return ArchiveRow(
        what=what,
        pk=row.pk,
        name=str(row),
        at="" if row.removed else sort.at(row),
        since=row.removed or row.archived,
        until=row.kept_until,
    )


def purge_all(instant: datetime) -> int:
    """Delete what was removed so long ago that it can no longer be brought back; units first, kinds last."""
    return sum(purge(rows, instant) for rows in (Unit.objects.all(), Site.objects.all(), Kind.objects.all()))
