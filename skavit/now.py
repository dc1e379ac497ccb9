"""This moment, and what a site's clock shows: the one place where the application reads the time."""

from datetime import UTC, datetime

import numpy as np

from skavit.core.ground.arrays import DAY_S
from skavit.core.plan.document import Plan, Site
from skavit.core.plan.times import day_of
from skavit.core.site.clock import zone_clock


def now_instant() -> int:
    """This moment, in whole seconds of UTC since 1970."""
    return int(datetime.now(tz=UTC).timestamp())


def site_digits(site: Site, instant: int) -> int:
    """What a site's clock shows at an instant."""
    year = day_of(instant // DAY_S).year
    return int(zone_clock(site.timezone, year - 1, year + 1).digits(np.array([instant]))[0])


def local_digits(plan: Plan, instant: int) -> int:
    """What the clock of a plan's site shows at an instant."""
    return site_digits(plan.site, instant)


def this_year(site: Site) -> int:
    """The calendar year that it is at a site."""
    return day_of(site_digits(site, now_instant()) // DAY_S).year
