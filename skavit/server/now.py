"""The time of a request, read once and passed on, and what a site's clock shows then."""

from datetime import UTC, date, datetime

import numpy as np

from skavit.core.ground.arrays import DAY_S
from skavit.core.plan.document import Plan, Site
from skavit.core.plan.times import day_of
from skavit.core.site.clock import zone_clock
from skavit.core.text.wording import Words, dated_text


def read_instant() -> datetime:
    """This moment. Read by the middleware once a request, by background work and by commands once; handed on from there."""
    return datetime.now(tz=UTC)


def read_now() -> int:
    """The same in whole seconds of UTC since 1970."""
    return int(read_instant().timestamp())


def site_digits(site: Site, instant: int) -> int:
    """What a site's clock shows at an instant."""
    year = day_of(instant // DAY_S).year
    return int(zone_clock(site.timezone, year - 1, year + 1).digits(np.array([instant]))[0])


def local_digits(plan: Plan, instant: int) -> int:
    """What the clock of a plan's site shows at an instant."""
    return site_digits(plan.site, instant)


def local_datetime_text(site: Site, instant: datetime, words: Words) -> str:
    """A moment by a site's clock: 11 May 2027, 12:20."""
    digits = site_digits(site, int(instant.timestamp()))
    return f"{dated_text(digits // DAY_S)}, {words.minute(digits % DAY_S)}"


def today_at(site: Site, instant: int) -> date:
    """The date that it is at a site."""
    return day_of(site_digits(site, instant) // DAY_S)


def year_at(site: Site, instant: int) -> int:
    """The calendar year that it is at a site."""
    return today_at(site, instant).year
