"""Kept years that have gone stale, brought up to date in the background."""

from django.urls import reverse

from skavit.background import services as background
from skavit.background.models import Job
from skavit.background.work import Outcome, Report, does
from skavit.core.text.wording import count
from skavit.crews.models import Membership
from skavit.now import read_now, year_at
from skavit.units import results, selectors

REFRESH = "refresh"


def ask_refresh(membership: Membership) -> Job:
    """The kept years of all the crew's units that are stale."""
    return background.begin(membership, REFRESH, "Bringing the round up to date", {}, reverse("round"))


@does(REFRESH)
def do_refresh(job: Job, report: Report) -> Outcome:
    """Work out the year of each unit whose kept one is stale."""
    now = read_now()
    units = list(selectors.units_at_work(job.crew).select_related("site", "head", "result"))
    stale = [unit for unit in units if not results.is_fresh(unit, year_at(unit.site.place, now))]
    for done, unit in enumerate(stale):
        report(100 * done // len(stale), f"{done} of {count(len(stale), 'unit')}")
        results.keep_result(unit, now)
    return Outcome(told=f"{count(len(stale), 'unit')} brought up to date.", then=reverse("round"))
