"""The round: what needs somebody, worst first, and all units as thumbnails by site."""

from dataclasses import dataclass, field, replace

from django.db.models import prefetch_related_objects

from skavit.background.models import Job
from skavit.core.findings import Finding, Severity, read_kept
from skavit.core.ground.arrays import DAY_S
from skavit.core.simulation.handover import handover
from skavit.core.text.wording import Words, weekday_date
from skavit.crews.models import Crew
from skavit.now import local_digits, site_digits, year_at
from skavit.round.teaching import TeachingStep, example_picture, first_steps
from skavit.sites.models import Site
from skavit.units.models import Unit, YearResult
from skavit.units.results import CALCULATION, is_fresh

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


def unit_cards(crew: Crew, words: Words, now: int, site: Site | None = None) -> list[Card]:
    """The crew's units, or those of a site, with their kept results."""
    units = Unit.objects.filter(site__crew=crew).select_related("site", "result")
    if site is not None:
        units = units.filter(site=site)
    years: dict[str, int] = {}
    cards = []
    for unit in units:
        zone = unit.site.timezone
        if zone not in years:
            years[zone] = year_at(unit.site.place, now)
        result = unit.result
        worst = _worst(result) if result else None
        cards.append(
            Card(
                unit=unit,
                thumbnail=result.thumbnail if result else "",
                stale=not is_fresh(unit, years[zone]),
                severity=worst.severity.value if worst else "",
                headline=worst.facts.headline(words) if worst else "",
            )
        )
    return cards


def _worst(result: YearResult) -> Finding | None:
    """The worst of the kept findings; none of another release, which may keep them otherwise."""
    known = result.findings and result.calculation == CALCULATION
    return read_kept(result.findings[0]) if known else None


@dataclass(frozen=True, slots=True, kw_only=True)
class Live:
    """What a unit does at this minute, and when it next switches."""

    when: str
    what: str


@dataclass(frozen=True, slots=True, kw_only=True)
class RoundPage:
    """The home page."""

    today: str
    tonight: list[tuple[Card, Live]]
    more: int  # serious ones that are not told live
    calm: int
    sites: list[tuple[Site, list[Card]]]
    total: int
    stale: int
    first_steps: list[TeachingStep] = field(default_factory=list)  # of an empty crew, with the picture it leads to
    example: str = ""
    refreshing: Job | None = None


def round_page(crew: Crew, words: Words, now: int) -> RoundPage:
    """The home page."""
    cards = unit_cards(crew, words, now)
    serious = sorted(
        (card for card in cards if card.severity in (Severity.DANGER, Severity.WARNING)),
        key=lambda card: (RANK[card.severity], card.unit.site.name, card.unit.name),
    )
    by_site: dict[Site, list[Card]] = {site: [] for site in Site.objects.filter(crew=crew)}
    for card in cards:
        by_site[card.unit.site].append(card)
    live = serious[:MOST_LIVE]
    prefetch_related_objects([card.unit for card in live], "head")
    page = RoundPage(
        today=weekday_date(site_digits(next(iter(by_site)).place, now) // DAY_S) if by_site else "",
        tonight=[(card, _live(card, words, now)) for card in live],
        more=max(len(serious) - MOST_LIVE, 0),
        calm=len(cards) - len(serious),
        sites=list(by_site.items()),
        total=len(cards),
        stale=sum(card.stale for card in cards),
    )
    if cards:
        return page
    return replace(page, first_steps=first_steps(crew), example=example_picture(words, now))


def _live(card: Card, words: Words, now: int) -> Live:
    """What the unit does at this minute, and when it next switches."""
    plan = card.unit.plan
    leaving = handover(plan, now)
    wrong = next((c for c in leaving if c.program != c.wanted), None)
    if wrong is not None:
        return Live(when="now", what="on, not wanted" if wrong.program else "off, though wanted")
    coming = [(c.next[0].instant, c.next[0].on) for c in leaving if c.next]
    if not coming:
        return Live(when="–", what="nothing switches")
    at, on = min(coming)
    digits = local_digits(plan, at)
    day = weekday_date(digits // DAY_S)
    return Live(when=words.minute(digits % DAY_S), what=f"{'on' if on else 'off'}, {day}")
