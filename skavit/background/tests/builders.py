"""Jobs for tests, done in the test's own process: a child would not see its transaction."""

from skavit.background import child, services
from skavit.background.models import Job, State


def work_off():
    """Do all that waits; gives the jobs as they stand then, in the order in which they were asked for."""
    done = []
    for pk in Job.objects.filter(state=State.WAITING).order_by("pk").values_list("pk", flat=True):
        services.take_up(pk)
        child.do(pk)
        done.append(Job.objects.get(pk=pk))
    return done
