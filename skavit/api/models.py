"""Keys by which other programs read."""

from django.db import models

from skavit.crews.models import Crew
from skavit.crews.revocable import Revocable


class ApiKey(Revocable):
    """A key of one program; how often it asks is counted by the minute."""

    crew = models.ForeignKey(Crew, on_delete=models.CASCADE, related_name="api_keys")
    program = models.CharField(max_length=80)
    minute = models.PositiveBigIntegerField(default=0)  # the minute of UTC since 1970 in which it was last used
    asked = models.PositiveIntegerField(default=0)  # how often in that minute

    def __str__(self) -> str:
        return self.program

    @property
    def described(self) -> str:
        """Which program reads by it."""
        return f"The key of {self.program}"
