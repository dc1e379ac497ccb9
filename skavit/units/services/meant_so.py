"""Findings that somebody means so: accepted with a reason until a date, and taken back."""

import datetime as dt

from skavit.crews.access import require_edit
from skavit.crews.models import Membership
from skavit.units import computing, results
from skavit.units.models import MeantSo, Unit
from skavit.units.services.revisions import NothingTo, head_at


def mean_so(
    unit: Unit, membership: Membership, base: int, year: int, finding: str, *, reason: str, until: dt.date, now: int
) -> None:
    """Accept a finding of a year, by its identity, until the end of a date. Raises :class:`NothingTo`, :class:`StaleEdit`."""
    require_edit(membership)
    head = head_at(unit, base)
    if computing.finding_of(unit.plan, year, lambda one: one.identity == finding) is None:
        raise NothingTo("This finding is no longer there.")
    said = {"content_hash": head.content_hash, "reason": reason, "until": until, "by": membership.user}
    MeantSo.objects.update_or_create(unit=unit, finding=finding, defaults=said)
    _follow(unit, now)


def mean_no_longer(unit: Unit, membership: Membership, finding: str, *, now: int) -> None:
    """Let a finding count again."""
    require_edit(membership)
    unit.meant.filter(finding=finding).delete()
    _follow(unit, now)


def _follow(unit: Unit, now: int) -> None:
    results.keep_accepted([unit], now)
    results.follow([unit], now)
