"""Codes of units, sealed, and who kept, saw or took away which."""

from django.db import models

from skavit.crews.models import User
from skavit.units.models import Unit


class Code(models.Model):
    """A code of a unit. Only whoever has the server's key can open it: who reads the database has none of them."""

    unit = models.ForeignKey(Unit, on_delete=models.CASCADE, related_name="codes")
    name = models.CharField(max_length=60)
    sealed = models.TextField()

    class Meta:
        ordering = ("name",)
        constraints = (models.UniqueConstraint(fields=("unit", "name"), name="code_name_is_unique_in_a_unit"),)

    def __str__(self) -> str:
        return self.name


class Act(models.TextChoices):
    """What somebody did with a code."""

    KEPT = "kept", "wrote down"
    SHOWN = "shown", "looked at"
    AWAY = "away", "took away"


class CodeAct(models.Model):
    """Somebody did something with a code; never changed once written, and it outlives the code."""

    unit = models.ForeignKey(Unit, on_delete=models.CASCADE, related_name="code_acts")
    name = models.CharField(max_length=60)
    act = models.CharField(max_length=5, choices=Act.choices)
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        ordering = ("-at", "-pk")

    def __str__(self) -> str:
        return f"{self.by} {self.get_act_display()} {self.name}"
