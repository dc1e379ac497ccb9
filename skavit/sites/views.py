"""Pages of sites."""

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_GET, require_http_methods

from skavit.core.clock import timezones
from skavit.core.wording import Words
from skavit.crews.access import editors, members
from skavit.sites import selectors, services
from skavit.sites.forms import SiteForm
from skavit.units.results import now_instant
from skavit.units.round import unit_cards


@members
@require_GET
def site_page(request: HttpRequest, pk: int) -> HttpResponse:
    """A site: today's sun, the next clock change, its units."""
    site = selectors.site_of(request.crew, pk)
    words = Words(twelve_hour=request.crew.twelve_hour)
    context = {"site": site, "sky": selectors.sky(site.place, now_instant(), words)}
    return render(request, "sites/site.html", {**context, "cards": unit_cards(request.crew, words, site=site)})


@editors
@require_http_methods(["GET", "POST"])
def site_edit(request: HttpRequest, pk: int | None = None) -> HttpResponse:
    """A new site, or a change of one."""
    site = selectors.site_of(request.crew, pk) if pk is not None else None
    form = SiteForm(request.POST) if request.method == "POST" else SiteForm.showing(site) if site else SiteForm()
    if request.method == "POST" and form.is_valid():
        try:
            saved = services.save_site(request.membership, site, form.cleaned_data)
        except services.NameTaken as error:
            form.add_error("name", str(error))
        else:
            return redirect("site", pk=saved.pk)
    context = {"site": site, "form": form, "zones": sorted(timezones())}
    return render(request, "sites/site_edit.html", context, status=422 if form.is_bound else 200)
