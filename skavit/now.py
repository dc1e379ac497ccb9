"""This moment, and what a site's clock shows: the one place where the application reads the time."""

from datetime import UTC, datetime

import numpy as np

from skavit.core.clock import zone_clock
from skavit.core.plan import Plan
from skavit.core.sun import DAY_S
from skavit.core.values import day_of


def now_instant() -> int:
    """This moment, in whole seconds of UTC since 1970."""
    return int(datetime.now(tz=UTC).timestamp())


def local_digits(plan: Plan, instant: int) -> int:
    """What the clock of a plan's site shows at an instant."""
    year = day_of(instant // DAY_S).year
    return int(zone_clock(plan.site.timezone, year - 1, year + 1).digits(np.array([instant]))[0])


def this_year(plan: Plan) -> int:
    """The calendar year that it is at a plan's site."""
    return day_of(local_digits(plan, now_instant()) // DAY_S).year
