"""All that changes a crew's kinds."""

from dataclasses import replace
from datetime import datetime

from django.db import IntegrityError, transaction

from skavit.core.kinds import Kind as CoreKind
from skavit.core.kinds import parse_kind
from skavit.crews.access import require_edit
from skavit.crews.models import Membership
from skavit.crews.soft_delete import MOST_OF_A_NAME, InUse, numbered, remove
from skavit.kinds.models import Kind
from skavit.web.errors import NameTaken
from skavit.web.versions import StaleRow

NAMED = 3  # units by name, where a kind is still in use


def add_kind(membership: Membership, kind: CoreKind) -> Kind:
    """A kind of the crew's own; where the name is taken, with a number behind it."""
    require_edit(membership)
    for number in range(1, MOST_OF_A_NAME):
        name = numbered(kind.name, number)
        if Kind.objects.there().filter(crew=membership.crew, name=name).exists():
            continue
        try:
            with transaction.atomic():
                document = replace(kind, name=name).to_json()
                return Kind.objects.create(crew=membership.crew, name=name, document=document)
        except IntegrityError:
            continue  # somebody took the name between the look and the writing
    raise NameTaken(f"{MOST_OF_A_NAME} kinds of this name are here already. Accepted: another name.")


def save_kind(membership: Membership, row: Kind, kind: CoreKind, version: int | None = None) -> Kind:
    """Change one of the crew's kinds. Its units' entry sheets follow it from then on.

    ``version`` is that of the kind which was shown. Raises :class:`NameTaken`, :class:`~skavit.web.versions.StaleRow`.
    """
    require_edit(membership)
    try:
        with transaction.atomic():
            return _write(_locked(row, version), kind)
    except IntegrityError as error:
        raise NameTaken("This crew has a kind of that name. Accepted: another name.") from error


def remove_kind(membership: Membership, row: Kind, instant: datetime) -> None:
    """Remove a kind that no unit is of. Raises :class:`~skavit.crews.soft_delete.InUse`."""
    units = list(row.units.filter(removed=None, site__removed=None).order_by("name")[: NAMED + 1])
    if units:
        named = ", ".join(unit.name for unit in units[:NAMED]) + (" and more" if len(units) > NAMED else "")
        raise InUse(f"{named}: of this kind. Choose another kind there first, or archive this one.")
    remove(membership, row, instant)


def move_step(membership: Membership, row: Kind, section: str, by: int) -> Kind:
    """Move a step of a kind up (-1) or down (1) in its order; at an end it stays."""
    require_edit(membership)
    with transaction.atomic():
        locked = _locked(row, None)
        kind = locked.kind
        order = list(kind.order)
        here = order.index(section)
        there = min(max(here + by, 0), len(order) - 1)
        order.insert(there, order.pop(here))
        return _write(locked, kind.with_order(tuple(order)))


def _locked(row: Kind, version: int | None) -> Kind:
    locked = Kind.objects.select_for_update().get(pk=row.pk)
    if version is not None and locked.version != version:
        raise StaleRow(locked.version, f"{locked.name}, changed {locked.changed:%-d %b}")
    return locked


def _write(row: Kind, kind: CoreKind) -> Kind:
    row.name, row.document, row.version = kind.name, kind.to_json(), row.version + 1
    row.save()
    return row


def import_kind(membership: Membership, data: bytes) -> Kind:
    """A kind from its file. Raises :class:`PlanError` for a malformed one."""
    return add_kind(membership, parse_kind(data))
