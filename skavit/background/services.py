"""Asking for work, cancelling it, and what the worker writes down of it."""

from collections.abc import Iterator
from contextlib import contextmanager
from datetime import timedelta
from typing import Any

from django.core.exceptions import PermissionDenied
from django.db import connection, transaction
from django.utils import timezone
from procrastinate.contrib.django import app as queue

from skavit.background.models import OPEN, Job, State
from skavit.background.work import ASKED_BY, Outcome
from skavit.core.ground.errors import UserError
from skavit.crews.models import Membership
from skavit.server.processes import QUEUE

MOST_OPEN = 20  # of a crew
KEPT = timedelta(days=7)
# A worker says so often that it is there; after so long it is taken to be gone.
LOST = timedelta(seconds=30)
TASK = "skavit.background.run"


class TooMuchWork(UserError):
    """The crew has as much work waiting as it may."""


class Refused(UserError):
    """Work that cannot be done as things stand now; its text says why, to the person who asked."""


class Cancelled(Exception):
    """The work was cancelled while it was being done."""


def begin(
    membership: Membership, does: str, title: str, arguments: dict[str, Any], back: str, upload: bytes | None = None
) -> Job:
    """Ask for a piece of work; where the same was asked for and is not done yet, that one is given.

    Raises :class:`TooMuchWork`.
    """
    crew = membership.crew
    give_up_lost()
    with transaction.atomic():
        type(crew).objects.select_for_update().get(pk=crew.pk)  # one at a time asks for a crew's work
        waiting = Job.objects.filter(crew=crew, state__in=OPEN)
        same = waiting.filter(by=membership.user, does=does, arguments=arguments, upload__isnull=upload is None).first()
        if same is not None and (upload is None or bytes(same.upload or b"") == upload):
            return same
        if waiting.count() >= MOST_OPEN:
            raise TooMuchWork(
                f"{MOST_OPEN} pieces of work of this crew are waiting. Accepted: more when some are done."
            )
        Job.objects.filter(crew=crew, ended__lt=timezone.now() - KEPT).delete()
        job = Job.objects.create(
            crew=crew, by=membership.user, does=does, title=title[:200], arguments=arguments, back=back, upload=upload
        )
        queue.configure_task(TASK, queue=QUEUE).defer(pk=job.pk)
    return job


def may_have(membership: Membership, job: Job) -> bool:
    """Whether somebody may have what came of a job: who asked for it, while their role allows it."""
    return job.by_id == membership.user_id and membership.role in ASKED_BY[job.does]


def may_see(membership: Membership, job: Job) -> bool:
    """Whether somebody may see how far a job is: who may have what comes of it, and owners."""
    return membership.may_manage or may_have(membership, job)


def asked_by(job: Job) -> Membership:
    """Return the membership of who asked; raises :class:`Refused` where they have left, or may ask for such work no more."""
    people = Membership.objects.filter(crew=job.crew_id, user=job.by_id, left=None)
    asked = people.select_related("crew", "user").first()
    if asked is None:
        raise Refused("Whoever asked for it has left the crew.")
    if asked.role not in ASKED_BY[job.does]:
        raise Refused("Whoever asked for it has another role in the crew now.")
    return asked


def cancel(membership: Membership, job: Job) -> None:
    """End a piece of work; what is done already stays. Its person may, and owners."""
    if not may_see(membership, job):
        raise PermissionDenied("This work was asked for by somebody else.")
    _end(Job.objects.filter(pk=job.pk, state__in=OPEN), State.CANCELLED, "Cancelled. Nothing was changed.")


def give_up_lost() -> None:
    """Put down as failed what a worker began that is there no more."""
    lost = Job.objects.filter(state=State.RUNNING, seen__lt=timezone.now() - LOST)
    _end(lost, State.FAILED, "The worker was stopped meanwhile. Nothing was changed; ask for it again.")


def bring_back_lost() -> None:
    """Queue anew what a worker had under way that is there no more; a job that it had begun is given up."""
    give_up_lost()
    with connection.cursor() as cursor:
        cursor.execute(
            """
            SELECT procrastinate_retry_job_v2(job.id, now(), NULL, NULL, NULL)
            FROM procrastinate_jobs job LEFT JOIN procrastinate_workers worker ON worker.id = job.worker_id
            WHERE job.status = 'doing' AND (worker.id IS NULL OR worker.last_heartbeat < now() - %s * interval '1 second')
            """,
            [LOST.total_seconds()],
        )


def take_up(pk: int) -> Job | None:
    """The job, to be run from now on; None where it is waiting no more."""
    taken = Job.objects.filter(pk=pk, state=State.WAITING).update(state=State.RUNNING, seen=timezone.now())
    return Job.objects.select_related("crew", "by").get(pk=pk) if taken else None


def still_wanted(pk: int) -> bool:
    """Say that the worker is there; false where the job was cancelled or has ended."""
    return bool(Job.objects.filter(pk=pk, state=State.RUNNING).update(seen=timezone.now()))


def nobody_works(job: Job) -> bool:
    """Whether a job waits though no worker seems to be there: it was asked for a while ago, and none is running."""
    waits = job.state == State.WAITING and job.created < timezone.now() - LOST
    return waits and not Job.objects.filter(seen__gt=timezone.now() - LOST).exists()


def is_running(pk: int) -> bool:
    """Whether a job is still to be run on."""
    return Job.objects.filter(pk=pk, state=State.RUNNING).exists()


def report(pk: int, share: int, told: str) -> None:
    """How far a job is, in hundredths, and what is being done."""
    Job.objects.filter(pk=pk, state=State.RUNNING).update(share=share, told=told)


@contextmanager
def applying(job: Job) -> Iterator[None]:
    """A transaction in which a job's result may be written: it cannot be cancelled meanwhile.

    Raises :class:`Cancelled` where it was before.
    """
    with transaction.atomic():
        if Job.objects.select_for_update().get(pk=job.pk).state != State.RUNNING:
            raise Cancelled
        yield


def finish(job: Job, outcome: Outcome) -> None:
    """Put down what came of a job."""
    Job.objects.filter(pk=job.pk, state=State.RUNNING).update(
        state=State.DONE,
        share=100,
        ended=timezone.now(),
        upload=None,
        told=outcome.told,
        then=outcome.then,
        answer=outcome.answer,
        answer_name=outcome.answer_name,
        answer_type=outcome.answer_type,
    )


def refuse(pk: int, reason: str) -> None:
    """Put down why a job was not done."""
    _end(Job.objects.filter(pk=pk, state=State.RUNNING), State.REFUSED, reason)


def fail(pk: int, reason: str) -> None:
    """Put down that a job came to no end."""
    _end(Job.objects.filter(pk=pk, state=State.RUNNING), State.FAILED, reason)


def _end(jobs: Any, state: State, told: str) -> None:
    jobs.update(state=state, told=told, ended=timezone.now(), upload=None)
