"""The round, a site with its units, and finding."""

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_GET

from skavit.background.models import Job
from skavit.background.services import TooMuchWork
from skavit.core.text.wording import Words
from skavit.crews.access import members
from skavit.now import now_instant
from skavit.round.cards import round_page, unit_cards
from skavit.round.teaching import example_picture, first_steps
from skavit.sites.selectors import site_of, sites_of, sky
from skavit.units.long_work import ask_refresh
from skavit.units.selectors import units_of

MOST_FOUND = 20


@members
@require_GET
def home(request: HttpRequest) -> HttpResponse:
    """The round."""
    words = Words(twelve_hour=request.crew.twelve_hour)
    page = round_page(request.crew, words)
    if not page["total"]:
        page |= {"first_steps": first_steps(request.crew), "example": example_picture(words)}
    if page["stale"]:
        page["refreshing"] = _refresh(request)
    return render(request, "round.html", page)


def _refresh(request: HttpRequest) -> Job | None:
    """Let what is stale be worked out; None where the crew has too much work waiting."""
    try:
        return ask_refresh(request.membership)
    except TooMuchWork:
        return None


@members
@require_GET
def find(request: HttpRequest) -> HttpResponse:
    """Sites and units whose name holds what is typed."""
    typed = request.GET.get("q", "").strip()
    sites = sites_of(request.crew).filter(name__icontains=typed)[:MOST_FOUND]
    units = units_of(request.crew).filter(name__icontains=typed)[:MOST_FOUND]
    at_sites = units_of(request.crew).filter(site__in=[site.pk for site in sites])[:MOST_FOUND]
    found = {unit.pk: unit for unit in [*units, *at_sites]}
    template = "_found.html" if request.htmx else "find.html"
    return render(request, template, {"typed": typed, "sites": sites, "units": list(found.values())})


@members
@require_GET
def site_page(request: HttpRequest, pk: int) -> HttpResponse:
    """A site: today's sun, the next clock change, its units."""
    site = site_of(request.crew, pk)
    words = Words(twelve_hour=request.crew.twelve_hour)
    context = {"site": site, "sky": sky(site.place, now_instant(), words)}
    cards = unit_cards(request.crew, words, site=site)
    refreshing = _refresh(request) if any(card.stale for card in cards) else None
    return render(request, "sites/site.html", {**context, "cards": cards, "refreshing": refreshing})
