"""People, crews and what each may do in a crew."""

from django.contrib.auth.models import AbstractUser
from django.db import models


class User(AbstractUser):
    """A person who logs in."""


class Crew(models.Model):
    """A firm or a team; everything belongs to one, and no other sees it."""

    name = models.CharField(max_length=80, unique=True)
    twelve_hour = models.BooleanField("12-hour clock", default=False)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("name",)

    def __str__(self) -> str:
        return self.name


class Role(models.TextChoices):
    """What a person may do in a crew; each may do all that the next may."""

    OWNER = "owner", "Owner"
    INSTALLER = "installer", "Installer"
    VIEWER = "viewer", "Viewer"


class Membership(models.Model):
    """A person in a crew."""

    crew = models.ForeignKey(Crew, on_delete=models.CASCADE, related_name="memberships")
    user = models.ForeignKey(User, on_delete=models.CASCADE, related_name="memberships")
    role = models.CharField(max_length=10, choices=Role.choices, default=Role.VIEWER)

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
