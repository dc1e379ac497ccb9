"""Sites."""

from django.db import models
from django.db.models import Q

from skavit.core.plan.document import Site as CoreSite
from skavit.crews.models import Crew
from skavit.crews.soft_delete import SoftDelete, SoftDeleteQuerySet
from skavit.server.history import kept_history


class Site(SoftDelete):
    """A place of a crew, where units hang."""

    crew = models.ForeignKey(Crew, on_delete=models.CASCADE, related_name="sites")
    name = models.CharField(max_length=80)
    latitude = models.FloatField()
    longitude = models.FloatField()
    timezone = models.CharField("time zone", max_length=64)
    area = models.CharField(max_length=60, blank=True)  # a part of the crew's country, by which its days are planned
    notes = models.TextField(blank=True)  # the way in, who has the key, which breaker
    version = models.PositiveIntegerField(default=1, editable=False)  # counts its changes: a stale page is refused
    created = models.DateTimeField(auto_now_add=True)

    objects = SoftDeleteQuerySet.as_manager()
    history = kept_history("version", "created")

    class Meta:
        ordering = ("name",)
        constraints = (
            models.UniqueConstraint(
                fields=("crew", "name"), condition=Q(removed=None), name="site_name_is_unique_in_a_crew"
            ),
            models.CheckConstraint(condition=Q(latitude__gte=-90, latitude__lte=90), name="site_latitude_in_range"),
            models.CheckConstraint(
                condition=Q(longitude__gte=-180, longitude__lte=180), name="site_longitude_in_range"
            ),
        )

    def __str__(self) -> str:
        return self.name

    @property
    def place_key(self) -> str:
        """Where it lies, as a text to compare."""
        return f"{self.latitude} {self.longitude} {self.timezone}"

    @property
    def place(self) -> CoreSite:
        """The site as the core knows it."""
        return CoreSite(name=self.name, latitude=self.latitude, longitude=self.longitude, timezone=self.timezone)
