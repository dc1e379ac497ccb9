"""Links by which a customer looks at a unit without a login."""

from django.conf import settings
from django.db import models

from skavit.crews.models import Crew
from skavit.crews.revocable import Revocable
from skavit.units.models import Unit


class ShareLink(Revocable):
    """A link to what one unit does, or all units of its site, in one language."""

    crew = models.ForeignKey(Crew, on_delete=models.CASCADE, related_name="share_links")
    unit = models.ForeignKey(Unit, on_delete=models.CASCADE, related_name="share_links")
    whole_site = models.BooleanField(default=False)
    language = models.CharField(max_length=5, choices=settings.LANGUAGES)
    whom = models.CharField(max_length=80, blank=True)  # for whom it is
    ends = models.DateTimeField()

    passes_on = True

    def __str__(self) -> str:
        return f"link to {self.unit}"

    @property
    def described(self) -> str:
        """Which unit it shows, and to whom."""
        shows = f"all units of {self.unit.site}" if self.whole_site else str(self.unit)
        return f"The customer's link to {shows}" + (f", for {self.whom}" if self.whom else "")
