"""People, crews and what each may do in a crew."""

from typing import Any

from django.conf import settings
from django.contrib.auth.models import AbstractUser
from django.db import models
from django.utils import timezone
from django.utils.translation import gettext_lazy as _

from skavit.core.text.wording import DAYLIGHT_SAVING, SUMMER_TIME, Words
from skavit.crews.names import looks_of
from skavit.server.history import kept_history


class User(AbstractUser):
    """A person who logs in."""

    looks = models.CharField(
        max_length=400, unique=True, editable=False
    )  # two names that look alike are one to the eye
    language = models.CharField(max_length=5, blank=True, choices=settings.LANGUAGES)  # empty: English

    def save(self, *args: Any, **kwargs: Any) -> None:
        """Keep what the name looks like."""
        self.looks = looks_of(self.username)
        if (fields := kwargs.get("update_fields")) is not None and "username" in fields:
            kwargs["update_fields"] = {*fields, "looks"}
        super().save(*args, **kwargs)


class Crew(models.Model):
    """A firm or a team; everything belongs to one, and no other sees it."""

    name = models.CharField(max_length=80, unique=True)
    twelve_hour = models.BooleanField("12-hour clock", default=False)
    summer_time = models.BooleanField("says summer time", default=False)
    us_units = models.BooleanField("US customary units", default=False)
    contact = models.CharField("customers call", max_length=120, blank=True)
    is_demo = models.BooleanField(default=False, editable=False)
    created = models.DateTimeField(auto_now_add=True)

    history = kept_history("is_demo", "created")

    class Meta:
        ordering = ("name",)

    def __str__(self) -> str:
        return self.name

    @property
    def words(self) -> Words:
        """How the crew wants its times and quantities, and what it calls daylight saving."""
        summer = SUMMER_TIME if self.summer_time else DAYLIGHT_SAVING
        return Words(twelve_hour=self.twelve_hour, summer=summer, us_units=self.us_units)


class Role(models.TextChoices):
    """What a person may do in a crew; each may do all that the next may."""

    OWNER = "owner", _("Owner")
    INSTALLER = "installer", _("Installer")
    VIEWER = "viewer", _("Viewer")


class Mails(models.TextChoices):
    """When a person is sent what is due."""

    NEVER = "never", _("Never")
    MONDAYS = "mondays", _("On Mondays")
    DAILY = "daily", _("Every day")


class Membership(models.Model):
    """A person in a crew, or one who was: what they did stays with their name."""

    crew = models.ForeignKey(Crew, on_delete=models.CASCADE, related_name="memberships")
    user = models.ForeignKey(User, on_delete=models.CASCADE, related_name="memberships")
    role = models.CharField(max_length=10, choices=Role.choices, default=Role.VIEWER)
    left = models.DateTimeField(null=True, editable=False)  # when they were taken out; who is in has none
    mails = models.CharField(max_length=10, choices=Mails.choices, default=Mails.NEVER)
    mailed = models.DateField(null=True, editable=False)  # on which date of the crew's the last one went

    history = kept_history("mails", "mailed")

    class Meta:
        ordering = ("crew", "user__username")
        constraints = (
            models.UniqueConstraint(fields=("crew", "user"), name="one_membership_a_person_and_crew"),
            models.CheckConstraint(condition=models.Q(role__in=Role.values), name="membership_role_is_known"),
        )

    def __str__(self) -> str:
        return f"{self.user} in {self.crew} ({self.role})"

    @property
    def may_edit(self) -> bool:
        """Whether the person may change sites, units and plans."""
        return self.role in (Role.OWNER, Role.INSTALLER)

    @property
    def may_manage(self) -> bool:
        """Whether the person may change the crew itself and its people."""
        return self.role == Role.OWNER


class Invitation(models.Model):
    """A link by which one person may join a crew. Only a hash of it is kept, so that who reads the database joins none."""

    crew = models.ForeignKey(Crew, on_delete=models.CASCADE, related_name="invitations")
    role = models.CharField(max_length=10, choices=Role.choices)
    secret_hash = models.CharField(max_length=64, unique=True)
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    created = models.DateTimeField(auto_now_add=True)
    ends = models.DateTimeField()
    taken_by = models.ForeignKey(User, on_delete=models.PROTECT, null=True, related_name="+")

    class Meta:
        ordering = ("-created",)

    def __str__(self) -> str:
        return f"{self.get_role_display()} of {self.crew}"

    @property
    def is_open(self) -> bool:
        """Whether somebody may still join by it."""
        return self.taken_by_id is None and self.ends > timezone.now()


class PasswordMail(models.Model):
    """A mail with a link to a new password that somebody asked for; kept for a day, so that not too many are sent."""

    whom = models.CharField(max_length=64, db_index=True)  # hash of the mail address
    sender = models.CharField(max_length=64, db_index=True)  # hash of the network address of who asked
    at = models.DateTimeField(db_index=True)

    def __str__(self) -> str:
        return f"asked for at {self.at}"
