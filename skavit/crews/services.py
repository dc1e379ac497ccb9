"""All that changes crews and their people."""

from django.core.exceptions import PermissionDenied
from django.db import transaction

from skavit.crews.models import Crew, Membership, Role, User


class LastOwner(Exception):
    """A crew keeps at least one owner."""


class NameTaken(Exception):
    """Another crew has the name."""


def _require_owner(membership: Membership) -> None:
    if not membership.may_manage:
        raise PermissionDenied("Only an owner of the crew may do this.")


def change_crew(membership: Membership, *, name: str, twelve_hour: bool) -> Crew:
    """Another name, another clock."""
    _require_owner(membership)
    crew = membership.crew
    if Crew.objects.filter(name=name).exclude(pk=crew.pk).exists():
        raise NameTaken("A crew of that name exists. Accepted: another name.")
    crew.name, crew.twelve_hour = name, twelve_hour
    crew.save(update_fields=["name", "twelve_hour"])
    return crew


def add_person(membership: Membership, *, username: str, password: str, role: str) -> Membership:
    """A new person in the crew."""
    _require_owner(membership)
    with transaction.atomic():
        user = User.objects.create_user(username=username, password=password)
        return Membership.objects.create(crew=membership.crew, user=user, role=role)


def set_role(membership: Membership, other: Membership, role: str) -> None:
    """Another role for a person of the crew; raises :class:`LastOwner`."""
    _require_owner(membership)
    with transaction.atomic():
        owners = Membership.objects.select_for_update().filter(crew=membership.crew, role=Role.OWNER)
        if role != Role.OWNER and {owner.pk for owner in owners} == {other.pk}:
            raise LastOwner("The crew's only owner stays owner. Make somebody else owner first.")
        other.role = role
        other.save(update_fields=["role"])
