"""Soft deletion: archive, 30 days in the bin, then purge."""

from datetime import datetime, timedelta
from typing import Any, Self

from django.core.exceptions import PermissionDenied
from django.db import IntegrityError, models, transaction

from skavit.core.ground.errors import UserError
from skavit.crews.access import require_edit
from skavit.crews.models import Membership

# So long a removed row can be brought back; then it is deleted. Common practice, no source.
KEPT = timedelta(days=30)
MOST_OF_A_NAME = 1000
NAME_LENGTH = 80


class InUse(UserError):
    """Something else still needs the row; the text says what."""


class SoftDeleteQuerySet(models.QuerySet[Any]):
    """Rows by how they stand."""

    def there(self) -> Self:
        """All but the removed ones."""
        return self.filter(removed=None)

    def at_work(self) -> Self:
        """Neither removed nor archived."""
        return self.filter(removed=None, archived=None)


class SoftDelete(models.Model):
    """A row with a name that is archived (out of the lists, still to be looked at) or removed (out of sight)."""

    name: Any
    archived = models.DateTimeField(null=True, editable=False)
    removed = models.DateTimeField(null=True, editable=False)

    class Meta:
        abstract = True

    def call(self, name: str) -> list[str]:
        """Give it a name; the fields that have changed."""
        self.name = name
        return ["name"]

    @property
    def kept_until(self) -> datetime | None:
        """Until when it can be brought back; None where it is not removed."""
        return self.removed + KEPT if self.removed else None


def archive(membership: Membership, row: SoftDelete, instant: datetime) -> None:
    """Take a row out of the lists; what it holds stays."""
    require_edit(membership)
    row.archived = row.archived or instant
    row.save(update_fields=["archived"])


def remove(membership: Membership, row: SoftDelete, instant: datetime) -> None:
    """Take a row out of sight; for :data:`KEPT` it can be brought back."""
    require_edit(membership)
    row.removed = row.removed or instant
    row.save(update_fields=["removed"])


def bring_back(membership: Membership, row: SoftDelete) -> None:
    """Bring an archived or removed row back; where its name is taken meanwhile, with a number behind it."""
    require_edit(membership)
    name = row.name
    row.archived = row.removed = None
    for number in range(1, MOST_OF_A_NAME):
        fields = row.call(numbered(name, number))
        try:
            with transaction.atomic():
                row.save(update_fields=["archived", "removed", *fields])
                return
        except IntegrityError:
            continue
    raise IntegrityError(name)


def numbered(name: str, number: int) -> str:
    """A name with a number behind it, but for the first; within the length of a name."""
    return name[:NAME_LENGTH] if number == 1 else f"{name[: NAME_LENGTH - 5]} {number}"


def remove_for_good(membership: Membership, row: SoftDelete) -> None:
    """Delete a removed row with all that hangs on it. Only owners may. Raises :class:`InUse`."""
    if not membership.may_manage:
        raise PermissionDenied("Only an owner of the crew may remove for good.")
    if row.removed is None:
        raise InUse(f"{row.name} is not removed. Accepted: what was removed before.")
    _delete(row)


def purge(rows: SoftDeleteQuerySet, instant: datetime) -> int:
    """Delete what was removed more than :data:`KEPT` ago and nothing needs; how many rows that were."""
    gone = 0
    for row in rows.filter(removed__lt=instant - KEPT):
        try:
            _delete(row)
        except InUse:
            continue  # a removed unit still is of this kind: its own time comes
        gone += 1
    return gone


def _delete(row: SoftDelete) -> None:
    try:
        with transaction.atomic():
            row.delete()
    except models.RestrictedError as error:
        raise InUse(f"A removed unit still is of the kind {row.name}. Remove that unit for good first.") from error
