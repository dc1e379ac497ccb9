"""Links for customers: made and found."""

from collections.abc import Sequence
from datetime import UTC, datetime, timedelta

from skavit.core.plan.times import day_number
from skavit.crews.models import Membership
from skavit.crews.revocable import hand_out
from skavit.customer.models import ShareLink
from skavit.server.now import today_at
from skavit.units.models import Unit
from skavit.units.results import follow
from skavit.units.selectors import units_of
from skavit.web.errors import TooMany

MOST_UNITS = 12  # that one link shows
MOST_LINKS = 50  # of a unit that have neither ended nor been taken back


def make_link(
    unit: Unit,
    membership: Membership,
    *,
    language: str,
    whom: str,
    days: int,
    instant: datetime,
    whole_site: bool = False,
) -> str:
    """The secret in the address of a new link, which is told this once. Raises :class:`TooMany`."""
    if unit.share_links.held().filter(ends__gt=instant).count() >= MOST_LINKS:
        raise TooMany(f"This unit has {MOST_LINKS} links. Accepted: one in place of another that is taken back.")
    ends = instant + timedelta(days=days)
    link = ShareLink(crew=membership.crew, unit=unit, whole_site=whole_site, language=language, whom=whom, ends=ends)
    secret = hand_out(membership, link)
    follow([unit], int(instant.timestamp()))
    return secret


def links_end(units: Sequence[Unit], now: int) -> dict[int, int]:
    """The day on which the last link to a unit ends, by the unit's key: until then the customer can still look."""
    held = ShareLink.objects.held().filter(unit__in=units, ends__gt=datetime.fromtimestamp(now, UTC))
    last: dict[int, datetime] = {}
    for unit, ends in held.values_list("unit", "ends"):
        last[unit] = max(ends, last.get(unit, ends))
    by_key = {unit.pk: unit for unit in units}
    return {pk: day_number(today_at(by_key[pk].site.place, int(ends.timestamp()))) for pk, ends in last.items()}


def link_of(secret: str, instant: datetime) -> ShareLink | None:
    """The link of an address, while it holds and its unit is there; None where it does not."""
    there = ShareLink.objects.filter(unit__removed=None, unit__site__removed=None, ends__gt=instant)
    found: ShareLink | None = there.select_related(
        "unit__site", "unit__head", "unit__keyed", "unit__kind", "crew"
    ).behind(secret)
    return found


def units_behind(link: ShareLink) -> list[Unit]:
    """The units that a link shows, its own first."""
    if not link.whole_site:
        return [link.unit]
    others = (
        units_of(link.crew).filter(site=link.unit.site, archived=None).exclude(pk=link.unit_id).order_by("name", "pk")
    )
    return [link.unit, *others[: MOST_UNITS - 1]]
