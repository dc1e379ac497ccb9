"""A visit begun, written down field by field from any device, and ended.

Whoever writes sends the value that a field had when they began to type: where it is something else by now and not what they
send, that field is a conflict and both values are told. So a visit goes on on another device, and what is sent twice counts once.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any
from uuid import UUID

from django.db import IntegrityError, transaction
from django.db.models import Max
from django.utils.translation import gettext as _

from skavit.core.ground.errors import UserError
from skavit.core.ground.records import Record
from skavit.crews.access import require_edit
from skavit.crews.models import Crew, Membership
from skavit.units.models import PlanRevision, Unit
from skavit.units.services.as_found import keep_as_found
from skavit.visits.models import Visit

LONGEST_VALUE, LONGEST_LINES = 1_000, 40_000
# What else follows from a visit that has ended: rooms above put it down here when the application begins.
FOLLOWED_BY: list[Callable[[Unit, int], None]] = []


class VisitOver(UserError):
    """The visit has ended meanwhile; what was sent is not in it."""

    def __init__(self, visit: Visit) -> None:
        self.visit = visit
        super().__init__(
            _("%(who)s ended visit %(number)d meanwhile. What you typed still stands here: begin another visit for it.")
            % {"who": visit.ended_by, "number": visit.number}
        )


class VisitElsewhere(UserError):
    """What was sent belongs to a visit at another unit."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Conflict:
    """A field that somebody else has written since."""

    name: str
    mine: str
    theirs: str
    by: str


def open_visit(unit: Unit) -> Visit | None:
    """The visit of a unit that has not ended; None where there is none."""
    return unit.visits.select_related("by", "ended_by").filter(ended=None).first()


def take_up(unit: Unit, membership: Membership, token: UUID, instant: datetime) -> Visit:
    """The open visit of a unit, or a new one under the device's token. Raises :class:`VisitOver` where that one has ended."""
    require_edit(membership)
    known = Visit.objects.select_related("by", "ended_by").filter(token=token, unit=unit).first()
    if known is not None:
        if known.ended is not None:
            raise VisitOver(known)
        return known
    found = open_visit(unit)
    if found is not None:
        return found
    crew = unit.site.crew
    try:
        with transaction.atomic():
            Crew.objects.select_for_update().get(pk=crew.pk)  # numbers are given one after another
            last = crew.visits.aggregate(last=Max("number"))["last"] or 0
            return Visit.objects.create(
                crew=crew, unit=unit, number=last + 1, token=token, by=membership.user, begun=instant
            )
    except IntegrityError as error:
        # Two devices began at once: the other one's visit is taken up.
        found = open_visit(unit)
        if found is None:
            raise VisitElsewhere("This visit is another unit's. Accepted: what was written at this unit.") from error
        return found


def write_down(
    visit: Visit, membership: Membership, sent: Mapping[str, tuple[str, str]], instant: datetime
) -> tuple[Conflict, ...]:
    """Put values into an open visit; ``sent`` is by field what it is now, and what was there before.

    Gives the fields that somebody else has written since: these stay as they were. Raises :class:`VisitOver`.
    """
    require_edit(membership)
    with transaction.atomic():
        locked = Visit.objects.select_for_update(of=("self",)).select_related("ended_by").get(pk=visit.pk)
        if locked.ended is not None:
            raise VisitOver(locked)
        conflicts = []
        for name, (value, was) in sent.items():
            here = locked.told.get(name, {})
            now = str(here.get("value", ""))
            if now == value:
                continue
            if now != was:
                conflicts.append(Conflict(name=name, mine=value, theirs=now, by=str(here.get("by", ""))))
                continue
            locked.told[name] = {"value": value, "by": membership.user.username, "at": instant.isoformat()}
        locked.save(update_fields=["told"])
    visit.told = locked.told
    return tuple(conflicts)


@dataclass(frozen=True, slots=True, kw_only=True)
class Found:
    """A unit as it was found, as far as somebody looked."""

    shown: dict[str, str]
    lines: str
    entries: tuple[Record, ...]

    @property
    def anything(self) -> bool:
        """Whether anything was seen at all."""
        return bool(self.shown or self.entries)


def end_visit(
    visit: Visit,
    membership: Membership,
    *,
    found: Found,
    keyed: PlanRevision | None,
    steps: list[dict[str, Any]],
    read: dict[str, str],
    instant: datetime,
) -> None:
    """End a visit: what was found is kept, and the plan as keyed is frozen. Raises :class:`VisitOver`.

    ``read`` are the dates among what was typed, as dates; ``keyed`` is the revision that is in the device now; None where nothing was keyed.
    """
    require_edit(membership)
    unit = visit.unit
    with transaction.atomic():
        locked = Visit.objects.select_for_update(of=("self",)).select_related("ended_by").get(pk=visit.pk)
        if locked.ended is not None:
            raise VisitOver(locked)
        if found.anything:
            locked.as_found = keep_as_found(
                unit,
                membership,
                shown=found.shown,
                lines=found.lines,
                entries=found.entries,
                instant=int(locked.begun.timestamp()),
            )
        if keyed is not None:
            locked.revision, locked.document = keyed, unit.plan_of(keyed).to_json()
            unit.point(keyed=keyed, keyed_at=instant)
        locked.steps, locked.read, locked.ended, locked.ended_by = steps, read, instant, membership.user
        locked.save()
    visit.refresh_from_db()
    for follow in FOLLOWED_BY:
        follow(unit, int(instant.timestamp()))
