"""A visit planned for a unit: who goes, and when."""

import datetime as dt

from skavit.core.ground.errors import UserError
from skavit.crews.access import require_edit
from skavit.crews.models import Membership, User
from skavit.due.models import Planned
from skavit.due.services.keeping import keep_due
from skavit.units.models import Unit


class NotInCrew(UserError):
    """The person is not in the crew."""


def plan_visit(
    unit: Unit, membership: Membership, *, person: User | None, date: dt.date | None, note: str, now: int
) -> None:
    """Plan a visit, or change what was planned; with neither a person nor a date nothing is planned any more.

    Raises :class:`NotInCrew`.
    """
    require_edit(membership)
    if person is not None and not membership.crew.memberships.filter(user=person, left=None).exists():
        raise NotInCrew(f"{person} is not in this crew. Accepted: one of its people.")
    if person is None and date is None:
        Planned.objects.filter(unit=unit).delete()
    else:
        Planned.objects.update_or_create(
            unit=unit, defaults={"person": person, "date": date, "note": note, "by": membership.user}
        )
    keep_due([unit], now)


def visited(unit: Unit, now: int) -> None:
    """A visit has ended: what was planned is done, and what is due is another."""
    Planned.objects.filter(unit=unit).delete()
    keep_due([unit], now)
