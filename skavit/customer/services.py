"""Links for customers: made, found, taken back."""

from datetime import datetime, timedelta

from skavit.crews.access import require_edit
from skavit.crews.models import Membership
from skavit.customer.models import ShareLink
from skavit.links import hash_of, new_secret
from skavit.units.models import Unit

MOST_LINKS = 50  # of a unit that have neither ended nor been taken back


class TooManyLinks(Exception):
    """A unit has so many links that one more would be lost among them."""


def make_link(
    unit: Unit, membership: Membership, *, language: str, whom: str, days: int, moment: datetime
) -> tuple[ShareLink, str]:
    """A link, and the secret in its address, which is told this once. Raises :class:`TooManyLinks`."""
    require_edit(membership)
    if unit.share_links.filter(revoked=None, ends__gt=moment).count() >= MOST_LINKS:
        raise TooManyLinks(f"This unit has {MOST_LINKS} links. Accepted: one in place of another that is taken back.")
    secret = new_secret()
    link = ShareLink.objects.create(
        crew=membership.crew,
        unit=unit,
        secret_hash=hash_of(secret),
        language=language,
        whom=whom,
        by=membership.user,
        ends=moment + timedelta(days=days),
    )
    return link, secret


def link_of(secret: str, moment: datetime) -> ShareLink | None:
    """The link of an address, while it holds and its unit is there; None where it does not."""
    there = ShareLink.objects.filter(unit__removed=None, unit__site__removed=None, revoked=None, ends__gt=moment)
    return (
        there.select_related("unit__site", "unit__head", "unit__keyed", "unit__kind", "crew")
        .filter(secret_hash=hash_of(secret))
        .first()
    )


def take_back(unit: Unit, membership: Membership, pk: int, moment: datetime) -> bool:
    """End a link now; whether it held until then."""
    require_edit(membership)
    return bool(unit.share_links.filter(pk=pk, revoked=None).update(revoked=moment))
