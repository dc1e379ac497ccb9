"""Pieces of work that somebody asked for."""

from django.db import models
from django.utils.translation import gettext_lazy as _

from skavit.crews.models import Crew, User


class State(models.TextChoices):
    """How far a piece of work is."""

    WAITING = "waiting", _("Waiting")
    RUNNING = "running", _("Working")
    DONE = "done", _("Done")
    REFUSED = "refused", _("Not done")  # with the reason in words
    FAILED = "failed", _("Failed")
    CANCELLED = "cancelled", _("Cancelled")


OPEN = (State.WAITING, State.RUNNING)


class Job(models.Model):
    """One piece of work: what is to be done, for whom, how far it is, and what came of it."""

    crew = models.ForeignKey(Crew, on_delete=models.CASCADE, related_name="jobs")
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    does = models.CharField(max_length=40)  # which of the kinds of work of skavit.background.work
    title = models.CharField(max_length=200)
    arguments = models.JSONField()
    upload = models.BinaryField(null=True)
    back = models.CharField(max_length=200)  # the address that it was asked for at
    state = models.CharField(max_length=10, choices=State.choices, default=State.WAITING)
    told = models.TextField(blank=True)  # what is being done now, or what came of it
    share = models.PositiveSmallIntegerField(default=0)  # how far it is, in hundredths
    then = models.CharField(max_length=200, blank=True)  # where what came of it is shown
    answer = models.BinaryField(null=True)
    answer_name = models.CharField(max_length=120, blank=True)
    answer_type = models.CharField(max_length=80, blank=True)
    created = models.DateTimeField(auto_now_add=True)
    seen = models.DateTimeField(null=True)  # when the worker that runs it last said so
    ended = models.DateTimeField(null=True)

    class Meta:
        ordering = ("-created",)
        indexes = (models.Index(fields=("crew", "state"), name="open_jobs_of_a_crew"),)
        constraints = (models.CheckConstraint(condition=models.Q(state__in=State.values), name="job_state_is_known"),)

    def __str__(self) -> str:
        return f"{self.title} ({self.state})"

    @property
    def is_open(self) -> bool:
        """Whether it is still to be done or being done."""
        return self.state in OPEN
