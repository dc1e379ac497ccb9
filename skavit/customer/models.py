"""Links by which a customer looks at a unit without a login."""

from django.conf import settings
from django.db import models

from skavit.crews.models import Crew, User
from skavit.units.models import Unit


class ShareLink(models.Model):
    """A link to what one unit does, in one language. Only a hash of it is kept: who reads the database has no links."""

    crew = models.ForeignKey(Crew, on_delete=models.CASCADE, related_name="share_links")
    unit = models.ForeignKey(Unit, on_delete=models.CASCADE, related_name="share_links")
    secret_hash = models.CharField(max_length=64, unique=True)
    language = models.CharField(max_length=5, choices=settings.LANGUAGES)
    whom = models.CharField(max_length=80, blank=True)  # for whom it is
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    created = models.DateTimeField(auto_now_add=True)
    ends = models.DateTimeField()
    revoked = models.DateTimeField(null=True)

    class Meta:
        ordering = ("-created",)

    def __str__(self) -> str:
        return f"link to {self.unit}"
