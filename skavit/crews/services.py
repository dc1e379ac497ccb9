"""All that changes crews and their people."""

from datetime import datetime, timedelta

from axes.models import AccessAttempt
from django.conf import settings
from django.contrib.auth.tokens import default_token_generator
from django.contrib.contenttypes.models import ContentType
from django.core.exceptions import PermissionDenied
from django.db import IntegrityError, transaction
from django.db.models import ProtectedError, Sum
from django.urls import reverse
from django.utils import timezone
from django.utils.encoding import force_bytes
from django.utils.http import urlsafe_base64_encode

from skavit.core.ground.errors import UserError
from skavit.crews.models import Crew, Invitation, Membership, Role, User
from skavit.web.errors import NameTaken
from skavit.web.links import hash_of, new_secret

INVITED_FOR = timedelta(days=7)
# Logins of any names that may fail from one network address within a quarter of an hour: a crew behind one router.
MOST_FAILED = 40


class LastOwner(UserError):
    """A crew keeps at least one owner."""


class StillHere(UserError):
    """The person is in the crew."""


class LinkEnded(UserError):
    """The link has been used, taken back, or has run out."""


class BegunAlready(UserError):
    """Somebody has begun here before."""


def require_owner(membership: Membership) -> None:
    """Refuse whoever may not manage the crew."""
    if not membership.may_manage:
        raise PermissionDenied("Only an owner of the crew may do this.")


CREW_TAKEN = "A crew of that name exists. Accepted: another name."
PERSON_TAKEN = "Somebody has this user name, or one that looks like it. Accepted: another one."


def change_crew(
    membership: Membership,
    *,
    name: str,
    twelve_hour: bool,
    summer_time: bool,
    us_units: bool = False,
    contact: str = "",
) -> Crew:
    """Another name, another clock, another word for daylight saving, other units, whom customers call. Raises :class:`NameTaken`."""
    require_owner(membership)
    crew = membership.crew
    crew.name, crew.twelve_hour, crew.summer_time, crew.us_units = name, twelve_hour, summer_time, us_units
    crew.contact = contact
    try:
        with transaction.atomic():
            crew.save(update_fields=["name", "twelve_hour", "summer_time", "us_units", "contact"])
    except IntegrityError as error:
        crew.refresh_from_db()
        raise NameTaken(CREW_TAKEN) from error
    return crew


# --------------------------------------------------------------------------------------------------- beginning


def nobody_yet() -> bool:
    """Whether nobody can log in here, so that the first page makes the first owner."""
    return not User.objects.filter(is_active=True).exists()


def begin(*, crew: str, username: str, password: str, twelve_hour: bool = False) -> Membership:
    """The first crew and its owner. Raises :class:`BegunAlready` where somebody was quicker."""
    with transaction.atomic():
        # One row that is always there, locked: of two who begin at once the second sees the first.
        ContentType.objects.select_for_update().get(app_label="crews", model="user")
        if not nobody_yet():
            raise BegunAlready("Somebody has begun here already. Log in, or ask an owner for an invitation.")
        return begin_crew(crew=crew, username=username, password=password, twelve_hour=twelve_hour)


def begin_crew(*, crew: str, username: str, password: str, twelve_hour: bool = False) -> Membership:
    """Another crew with an owner of its own. Raises :class:`NameTaken`."""
    with transaction.atomic():
        if Crew.objects.filter(name=crew).exists():
            raise NameTaken(CREW_TAKEN)
        made = Crew.objects.create(name=crew, twelve_hour=twelve_hour)
        return Membership.objects.create(crew=made, user=_new_person(username, password), role=Role.OWNER)


def _new_person(username: str, password: str) -> User:
    try:
        with transaction.atomic():
            return User.objects.create_user(username=username, password=password)
    except IntegrityError as error:
        raise NameTaken(PERSON_TAKEN, "username") from error


def remove_demo(membership: Membership | None) -> None:
    """Take the demo crew away with all it has and its people; ``membership`` is that of its owner, None for a command."""
    demo = Crew.objects.filter(is_demo=True) if membership is None else Crew.objects.filter(pk=membership.crew_id)
    if membership is not None:
        require_owner(membership)
        if not membership.crew.is_demo:
            raise PermissionDenied("This crew is no demo. It stays.")
    with transaction.atomic():
        people = list(User.objects.filter(memberships__crew__in=demo).distinct())
        demo.delete()
        for person in people:
            if not person.memberships.exists():
                _forget(person)


def _forget(person: User) -> None:
    """Delete a person; one whose name is in another crew's record can no longer log in."""
    try:
        with transaction.atomic():
            person.delete()
    except ProtectedError:
        shut_out(person)


# ------------------------------------------------------------------------------------------------------ people


def add_person(membership: Membership, *, username: str, password: str, role: str) -> Membership:
    """A new person in the crew. Raises :class:`NameTaken`."""
    require_owner(membership)
    with transaction.atomic():
        return Membership.objects.create(crew=membership.crew, user=_new_person(username, password), role=role)


