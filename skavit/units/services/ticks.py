"""Steps of the entry sheet seen done, and opened again."""

from collections.abc import Iterable
from datetime import datetime

from django.db import transaction

from skavit.core.ground.errors import UserError
from skavit.crews.access import require_edit
from skavit.crews.models import Membership
from skavit.units.models import Tick, Unit


class StepGone(UserError):
    """The step that was ticked stands no longer on the entry sheet."""


def set_tick(
    unit: Unit,
    membership: Membership,
    key: str,
    keys: Iterable[str],
    *,
    done: bool,
    moment: datetime,
    said: datetime | None = None,
) -> None:
    """Remember a step of the entry sheet as seen done, or open again; ``keys`` are those of the sheet as it stands.

    ``said`` is when it was pressed (left out: at this ``moment``): of two the later one stands, in whatever order they
    arrive. Raises :class:`StepGone` for a step of an older sheet.
    """
    require_edit(membership)
    if key not in keys:
        head = unit.head_revision
        raise StepGone(f"{head.author} changed the plan since ({head.note}), or the day has turned.")
    pressed = min(said or moment, moment)
    new = {"by": membership.user, "done": done, "said": pressed}
    with transaction.atomic():
        made, is_new = Tick.objects.select_for_update().get_or_create(unit=unit, key=key, defaults=new)
        if not is_new and made.said <= pressed:
            Tick.objects.filter(pk=made.pk).update(at=moment, **new)


def clear_ticks(unit: Unit, membership: Membership, moment: datetime) -> None:
    """Open every step again, for keying the unit anew."""
    require_edit(membership)
    unit.ticks.filter(said__lte=moment).update(done=False, said=moment, by=membership.user, at=moment)
