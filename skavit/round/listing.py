"""Which units a list shows: found by name and by what they need, site by site, a page at a time.

Nothing is computed and nothing is sorted that grows with the crew: the units of each site are counted, and the sites are
walked in order until a page is full.
"""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from urllib.parse import urlencode

from django.db.models import Count, Exists, F, OuterRef, Q, QuerySet, Value
from django.db.models.fields.json import KeyTransform

from skavit.core.findings import Severity
from skavit.crews.models import Crew
from skavit.server.now import year_at
from skavit.sites.models import Site
from skavit.units.models import Unit
from skavit.units.results import CALCULATION, SERIOUS, WORST
from skavit.units.selectors import units_at_work
from skavit.visits.models import Visit


@dataclass(frozen=True, slots=True, kw_only=True)
class Asked:
    """What somebody looks for in a list."""

    words: str = ""
    serious: bool = False  # only what needs somebody
    page: int = 1

    @property
    def anything(self) -> bool:
        """Whether the list is narrowed at all."""
        return bool(self.words) or self.serious

    @property
    def following(self) -> str:
        """The address of the page after this one, added to the list's own."""
        narrowed = {"q": self.words} if self.words else {}
        return "?" + urlencode(narrowed | ({"serious": "1"} if self.serious else {}) | {"page": str(self.page + 1)})

    def of(self, units: QuerySet[Unit]) -> QuerySet[Unit]:
        """Those that are asked for."""
        if self.words:
            named = Q(name__icontains=self.words) | Q(whereabouts__icontains=self.words)
            units = units.filter(named | Q(site__name__icontains=self.words))
        return units.alias(worst_of=WORST).filter(worst_of__in=SERIOUS) if self.serious else units


@dataclass(slots=True)
class SiteCount:
    """How many units of a site there are, by how they stand."""

    units: int = 0
    asked: int = 0
    danger: int = 0
    warning: int = 0
    unplanned: int = 0  # of the others: nothing is wanted of them
    unkeyed: int = 0  # nothing is keyed
    unvisited: int = 0  # nobody has been there
    stale: int = 0


def units_in(crew: Crew) -> QuerySet[Unit]:
    """The crew's units with what a card shows; of what is kept of their years only the worst finding."""
    units = units_at_work(crew).select_related("site", "result")
    return units.defer("result__findings").annotate(worst=KeyTransform("0", "result__findings"))


def counted(crew: Crew, sites: Iterable[Site], asked: Asked, now: int) -> dict[int, SiteCount]:
    """Each site's units, counted in one query (two where the list is narrowed)."""
    found = {site.pk: SiteCount() for site in sites}
    places = {site.pk: (site.place_key, year_at(site.place, now)) for site in sites}
    visited = Exists(Visit.objects.filter(unit=OuterRef("pk")).exclude(ended=None))
    groups = units_at_work(crew).order_by().annotate(visited=visited).values("site_id", "visited").annotate(
        n=Count("pk"), severity=WORST, lacks=F("result__lacks"), year=F("result__year"), place=F("result__place"),
        calculation=F("result__calculation"),
    )  # fmt: skip
    for group in groups:
        count, here = found[group["site_id"]], (group["place"], group["year"])
        count.units += group["n"]
        count.asked = count.units
        count.danger += group["n"] * (group["severity"] == Severity.DANGER)
        count.warning += group["n"] * (group["severity"] == Severity.WARNING)
        if group["severity"] not in SERIOUS:
            count.unplanned += group["n"] * (group["lacks"] == "wanted")
            count.unkeyed += group["n"] * (group["lacks"] == "keyed")
            count.unvisited += group["n"] * (not group["lacks"] and not group["visited"])
        count.stale += group["n"] * (here != places[group["site_id"]] or group["calculation"] != CALCULATION)
    if asked.anything:
        narrowed = asked.of(units_at_work(crew)).order_by().values("site_id").annotate(n=Count("pk"))
        own = {group["site_id"]: group["n"] for group in narrowed}
        for pk, count in found.items():
            count.asked = own.get(pk, 0)
    return found


def walked(sizes: Iterable[tuple[int, int]], skip: int, most: int) -> Iterator[tuple[int, int, int]]:
    """(site, from, to): which of each site's rows stand on a page; ``sizes`` are (site, how many), in order."""
    for site, size in sizes:
        first, skip = skip, max(skip - size, 0)
        if first < size and most > 0:
            last = min(size, first + most)
            yield site, first, last
            most -= last - first


def picked(units: QuerySet[Unit], parts: Iterable[tuple[int, int, int]]) -> list[int]:
    """The keys of the units on a page, site by site and by name; each site's by its own index."""
    slices = [
        units.filter(site_id=site)
        .order_by("name")
        .annotate(place=Value(place))
        .values("pk", "place", "name")[first:last]
        for place, (site, first, last) in enumerate(parts)
    ]
    if not slices:
        return []
    together = slices[0].union(*slices[1:], all=True).order_by("place", "name") if len(slices) > 1 else slices[0]
    return [row["pk"] for row in together]
