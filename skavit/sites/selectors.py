"""What the pages of sites show."""

from typing import Any

import numpy as np
from django.db.models import QuerySet
from django.shortcuts import get_object_or_404

from skavit.core.almanac import sun_on
from skavit.core.clock import standard_offset_s, zone_clock
from skavit.core.coordinates import degrees_text
from skavit.core.plan import Site as CoreSite
from skavit.core.sun import DAY_S
from skavit.core.values import day_of
from skavit.core.wording import SHORT_DAYS, Words, date_text, duration_text
from skavit.crews.models import Crew
from skavit.sites.models import Site

# A legal time may be a good two hours from the sun's (western China, western Spain in summer); beyond three, with the
# date line allowed for, zone and longitude do not belong together. Common practice, no source.
ZONE_HOURS_APART = 3


def sites_of(crew: Crew) -> QuerySet[Site]:
    """The crew's sites."""
    return Site.objects.filter(crew=crew)


def site_of(crew: Crew, pk: int) -> Site:
    """One of the crew's sites; 404 for any other."""
    return get_object_or_404(sites_of(crew), pk=pk)


def zone_doubt(site: CoreSite, year: int) -> str:
    """A warning where zone and longitude cannot belong together; empty where they can."""
    zone_h = standard_offset_s(site.timezone, year) / 3600
    apart = (zone_h - site.longitude / 15 + 12) % 24 - 12
    if abs(apart) <= ZONE_HOURS_APART:
        return ""
    return (
        f"{site.timezone} is {abs(apart):.0f} hours {'ahead of' if apart > 0 else 'behind'} the sun at this longitude. "
        "Look at the zone, and at east and west."
    )


def sky(site: CoreSite, instant: int, words: Words) -> dict[str, Any]:
    """Today's sun and the next clock change of a place."""
    year = day_of(instant // DAY_S).year
    clock = zone_clock(site.timezone, year - 1, year + 2)
    digits = int(clock.digits(np.array([instant]))[0])
    times = sun_on(site, digits // DAY_S)

    def shown(name: str) -> str:
        at = times[name]
        return "none" if at is None else words.minute(int(clock.digits(np.array([at]))[0]) % DAY_S)

    return {
        "place": degrees_text(site.latitude, site.longitude),
        "date": f"{SHORT_DAYS[day_of(digits // DAY_S).weekday()]} {date_text(digits // DAY_S)}",
        "now": words.minute(digits % DAY_S),
        "sun": [(name, shown(name)) for name in ("dawn", "sunrise", "noon", "sunset", "dusk")],
        "change": _next_change(clock.starts, clock.offsets, instant, words),
        "doubt": zone_doubt(site, year),
    }


def _next_change(starts: Any, offsets: Any, instant: int, words: Words) -> str:
    later = np.nonzero(starts > instant)[0]
    if not later.size:
        return "The clocks do not change here."
    index = int(later[0])
    before, after = int(offsets[index - 1]), int(offsets[index])
    digits = int(starts[index]) + before
    day = day_of(digits // DAY_S)
    return (
        f"Clocks go {'on' if after > before else 'back'} by {duration_text(after - before)} on "
        f"{SHORT_DAYS[day.weekday()]} {date_text(digits // DAY_S)} {day.year} at {words.minute(digits % DAY_S)}."
    )
