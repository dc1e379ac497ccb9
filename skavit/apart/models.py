"""Requests that the worker answers."""

from django.db import models


class State(models.TextChoices):
    """How far a request is."""

    WAITING = "waiting"
    RUNNING = "running"
    ENDED = "ended"


class Asked(models.Model):
    """A request as it came, and what it was answered; it goes some minutes later."""

    secret = models.CharField(max_length=43, unique=True)  # by which whoever asked comes back for the answer
    who = models.CharField(max_length=64)  # a hash of the session or key that asked
    what = models.CharField(max_length=64)  # a hash of what a page was asked for; empty where it was more than to look
    meta = models.JSONField()
    sent = models.BinaryField()  # the body
    state = models.CharField(max_length=8, choices=State.choices, default=State.WAITING)
    status = models.PositiveSmallIntegerField(default=0)
    headers = models.JSONField(default=list)  # pairs
    cookies = models.JSONField(default=list)
    answer = models.BinaryField(default=b"")
    created = models.DateTimeField(auto_now_add=True, db_index=True)
    seen = models.DateTimeField()  # when somebody last came for the answer
    ended = models.DateTimeField(null=True)

    class Meta:
        indexes = (models.Index(fields=("who", "what"), name="asked_by_whom"),)
        constraints = (models.CheckConstraint(condition=models.Q(state__in=State.values), name="asked_state_known"),)

    def __str__(self) -> str:
        return f"{self.meta.get('REQUEST_METHOD')} {self.meta.get('PATH_INFO')} ({self.state})"
