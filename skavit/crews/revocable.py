"""Keys of links: made, found by their secret, taken back. Only a hash is kept: who reads the database has none of them."""

from datetime import datetime
from typing import Any, Self

from django.db import models

from skavit.crews.access import require_edit
from skavit.crews.models import Membership, User
from skavit.web.links import hash_of, new_secret


class RevocableQuerySet(models.QuerySet[Any]):
    """Keys by whether they hold."""

    def held(self) -> Self:
        """Those that are not taken back."""
        return self.filter(revoked=None)

    def behind(self, secret: str) -> Any | None:
        """The key of a secret, while it holds; None where it does not."""
        return self.held().filter(secret_hash=hash_of(secret)).first()


class Revocable(models.Model):
    """A key that whoever has it reads by, until it is taken back or who made it leaves the crew."""

    # Whether it serves somebody else than who made it: it then passes to an owner when they leave.
    passes_on = False

    secret_hash = models.CharField(max_length=64, unique=True)
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    created = models.DateTimeField(auto_now_add=True)
    revoked = models.DateTimeField(null=True)

    objects = RevocableQuerySet.as_manager()

    class Meta:
        abstract = True
        ordering = ("-created",)

    @property
    def described(self) -> str:
        """What it is, for the list of what somebody has handed out."""
        raise NotImplementedError


def hand_out(membership: Membership, key: Revocable) -> str:
    """Keep a new key, and give its secret, which is told this once."""
    require_edit(membership)
    secret = new_secret()
    key.secret_hash, key.by = hash_of(secret), membership.user
    key.save(force_insert=True)
    return secret


def take_back(membership: Membership, keys: RevocableQuerySet, pk: int, instant: datetime) -> bool:
    """End one of the keys that are held; whether it is among them."""
    require_edit(membership)
    return bool(keys.filter(pk=pk).update(revoked=instant))
