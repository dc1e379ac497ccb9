"""Leaving a crew: a person goes at once, and with them what they handed out."""

from collections.abc import Iterator
from dataclasses import dataclass

from django.apps import apps
from django.db import transaction
from django.utils import timezone

from skavit.core.text.wording import count
from skavit.crews.models import Invitation, Membership, Role
from skavit.crews.revocable import Revocable, RevocableQuerySet
from skavit.crews.services import keep_an_owner, require_owner, shut_out


@dataclass(frozen=True, slots=True, kw_only=True)
class HandedOut:
    """What somebody has handed out and still holds, a line each."""

    ends: tuple[str, ...]  # with their membership
    passes_on: tuple[str, ...]  # to an owner, since it serves somebody else


def handed_out(other: Membership) -> HandedOut:
    """Return the keys, addresses and links that a person made in the crew and that still hold."""
    found: dict[bool, list[str]] = {True: [], False: []}
    for passes_on, keys in _keys_of(other):
        found[passes_on] += [key.described for key in keys]
    invitations = Invitation.objects.filter(crew=other.crew, by=other.user, taken_by=None, ends__gt=timezone.now())
    found[False] += [f"An invitation as {one.get_role_display().lower()}" for one in invitations]
    return HandedOut(ends=tuple(found[False]), passes_on=tuple(found[True]))


def _keys_of(other: Membership) -> Iterator[tuple[bool, RevocableQuerySet]]:
    """Yield the keys of each kind that a person made in the crew, and whether they pass on."""
    for model in apps.get_models():
        if issubclass(model, Revocable):
            yield model.passes_on, model.objects.held().filter(crew=other.crew_id, by=other.user_id)


def take_out(membership: Membership, other: Membership, *, end_links: bool = False) -> None:
    """Take a person out of the crew, at once; what they did stays with their name.

    Their sessions, links to a new password, invitations, API keys and calendar addresses end. Links for customers pass
    to the owner who takes them out (to another owner where somebody leaves), or end as well with ``end_links``.
    Raises :class:`LastOwner`. Everybody may take themselves out.
    """
    if other.pk != membership.pk:
        require_owner(membership)
    with transaction.atomic():
        keep_an_owner(other)
        heir = membership if other.pk != membership.pk else _another_owner(other)
        now, ended, passed = timezone.now(), 0, 0
        for passes_on, keys in _keys_of(other):
            if passes_on and not end_links:
                passed += keys.update(by=heir.user)
            else:
                ended += keys.update(revoked=now)
        other.left = now
        parts = [f"{count(ended, 'key or link', 'keys and links')} ended"] if ended else []
        parts += [f"{count(passed, 'link')} passed to {heir.user}"[:60]] if passed else []
        other._change_reason = ", ".join(parts)  # type: ignore[attr-defined]  # the history reads it
        other.save(update_fields=["left"])
        Invitation.objects.filter(crew=other.crew, by=other.user, taken_by=None).delete()
        if not Membership.objects.filter(user=other.user, left=None).exists():
            shut_out(other.user)


def _another_owner(other: Membership) -> Membership:
    """Return an owner of the crew beside this person, the first by name."""
    owners = Membership.objects.filter(crew=other.crew, role=Role.OWNER, left=None).exclude(pk=other.pk)
    return owners.select_related("user")[0]
