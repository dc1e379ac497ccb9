"""All that changes a crew's kinds."""

from dataclasses import replace

from django.db import transaction

from skavit.core.kinds import Kind as CoreKind
from skavit.core.kinds import parse_kind
from skavit.crews.access import require_edit
from skavit.crews.models import Membership
from skavit.kinds.models import Kind

NAME_LENGTH = 80


class NameTaken(Exception):
    """The crew has a kind of that name."""


def add_kind(membership: Membership, kind: CoreKind) -> Kind:
    """A kind of the crew's own; where the name is taken, with a number behind it."""
    require_edit(membership)
    with transaction.atomic():
        taken = set(membership.crew.kinds.values_list("name", flat=True))
        name, number = kind.name[:NAME_LENGTH], 2
        while name in taken:
            name, number = f"{kind.name[: NAME_LENGTH - 5]} {number}", number + 1
        kind = replace(kind, name=name)
        return Kind.objects.create(crew=membership.crew, name=name, document=kind.to_json())


def save_kind(membership: Membership, row: Kind, kind: CoreKind) -> Kind:
    """Change one of the crew's kinds. Its units' entry sheets follow it from then on."""
    require_edit(membership)
    with transaction.atomic():
        if membership.crew.kinds.filter(name=kind.name).exclude(pk=row.pk).exists():
            raise NameTaken("This crew has a kind of that name. Accepted: another name.")
        row.name, row.document = kind.name, kind.to_json()
        row.save()
    return row


def move_step(membership: Membership, row: Kind, section: str, by: int) -> Kind:
    """Move a step of a kind up (-1) or down (1) in its order; at an end it stays."""
    kind = row.kind
    order = list(kind.order)
    here = order.index(section)
    there = min(max(here + by, 0), len(order) - 1)
    order.insert(there, order.pop(here))
    return save_kind(membership, row, kind.with_order(tuple(order)))


def import_kind(membership: Membership, data: bytes) -> Kind:
    """A kind from its file. Raises :class:`PlanError` for a malformed one."""
    return add_kind(membership, parse_kind(data))
