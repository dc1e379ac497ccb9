"""Adding and changing sites."""

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_http_methods

from skavit.core.clock import timezones
from skavit.crews.access import editors
from skavit.sites import selectors, services
from skavit.sites.forms import SiteForm


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
