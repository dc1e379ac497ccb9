"""Keys of calendars that are subscribed to."""

from django.db import models

from skavit.crews.models import Crew
from skavit.crews.revocable import Revocable
from skavit.units.models import Unit


class FeedKey(Revocable):
    """A key by which a calendar is read without a login: of a unit's switchings, or of all that is due in the crew."""

    crew = models.ForeignKey(Crew, on_delete=models.CASCADE, related_name="feed_keys")
    unit = models.ForeignKey(Unit, on_delete=models.CASCADE, null=True, related_name="feed_keys")

    def __str__(self) -> str:
        return f"calendar of {self.unit or self.crew}"

    @property
    def described(self) -> str:
        """Whose calendar it is."""
        return f"The calendar of {self.unit}" if self.unit else "The calendar of what is due"
