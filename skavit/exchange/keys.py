"""Keys of calendars: made and found."""

from skavit.crews.models import Membership
from skavit.crews.revocable import hand_out
from skavit.exchange.models import FeedKey
from skavit.units.models import Unit
from skavit.web.errors import TooMany

MOST_KEYS = 200  # of a crew that are not taken back


def make_key(membership: Membership, unit: Unit | None) -> str:
    """The secret of a new key, which is told this once; without a unit of all that is due. Raises :class:`TooMany`."""
    if membership.crew.feed_keys.held().count() >= MOST_KEYS:
        raise TooMany(f"The crew has {MOST_KEYS} calendar addresses. Accepted: one in place of another.")
    return hand_out(membership, FeedKey(crew=membership.crew, unit=unit))


def key_of(secret: str) -> FeedKey | None:
    """The key of an address, while it holds; None where it does not, or its unit is gone."""
    found = FeedKey.objects.select_related("crew", "unit__site", "unit__head", "unit__keyed", "unit__kind")
    key: FeedKey | None = found.behind(secret)
    if key is None or (key.unit is not None and (key.unit.removed or key.unit.site.removed)):
        return None
    return key
