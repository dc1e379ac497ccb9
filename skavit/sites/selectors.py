"""What the pages of sites show."""

from typing import Any

import numpy as np
from django.db.models import QuerySet
from django.shortcuts import get_object_or_404

from skavit.core.ground.arrays import DAY_S
from skavit.core.plan.document import Site as CoreSite
from skavit.core.plan.times import day_of
from skavit.core.site.almanac import sun_on
from skavit.core.site.clock import WallClock, standard_offset_s, zone_clock
from skavit.core.site.clock_check import Change, clock_changes
from skavit.core.text.coordinates import degrees_text
from skavit.core.text.wording import SHORT_DAYS, Words, date_text, duration_text
from skavit.crews.models import Crew
from skavit.sites.cities import zone_at
from skavit.sites.models import Site

# A legal time may be a good two hours from the sun's (western China, western Spain in summer); beyond three, with the
# date line allowed for, zone and longitude do not belong together. Common practice, no source.
ZONE_HOURS_APART = 3
CHANGES_TOLD = 3
GREENWICH = CoreSite(name="Greenwich", latitude=51.4779, longitude=0.0, timezone="UTC")


def sites_of(crew: Crew) -> QuerySet[Site]:
    """The crew's sites, archived ones too."""
    return Site.objects.there().filter(crew=crew)


def sites_at_work(crew: Crew) -> QuerySet[Site]:
    """The crew's sites that are on the round."""
    return Site.objects.at_work().filter(crew=crew)


def site_of(crew: Crew, pk: int) -> Site:
    """One of the crew's sites; 404 for any other."""
    return get_object_or_404(sites_of(crew), pk=pk)


def site_named(crew: Crew, name: str) -> CoreSite | None:
    """The place of the crew's site of a name, in capitals or not; None where there is none."""
    site = sites_of(crew).filter(name__iexact=name).first()
    return site.place if site else None


def home_of(crew: Crew) -> CoreSite:
    """The place by whose clock a crew's days are told: that of its first site; where there is none, Greenwich."""
    site = sites_of(crew).order_by("pk").first()
    return site.place if site else GREENWICH


def zone_doubt(site: CoreSite, year: int) -> str:
    """A warning where zone and longitude cannot belong together; empty where they can."""
    zone_h = standard_offset_s(site.timezone, year) / 3600
    apart = (zone_h - site.longitude / 15 + 12) % 24 - 12
    if abs(apart) <= ZONE_HOURS_APART:
        return _sign_doubt(site)
    return (
        f"{site.timezone} is {abs(apart):.0f} hours {'ahead of' if apart > 0 else 'behind'} the sun at this longitude. "
        "Look at the zone, and at east and west."
    )


def _sign_doubt(site: CoreSite) -> str:
    """The same of a place whose zone is that of the longitude with the other sign: near the date line the hours agree."""
    if (
        zone_at(site.latitude, site.longitude) == site.timezone
        or zone_at(site.latitude, -site.longitude) != site.timezone
    ):
        return ""
    there, typed = ("E", "W") if site.longitude < 0 else ("W", "E")
    return (
        f"{abs(site.longitude):g}° {typed} is not in {site.timezone}, and {abs(site.longitude):g}° {there} is. "
        "Look at east and west."
    )


def sun_texts(site: CoreSite, clock: WallClock, day: int, words: Words) -> list[tuple[str, str]]:
    """The five sun times of a day at a place, each with its name; "none" where there is none."""
    times = sun_on(site, day)

    def shown(at: int | None) -> str:
        return "none" if at is None else words.minute(int(clock.digits(np.array([at]))[0]) % DAY_S)

    return [(name, shown(times[name])) for name in ("dawn", "sunrise", "noon", "sunset", "dusk")]


def sky(site: CoreSite, instant: int, words: Words) -> dict[str, Any]:
    """Today's sun and the next clock change of a place."""
    year = day_of(instant // DAY_S).year
    clock = zone_clock(site.timezone, year - 1, year + 2)
    digits = int(clock.digits(np.array([instant]))[0])
    return {
        "place": degrees_text(site.latitude, site.longitude),
        "date": f"{SHORT_DAYS[day_of(digits // DAY_S).weekday()]} {date_text(digits // DAY_S)}",
        "now": words.minute(digits % DAY_S),
        "sun": sun_texts(site, clock, digits // DAY_S, words),
        "changes": _next_changes(clock, instant, words),
        "doubt": zone_doubt(site, year),
    }


def _next_changes(clock: WallClock, instant: int, words: Words) -> list[str]:
    """The clock changes to come, the nearest first."""
    later = clock_changes(clock, instant, int(clock.starts[-1]))[:CHANGES_TOLD]
    return [_change_text(change, words) for change in later] or ["The clocks do not change here."]


def _change_text(change: Change, words: Words) -> str:
    day = day_of(change.digits // DAY_S)
    return (
        f"Clocks go {'on' if change.by_s > 0 else 'back'} by {duration_text(change.by_s)} on "
        f"{SHORT_DAYS[day.weekday()]} {date_text(change.digits // DAY_S)} {day.year} "
        f"at {words.minute(change.digits % DAY_S)}."
    )
