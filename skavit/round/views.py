"""The round, a site with its units, and finding."""

from dataclasses import replace

from django.http import HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_GET

from skavit.background.models import Job
from skavit.background.services import TooMuchWork
from skavit.crews.access import members
from skavit.crews.request import CrewRequest
from skavit.round.cards import round_page, unit_cards, units_page
from skavit.round.listing import Asked, units_in
from skavit.round.pictures import sun_year
from skavit.sites.selectors import site_of, sites_at_work, sky
from skavit.units.pages.post_data import number
from skavit.units.selectors import units_at_work, units_away
from skavit.units.services.refreshing import ask_refresh
from skavit.web.page import shown

MOST_FOUND = 20
MOST_CARDS = 300


@members
@require_GET
def home(request: CrewRequest) -> HttpResponse:
    """The round; for htmx a page of its list alone, narrowed by what is typed."""
    words, page_asked = request.GET.get("q", "").strip()[:80], max(number(request.GET, "page"), 1)
    asked = Asked(words=words, serious="serious" in request.GET, page=page_asked)
    if request.htmx and not request.htmx.boosted:
        listed = units_page(request.crew, request.words, request.now, asked)
        return render(request, "_units_page.html", {"listed": listed})
    page = round_page(request.crew, request.words, request.now, asked)
    if page.stale:
        page = replace(page, refreshing=_refresh(request))
    return render(request, "round.html", shown(page))


def _refresh(request: CrewRequest) -> Job | None:
    """Let what is stale be worked out; None where the crew has too much work waiting."""
    try:
        return ask_refresh(request.membership)
    except TooMuchWork:
        return None


@members
@require_GET
def find(request: CrewRequest) -> HttpResponse:
    """Sites and units whose name holds what is typed."""
    typed = request.GET.get("q", "").strip()
    sites = sites_at_work(request.crew).filter(name__icontains=typed)[:MOST_FOUND]
    at_work = units_at_work(request.crew).select_related("site")
    units = at_work.filter(name__icontains=typed)[:MOST_FOUND]
    at_sites = at_work.filter(site__in=[site.pk for site in sites])[:MOST_FOUND]
    found = {unit.pk: unit for unit in [*units, *at_sites]}
    template = "_found.html" if request.htmx else "find.html"
    return render(request, template, {"typed": typed, "sites": sites, "units": list(found.values())})


@members
@require_GET
def site_page(request: CrewRequest, pk: int) -> HttpResponse:
    """A site: today's sun, the next clock change, its units."""
    site = site_of(request.crew, pk)
    units = units_in(request.crew).filter(site=site)
    cards = unit_cards(units[:MOST_CARDS], request.words, request.now)
    more = units.count() - MOST_CARDS if len(cards) == MOST_CARDS else 0
    refreshing = _refresh(request) if any(card.stale for card in cards) else None
    context = {
        "site": site,
        "sky": sky(site.place, request.now, request.words),
        "sun_year": sun_year(site.place, request.words, request.now),
        "cards": cards,
        "more": more,
        "refreshing": refreshing,
        "away": units_away(site),
    }
    return render(request, "sites/site.html", context)
