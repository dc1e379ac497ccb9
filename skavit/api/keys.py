"""Keys of programs: made, found, and how often each may ask."""

import datetime as dt

from django.db.models import Case, F, Value, When
from django.http import HttpRequest
from ninja.security import HttpBearer
from ninja.throttling import BaseThrottle

from skavit.api.models import ApiKey
from skavit.crews.models import Membership
from skavit.crews.revocable import hand_out
from skavit.server.now import read_now
from skavit.web.errors import TooMany

MOST_KEYS = 50  # of a crew that are not taken back
A_MINUTE = 120  # so often may one key ask
MINUTE_S = 60


def make_key(membership: Membership, program: str) -> str:
    """The secret of a new key, which is told this once. Raises :class:`TooMany`."""
    if membership.crew.api_keys.held().count() >= MOST_KEYS:
        raise TooMany(f"The crew has {MOST_KEYS} keys. Accepted: one in place of another that is taken back.")
    return hand_out(membership, ApiKey(crew=membership.crew, program=program))


def last_used(key: ApiKey) -> dt.datetime | None:
    """The minute in which a key was last used; None where it never was."""
    return dt.datetime.fromtimestamp(key.minute * MINUTE_S, dt.UTC) if key.minute else None


class Bearer(HttpBearer):
    """``Authorization: Bearer KEY``; the key is then ``request.auth``."""

    def authenticate(self, request: HttpRequest, token: str) -> ApiKey | None:
        """The key, while it holds."""
        found: ApiKey | None = ApiKey.objects.select_related("crew").behind(token)
        return found


class ByTheMinute(BaseThrottle):
    """So many questions a minute by one key. They are counted in its row: all processes of the server count together."""

    def allow_request(self, request: HttpRequest) -> bool:
        """Count a question; whether it is answered."""
        key: ApiKey = request.auth  # type: ignore[attr-defined]  # what Bearer has found
        minute = read_now() // MINUTE_S
        counted = Case(When(minute=minute, then=F("asked") + 1), default=Value(1))
        ApiKey.objects.filter(pk=key.pk).update(asked=counted, minute=minute)
        key.refresh_from_db(fields=("asked",))
        return key.asked <= A_MINUTE

    def wait(self) -> float:
        """Seconds until it may ask again."""
        return MINUTE_S - read_now() % MINUTE_S
