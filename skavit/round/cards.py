"""The round: what needs somebody, worst first, and all units as thumbnails by site."""

from dataclasses import dataclass, field, replace
from typing import Any

from django.db.models import QuerySet, prefetch_related_objects

from skavit.background.models import Job
from skavit.core.findings import Severity, read_kept
from skavit.core.ground.arrays import DAY_S
from skavit.core.text.wording import Words, weekday_date
from skavit.crews.models import Crew
from skavit.due.rows import DueRow, next_due
from skavit.round.listing import Asked, SiteCount, counted, picked, units_in, walked
from skavit.round.pictures import example_picture
from skavit.round.teaching import TeachingStep, first_steps
from skavit.server.now import site_digits, today_at, year_at
from skavit.sites.models import Site
from skavit.sites.selectors import sites_at_work
from skavit.units.models import Unit
from skavit.units.results import CALCULATION, WORST, is_fresh, kept_words
from skavit.units.selectors import units_at_work
from skavit.units.trades import Live, pages_of

# The state of this very minute is worked out for so many units at most; lists never compute more.
MOST_LIVE = 12
# Cards on one page of a list; the next is fetched when the last one comes into sight.
PAGE = 60


@dataclass(frozen=True, slots=True, kw_only=True)
class Card:
    """A unit in a list."""

    unit: Unit
    thumbnail: str
    severity: str  # empty where nothing was found
    headline: str
    stale: bool  # what is shown was worked out for another year, place or release


def unit_cards(units: QuerySet[Unit], words: Words, now: int) -> list[Card]:
    """Units of :func:`units_in` as cards, in their order."""
    return [_card(unit, words, now) for unit in units]


def _card(unit: Unit, words: Words, now: int) -> Card:
    result = unit.result
    raw: dict[str, Any] | None = getattr(unit, "worst", None)
    # Another release may keep its findings otherwise: then only how bad the worst is can be told.
    known = raw is not None and result is not None and result.calculation == CALCULATION
    # Where something is meant so, the first of what is kept may be that.
    known = known and unit.accepted_severity is None
    return Card(
        unit=unit,
        thumbnail=result.thumbnail if result else "",
        stale=not is_fresh(unit, year_at(unit.site.place, now)),
        severity=_severity(unit),
        headline=read_kept(raw).facts.headline(kept_words(raw, words)) if known and raw else "",
    )


def _severity(unit: Unit) -> str:
    if unit.accepted_severity is not None:
        return unit.accepted_severity
    return unit.result.severity if unit.result else ""


@dataclass(frozen=True, slots=True, kw_only=True)
class UnitsPage:
    """A page of the crew's units, site by site."""

    asked: Asked
    sites: list[tuple[Site, list[Card]]]
    found: int  # all that are asked for
    following: str  # the address of the next page, empty after the last


@dataclass(frozen=True, slots=True, kw_only=True)
class RoundPage:
    """The home page."""

    today: str
    tonight: list[tuple[Card, Live]]
    more: int  # serious ones that are not told live
    calm: int  # units that want something, hold something, were seen by somebody, and do what is wanted
    others: list[str]  # what is said of those that are neither
    listed: UnitsPage
    any_site: bool
    total: int
    stale: int
    first_steps: list[TeachingStep] = field(default_factory=list)  # of an empty crew, with the picture it leads to
    example: str = ""
    refreshing: Job | None = None
    due: list[DueRow] = field(default_factory=list)  # the first things that need a visit, by date


def round_page(crew: Crew, words: Words, now: int, asked: Asked | None = None) -> RoundPage:
    """The home page."""
    asked = asked or Asked()
    sites = list(sites_at_work(crew))
    counts = counted(crew, sites, asked, now)
    total, serious = (sum(count.units for count in counts.values()), _serious(counts))
    live = _tonight(crew, sites, counts, words, now)
    page = RoundPage(
        today=weekday_date(site_digits(sites[0].place, now) // DAY_S) if sites else "",
        tonight=[(card, pages_of(card.unit.plan).live(card.unit, now, words)) for card in live],
        more=max(serious - len(live), 0),
        calm=total - serious - sum(map(_others, counts.values())),
        others=_others_told(counts),
        listed=_listed(crew, sites, counts, asked, words, now),
        any_site=bool(sites),
        total=total,
        stale=sum(count.stale for count in counts.values()),
        due=next_due(crew, words, today_at(sites[0].place, now)) if total else [],
    )
    return page if total else replace(page, first_steps=first_steps(crew), example=example_picture(words, now))


def units_page(crew: Crew, words: Words, now: int, asked: Asked) -> UnitsPage:
    """One page of the list alone."""
    sites = list(sites_at_work(crew))
    return _listed(crew, sites, counted(crew, sites, asked, now), asked, words, now)


def _others(count: SiteCount) -> int:
    return count.unplanned + count.unkeyed + count.unvisited


def _others_told(counts: dict[int, SiteCount]) -> list[str]:
    """How many units are not planned, not keyed, or were never visited; none of those of which there are none."""
    told = (
        (sum(count.unplanned for count in counts.values()), "not planned"),
        (sum(count.unkeyed for count in counts.values()), "not keyed"),
        (sum(count.unvisited for count in counts.values()), "never visited"),
    )
    return [f"{number} {what}" for number, what in told if number]


def _serious(counts: dict[int, SiteCount]) -> int:
    return sum(count.danger + count.warning for count in counts.values())


def _tonight(crew: Crew, sites: list[Site], counts: dict[int, SiteCount], words: Words, now: int) -> list[Card]:
    """The units that need somebody most, dangers first."""
    cards: list[Card] = []
    for severity in (Severity.DANGER, Severity.WARNING):
        sizes = [(site.pk, getattr(counts[site.pk], severity.value)) for site in sites]
        worst = units_at_work(crew).alias(worst_of=WORST).filter(worst_of=severity.value)
        cards += _in_order(crew, picked(worst, walked(sizes, 0, MOST_LIVE - len(cards))), words, now)
    prefetch_related_objects([card.unit for card in cards], "head")
    return cards


def _in_order(crew: Crew, keys: list[int], words: Words, now: int) -> list[Card]:
    by_key = {card.unit.pk: card for card in unit_cards(units_in(crew).filter(pk__in=keys), words, now)} if keys else {}
    return [by_key[key] for key in keys]


def _listed(
    crew: Crew, sites: list[Site], counts: dict[int, SiteCount], asked: Asked, words: Words, now: int
) -> UnitsPage:
    skip = (asked.page - 1) * PAGE
    sizes = [(site.pk, counts[site.pk].asked) for site in sites]
    parts = list(walked(sizes, skip, PAGE))
    by_site: dict[int, list[Card]] = {site: [] for site, _, _ in parts}
    for card in _in_order(crew, picked(asked.of(units_at_work(crew)), parts), words, now):
        by_site[card.unit.site_id].append(card)
    found = sum(size for _, size in sizes)
    # A site without units is on the first page: it waits for its first one.
    empty = set() if asked.anything or asked.page > 1 else {site.pk for site in sites if not counts[site.pk].units}
    return UnitsPage(
        asked=asked,
        sites=[(site, by_site.get(site.pk, [])) for site in sites if site.pk in by_site or site.pk in empty],
        found=found,
        following=asked.following if skip + PAGE < found else "",
    )
