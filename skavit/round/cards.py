"""The round: what needs somebody, worst first, and all units as thumbnails by site."""

from dataclasses import dataclass
from typing import Any

from django.db.models import prefetch_related_objects

from skavit.core.findings import Severity
from skavit.core.ground.arrays import DAY_S
from skavit.core.simulation.handover import handover
from skavit.core.text.wording import Words
from skavit.crews.models import Crew
from skavit.now import local_digits, now_instant, site_digits, this_year
from skavit.sites.models import Site
from skavit.units.models import Unit
from skavit.units.nights import weekday_date
from skavit.units.results import is_fresh

RANK = {Severity.DANGER.value: 0, Severity.WARNING.value: 1, Severity.NOTE.value: 2, "": 3}
# The state of this very minute is worked out for so many units at most; lists never compute more.
MOST_LIVE = 12


@dataclass(frozen=True, slots=True, kw_only=True)
class Card:
    """A unit in a list."""

    unit: Unit
    thumbnail: str
    severity: str  # empty where nothing was found
    headline: str
    stale: bool  # what is shown was worked out for another year, place or release


def unit_cards(crew: Crew, words: Words, site: Site | None = None) -> list[Card]:
    """The crew's units, or those of a site, with their kept results."""
    units = Unit.objects.filter(site__crew=crew).select_related("site", "result")
    if site is not None:
        units = units.filter(site=site)
    years: dict[str, int] = {}
    cards = []
    for unit in units:
        zone = unit.site.timezone
        if zone not in years:
            years[zone] = this_year(unit.site.place)
        result = unit.result
        worst: dict[str, Any] = result.findings[0] if result and result.findings else {}
        cards.append(
            Card(
                unit=unit,
                thumbnail=result.thumbnail if result else "",
                stale=not is_fresh(unit, years[zone]),
                severity=worst.get("severity", ""),
                headline=worst.get("message", "").split(". ")[0],
            )
        )
    return cards


def round_page(crew: Crew, words: Words) -> dict[str, Any]:
    """The home page."""
    cards = unit_cards(crew, words)
    serious = sorted(
        (card for card in cards if card.severity in (Severity.DANGER, Severity.WARNING)),
        key=lambda card: (RANK[card.severity], card.unit.site.name, card.unit.name),
    )
    by_site: dict[Site, list[Card]] = {site: [] for site in Site.objects.filter(crew=crew)}
    for card in cards:
        by_site[card.unit.site].append(card)
    live = serious[:MOST_LIVE]
    prefetch_related_objects([card.unit for card in live], "head")
    return {
        "today": weekday_date(site_digits(next(iter(by_site)).place, now_instant()) // DAY_S) if by_site else "",
        "tonight": [(card, _live(card, words)) for card in live],
        "more": max(len(serious) - MOST_LIVE, 0),
        "calm": len(cards) - len(serious),
        "sites": list(by_site.items()),
        "total": len(cards),
        "stale": sum(card.stale for card in cards),
    }


def _live(card: Card, words: Words) -> dict[str, str]:
    """What the unit does at this minute, and when it next switches."""
    plan = card.unit.plan
    instant = now_instant()
    leaving = handover(plan, instant)
    wrong = next((c for c in leaving if c.program != c.wanted), None)
    if wrong is not None:
        return {"when": "now", "what": "on, not wanted" if wrong.program else "off, though wanted"}
    coming = [(c.next[0].instant, c.next[0].on) for c in leaving if c.next]
    if not coming:
        return {"when": "–", "what": "nothing switches"}
    at, on = min(coming)
    digits = local_digits(plan, at)
    day = weekday_date(digits // DAY_S)
    return {"when": words.minute(digits % DAY_S), "what": f"{'on' if on else 'off'}, {day}"}
