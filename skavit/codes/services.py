"""Codes kept, looked at, taken away; each with its line in the record."""

from datetime import datetime

from django.db import transaction

from skavit.codes.models import Act, Code, CodeAct
from skavit.codes.sealing import opened, seal
from skavit.crews.access import require_edit
from skavit.crews.models import Membership
from skavit.units.models import Unit
from skavit.web.errors import TooMany

MOST_CODES = 12  # of a unit


def keep_code(unit: Unit, membership: Membership, *, name: str, code: str, instant: datetime) -> Code:
    """Seal a code; one of the same name is replaced. Raises :class:`TooMany`, ``sealing.NoKey``."""
    require_edit(membership)
    sealed = seal(code, unit.pk)
    with transaction.atomic():
        Unit.objects.select_for_update(of=("self",)).get(pk=unit.pk)
        if not unit.codes.filter(name=name).exists() and unit.codes.count() >= MOST_CODES:
            raise TooMany(f"This unit has {MOST_CODES} codes. Accepted: one in place of another.")
        kept, _ = Code.objects.update_or_create(unit=unit, name=name, defaults={"sealed": sealed})
        _write_down(kept, membership, Act.KEPT, instant)
    return kept


def show_code(code: Code, membership: Membership, instant: datetime) -> str:
    """What a code is; that somebody looked is written down first. Raises ``sealing.NoKey``, ``sealing.OtherKey``."""
    require_edit(membership)
    text = opened(code.sealed, code.unit_id)
    _write_down(code, membership, Act.SHOWN, instant)
    return text


def take_away(code: Code, membership: Membership, instant: datetime) -> None:
    """Delete a code; that it was there stays in the record."""
    require_edit(membership)
    with transaction.atomic():
        _write_down(code, membership, Act.AWAY, instant)
        code.delete()


def _write_down(code: Code, membership: Membership, act: Act, instant: datetime) -> None:
    CodeAct.objects.create(unit_id=code.unit_id, name=code.name, act=act, by=membership.user, at=instant)
