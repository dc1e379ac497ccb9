"""Things that are due at units, worked out at each change so that lists never compute; and visits that are planned."""

from django.db import models

from skavit.core.due import Sort
from skavit.crews.models import Crew, User
from skavit.units.models import Unit

SORTS = [(sort.value, sort.value) for sort in Sort]


class Due(models.Model):
    """One thing to do at a unit; without a date it is now."""

    crew = models.ForeignKey(Crew, on_delete=models.CASCADE, related_name="+")
    unit = models.ForeignKey(Unit, on_delete=models.CASCADE, related_name="due")
    sort = models.CharField(max_length=20, choices=SORTS)
    date = models.DateField(null=True)
    count = models.PositiveIntegerField(default=0)

    class Meta:
        ordering = (models.F("date").asc(nulls_first=True), "pk")
        constraints = (models.UniqueConstraint(fields=("unit", "sort"), name="each_thing_once_a_unit"),)
        indexes = (models.Index(models.F("crew"), models.F("date").asc(nulls_first=True), "id", name="due_by_date"),)

    def __str__(self) -> str:
        return f"{self.unit}: {self.sort}"


class Planned(models.Model):
    """A visit that is planned: on a date, by a person, or either of them."""

    unit = models.OneToOneField(Unit, on_delete=models.CASCADE, related_name="planned")
    person = models.ForeignKey(User, on_delete=models.SET_NULL, null=True, related_name="+")
    date = models.DateField(null=True)
    note = models.CharField(max_length=200, blank=True)
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")

    class Meta:
        indexes = (models.Index("person", "date", name="planned_by_person"),)

    def __str__(self) -> str:
        return f"{self.unit} on {self.date}"