def invite(membership: Membership, role: str) -> tuple[Invitation, str]:
    """An invitation, and the secret of its link, which is told this once."""
    require_owner(membership)
    secret = new_secret()
    invitation = Invitation.objects.create(
        crew=membership.crew,
        role=role,
        secret_hash=hash_of(secret),
        by=membership.user,
        ends=timezone.now() + INVITED_FOR,
    )
    return invitation, secret


def invitation_of(secret: str) -> Invitation:
    """The invitation of a link. Raises :class:`LinkEnded`."""
    found = Invitation.objects.select_related("crew", "by").filter(secret_hash=hash_of(secret)).first()
    if found is None or not found.is_open:
        raise LinkEnded("This invitation has been used, taken back, or has run out. Ask an owner for another.")
    return found


def join(secret: str, *, username: str, password: str) -> Membership:
    """Join a crew by an invitation, which then ends. Raises :class:`LinkEnded`, :class:`NameTaken`."""
    with transaction.atomic():
        invitation = invitation_of(secret)
        locked = Invitation.objects.select_for_update().get(pk=invitation.pk)
        if not locked.is_open:
            raise LinkEnded("This invitation has been used meanwhile. Ask an owner for another.")
        person = _new_person(username, password)
        locked.taken_by = person
        locked.save(update_fields=["taken_by"])
        return Membership.objects.create(crew=invitation.crew, user=person, role=invitation.role)


def take_back(membership: Membership, invitation: Invitation) -> None:
    """End an invitation."""
    require_owner(membership)
    Invitation.objects.filter(pk=invitation.pk, taken_by=None).delete()


def set_role(membership: Membership, other: Membership, role: str) -> None:
    """Another role for a person of the crew; raises :class:`LastOwner`."""
    require_owner(membership)
    with transaction.atomic():
        if role != Role.OWNER:
            keep_an_owner(other)
        other.role = role
        other.save(update_fields=["role"])


def shut_out(person: User) -> None:
    """No login any more; a password that nobody has ends all sessions and links, which hang on it."""
    person.is_active = False
    person.set_unusable_password()
    person.save(update_fields=["is_active", "password"])


def rename(membership: Membership, other: Membership, username: str) -> None:
    """Another user name; everybody may rename themselves, owners anybody. Raises :class:`NameTaken`."""
    if other.pk != membership.pk:
        require_owner(membership)
    other.user.username = username
    try:
        with transaction.atomic():
            other.user.save(update_fields=["username"])
    except IntegrityError as error:
        raise NameTaken(PERSON_TAKEN, "username") from error


def forget(membership: Membership, other: Membership) -> None:
    """Remove a person who has left from the crew for good; what they did stays with their name."""
    require_owner(membership)
    if other.left is None:
        raise StillHere(f"{other.user} is in the crew. Take them out first.")
    with transaction.atomic():
        person = other.user
        other.delete()
        if not person.memberships.exists():
            _forget(person)


def let_in_again(membership: Membership, other: Membership) -> None:
    """Take a person who left back in; they need a link to a new password."""
    require_owner(membership)
    with transaction.atomic():
        other.left = None
        other.save(update_fields=["left"])
        other.user.is_active = True
        other.user.save(update_fields=["is_active"])


def keep_an_owner(other: Membership) -> None:
    """Raise :class:`LastOwner` where the crew would have no owner without this one."""
    owners = Membership.objects.select_for_update().filter(crew=other.crew, role=Role.OWNER, left=None)
    if {owner.pk for owner in owners} == {other.pk}:
        raise LastOwner("The crew's only owner stays owner. Make somebody else owner first.")


# --------------------------------------------------------------------------------------------------- passwords


def password_link(person: User) -> str:
    """The path at which a person may choose a new password, once, within :setting:`PASSWORD_RESET_TIMEOUT`."""
    key = urlsafe_base64_encode(force_bytes(person.pk))
    return reverse("password-new", args=[key, default_token_generator.make_token(person)])


def give_password_link(membership: Membership, other: Membership) -> str:
    """The same, asked for by an owner for a person of the crew."""
    require_owner(membership)
    return password_link(other.user)


def fails_too_often(address: str, now: datetime) -> bool:
    """Whether more logins have failed from a network address lately than people mistype, whatever the names."""
    lately = AccessAttempt.objects.filter(ip_address=address, attempt_time__gt=now - settings.AXES_COOLOFF_TIME)
    failed: int | None = lately.aggregate(failed=Sum("failures_since_start"))["failed"]
    return (failed or 0) >= MOST_FAILED


def set_mail(person: User, membership: Membership | None, *, email: str, mails: str) -> None:
    """Where one's mail goes, and when one is sent what is due in the crew."""
    person.email = email
    person.save(update_fields=["email"])
    if membership is not None:
        Membership.objects.filter(pk=membership.pk).update(mails=mails)


def set_language(person: User, language: str) -> None:
    """The language of a person's pages, as far as they are translated."""
    person.language = language
    person.save(update_fields=["language"])


def mail_is_sent() -> bool:
    """Whether this server can send mail."""
    return bool(settings.EMAIL_HOST or settings.EMAIL_FILE_PATH)
