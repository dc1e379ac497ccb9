"""Keys of calendars: made, found, taken back."""

from datetime import datetime

from skavit.crews.access import require_edit
from skavit.crews.models import Membership
from skavit.exchange.models import FeedKey
from skavit.links import hash_of, new_secret
from skavit.units.models import Unit

MOST_KEYS = 200  # of a crew that are not taken back


class TooManyKeys(Exception):
    """The crew has so many keys that nobody knows any more who has them."""


def make_key(membership: Membership, unit: Unit | None) -> str:
    """The secret of a new key, which is told this once; without a unit of all that is due. Raises :class:`TooManyKeys`."""
    require_edit(membership)
    if membership.crew.feed_keys.filter(revoked=None).count() >= MOST_KEYS:
        raise TooManyKeys(f"The crew has {MOST_KEYS} calendar addresses. Accepted: one in place of another.")
    secret = new_secret()
    FeedKey.objects.create(crew=membership.crew, unit=unit, secret_hash=hash_of(secret), by=membership.user)
    return secret


def key_of(secret: str) -> FeedKey | None:
    """The key of an address, while it holds; None where it does not, or its unit is gone."""
    found = FeedKey.objects.select_related("crew", "unit__site", "unit__head", "unit__keyed", "unit__kind")
    key = found.filter(secret_hash=hash_of(secret), revoked=None).first()
    if key is None or (key.unit is not None and (key.unit.removed or key.unit.site.removed)):
        return None
    return key


def take_back(membership: Membership, pk: int, moment: datetime) -> None:
    """End a key of the crew."""
    require_edit(membership)
    membership.crew.feed_keys.filter(pk=pk, revoked=None).update(revoked=moment)
