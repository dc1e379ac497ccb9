"""Adding and changing sites."""

from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_GET, require_http_methods

from skavit.core.ground.zones import timezones
from skavit.crews.access import editors
from skavit.crews.request import CrewRequest
from skavit.sites import selectors, services
from skavit.sites.cities import find_cities, zone_at
from skavit.sites.forms import PlaceForm, SiteForm
from skavit.web.saving import save_form


@editors
@require_http_methods(["GET", "POST"])
def site_edit(request: CrewRequest, pk: int | None = None) -> HttpResponse:
    """A new site, or a change of one."""
    site = selectors.site_of(request.crew, pk) if pk is not None else None
    form = (
        SiteForm(request.POST)
        if request.method == "POST"
        else SiteForm.showing(site)
        if site
        else SiteForm(initial=request.GET.dict())
    )
    context = {"site": site, "form": form, "zones": sorted(timezones())}
    return save_form(
        form,
        lambda: services.save_site(request.membership, site, form.cleaned_data, form.cleaned_data["version"]),
        then=lambda saved: redirect("site", pk=saved.pk),
        page=lambda status: render(request, "sites/site_edit.html", context, status=status),
    )


@require_GET
def cities(request: CrewRequest) -> HttpResponse:
    """The cities whose name begins with what is typed, to fill a place's fields with."""
    site = selectors.sites_of(request.crew).order_by("-created").first() if request.crew else None
    near = site.timezone if site else ""
    return render(request, "sites/_cities.html", {"cities": find_cities(request.GET.get("city", ""), near)})


@require_GET
def zone(request: CrewRequest) -> HttpResponse:
    """The time zone of the coordinates typed so far."""
    form = PlaceForm(request.GET)
    form.is_valid()
    place = form.cleaned_data
    found = ""
    if "latitude" in place and "longitude" in place:
        found = zone_at(place["latitude"], place["longitude"])
    return render(request, "sites/_zone_hint.html", {"zone": found, "typed": request.GET.get("timezone", "").strip()})
