"""The page of who changed what."""

from django.http import HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_GET

from skavit.changes.listing import Asked, changes_page
from skavit.crews.access import members
from skavit.crews.request import CrewRequest
from skavit.sites.selectors import site_of
from skavit.units.pages.post_data import number
from skavit.units.selectors import unit_of
from skavit.web.page import shown


@members
@require_GET
def changes(request: CrewRequest) -> HttpResponse:
    """Changes of all that the crew has, of one site, or of one unit."""
    site, unit = (max(number(request.GET, name), 0) for name in ("site", "unit"))
    of_unit = unit_of(request.crew, unit) if unit else None
    of_site = site_of(request.crew, site) if site and not unit else None
    asked = Asked(site=site, unit=unit, page=max(number(request.GET, "page"), 1))
    page = changes_page(request.crew, asked, request.words)
    return render(request, "changes/changes.html", {**shown(page), "unit": of_unit, "site": of_site})
