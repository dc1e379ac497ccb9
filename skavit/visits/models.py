"""Visits to units, and the photos taken there."""

from django.db import models
from django.db.models import Q

from skavit.core.ground.strict_json import Node
from skavit.core.plan.document import Plan, read_plan
from skavit.crews.models import Crew, User
from skavit.units.models import AsFound, PlanRevision, Unit


class Visit(models.Model):
    """Somebody at a unit: open while it is written down, from any device; never changed once it has ended."""

    crew = models.ForeignKey(Crew, on_delete=models.CASCADE, related_name="visits")
    unit = models.ForeignKey(Unit, on_delete=models.CASCADE, related_name="visits")
    number = models.PositiveIntegerField()  # counts the crew's visits: what one says on the telephone
    token = models.UUIDField(unique=True)  # given by the device on which it began, perhaps without signal
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    begun = models.DateTimeField()
    ended = models.DateTimeField(null=True)
    ended_by = models.ForeignKey(User, on_delete=models.PROTECT, null=True, related_name="+")
    told = models.JSONField(default=dict)  # what was written down, by field: its value, who wrote it, when
    read = models.JSONField(default=dict)  # the dates among it, by field, as they were read when it ended
    steps = models.JSONField(default=list)  # the steps of the entry sheet that were ticked: title, who, when
    as_found = models.OneToOneField(AsFound, on_delete=models.SET_NULL, null=True, related_name="visit")
    revision = models.ForeignKey(PlanRevision, on_delete=models.RESTRICT, null=True, related_name="+")
    document = models.JSONField(null=True)  # the plan file as it was keyed, at the place where the site then was

    class Meta:
        ordering = ("-begun",)
        constraints = (
            models.UniqueConstraint(fields=("crew", "number"), name="visit_number_is_unique_in_a_crew"),
            models.UniqueConstraint(fields=("unit",), condition=Q(ended=None), name="one_open_visit_a_unit"),
            models.CheckConstraint(
                condition=Q(ended=None) | Q(ended_by__isnull=False), name="an_ended_visit_has_who_ended_it"
            ),
        )

    def __str__(self) -> str:
        return f"Visit {self.number}"

    def value(self, name: str) -> str:
        """The value of one field."""
        return str(self.told.get(name, {}).get("value", ""))

    @property
    def values(self) -> dict[str, str]:
        """The values of all fields."""
        return {name: self.value(name) for name in self.told}

    @property
    def plan(self) -> Plan | None:
        """The plan as it was keyed; None where nothing was."""
        return None if self.document is None else read_plan(Node(self.document))


class Note(models.Model):
    """What somebody wrote of a unit, outside a visit; never changed once written, and taken away with a line that says so."""

    unit = models.ForeignKey(Unit, on_delete=models.CASCADE, related_name="notes")
    token = models.UUIDField(unique=True)  # of the form: sent twice, it is kept once
    text = models.TextField(blank=True)
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()
    away = models.DateTimeField(null=True)
    away_by = models.ForeignKey(User, on_delete=models.PROTECT, null=True, related_name="+")

    class Meta:
        ordering = ("-at", "-pk")

    def __str__(self) -> str:
        return f"note on {self.unit}"


class Photo(models.Model):
    """A photo, made anew as a JPEG of bounded size before it is kept; it lies in the database, so that a backup holds it."""

    visit = models.ForeignKey(Visit, on_delete=models.CASCADE, null=True, related_name="photos")
    note = models.ForeignKey(Note, on_delete=models.CASCADE, null=True, related_name="photos")
    token = models.UUIDField(unique=True)  # given by the device: sent twice, it is kept once
    image = models.BinaryField()
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        ordering = ("at", "pk")
        constraints = (
            models.CheckConstraint(
                condition=Q(visit=None, note__isnull=False) | Q(visit__isnull=False, note=None),
                name="a_photo_is_of_a_visit_or_of_a_note",
            ),
        )

    def __str__(self) -> str:
        return f"photo of {self.visit or self.note}"
