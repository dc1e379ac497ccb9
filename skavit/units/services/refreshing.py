"""Kept years that have gone stale, brought up to date on all cores."""

from collections.abc import Callable, Sequence
from functools import partial

from django.db.models import QuerySet
from django.urls import reverse

from skavit.background import services as background
from skavit.background.models import Job
from skavit.background.shares import shared_out
from skavit.background.work import MEMBERS, Outcome, Report, does
from skavit.core.text.wording import count
from skavit.crews.models import Membership
from skavit.server.now import read_now, year_at
from skavit.sites.models import Site
from skavit.units import results, selectors
from skavit.units.models import Unit

REFRESH = "refresh"
MOST_AT_ONCE = 10_000  # of one piece of work; the round asks again for the rest


def ask_refresh(membership: Membership) -> Job:
    """The kept years of all the crew's units that are stale."""
    return background.begin(membership, REFRESH, "Bringing the round up to date", {}, reverse("round"))


@does(REFRESH, MEMBERS)
def do_refresh(job: Job, report: Report) -> Outcome:
    """Work out the year of each unit whose kept one is stale, so many of them at most."""
    now = read_now()
    stale = stale_units(selectors.units_at_work(job.crew), now)
    taken = stale[:MOST_AT_ONCE]
    units = count(len(taken), "unit")
    renew(taken, now, lambda done: report(100 * done // len(taken), f"{done:,} of {units}"))
    left = len(stale) - len(taken)
    told = f"{units} brought up to date." + (f" {count(left, 'unit')} still to do." if left else "")
    return Outcome(told=told, then=reverse("round"))


def stale_units(units: "QuerySet[Unit]", now: int) -> list[int]:
    """Those of some units whose kept year is not of this year, place and release, site by site; no plan is read for it."""
    rows = units.order_by("site_id", "pk").values_list(
        "pk", "site_id", "result__year", "result__calculation", "result__place"
    )
    sites = Site.objects.in_bulk({site for _, site, *_ in rows})
    fresh = {pk: (year_at(site.place, now), results.CALCULATION, site.place_key) for pk, site in sites.items()}
    return [pk for pk, site, *kept in rows if tuple(kept) != fresh[site]]


def renew(units: list[int], now: int, done: Callable[[int], None]) -> None:
    """Work out the years of some units by their keys; ``done`` is told how many are."""
    shared_out(units, partial(_renew, now=now), done)


def _renew(keys: Sequence[int], now: int) -> None:
    """A few units; what went meanwhile is left out."""
    units = Unit.objects.select_related("site", "head", "kind", "keyed").defer("keyed__document")
    results.keep_results(list(units.filter(pk__in=keys)), now)
