"""All that changes a crew's kinds."""

from dataclasses import replace

from django.db import IntegrityError, transaction

from skavit.core.kinds import Kind as CoreKind
from skavit.core.kinds import parse_kind
from skavit.crews.access import require_edit
from skavit.crews.models import Membership
from skavit.kinds.models import Kind
from skavit.versions import Stale

NAME_LENGTH = 80
MOST_OF_A_NAME = 1000


class NameTaken(Exception):
    """The crew has a kind of that name."""


def add_kind(membership: Membership, kind: CoreKind) -> Kind:
    """A kind of the crew's own; where the name is taken, with a number behind it."""
    require_edit(membership)
    for number in range(1, MOST_OF_A_NAME):
        name = kind.name[:NAME_LENGTH] if number == 1 else f"{kind.name[: NAME_LENGTH - 5]} {number}"
        if membership.crew.kinds.filter(name=name).exists():
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

    ``version`` is that of the kind which was shown. Raises :class:`NameTaken`, :class:`~skavit.versions.Stale`.
    """
    require_edit(membership)
    try:
        with transaction.atomic():
            return _write(_locked(row, version), kind)
    except IntegrityError as error:
        raise NameTaken("This crew has a kind of that name. Accepted: another name.") from error


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
        raise Stale(locked.version, f"{locked.name}, changed {locked.changed:%d %b %H:%M} UTC")
    return locked


def _write(row: Kind, kind: CoreKind) -> Kind:
    row.name, row.document, row.version = kind.name, kind.to_json(), row.version + 1
    row.save()
    return row


def import_kind(membership: Membership, data: bytes) -> Kind:
    """A kind from its file. Raises :class:`PlanError` for a malformed one."""
    return add_kind(membership, parse_kind(data))
