"""A new unit at a site."""

from http import HTTPStatus

from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_http_methods

from skavit.crews.access import editors
from skavit.crews.request import CrewRequest
from skavit.sites.models import Site
from skavit.units.pages.new.forms import UnitForm
from skavit.units.services import units


@editors
@require_http_methods(["GET", "POST"])
def unit_new(request: CrewRequest, site_pk: int) -> HttpResponse:
    """A new unit at a site."""
    site = get_object_or_404(Site, crew=request.crew, pk=site_pk)
    form = UnitForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        typed = {name: form.cleaned_data[name] for name in ("name", "whereabouts")}
        try:
            unit = units.create_unit(request.membership, site, **typed, channels=form.channels(), now=request.now)
        except units.NameTaken as error:
            form.add_error("name", str(error))
        else:
            return redirect("unit", pk=unit.pk)
    status = HTTPStatus.UNPROCESSABLE_ENTITY if form.is_bound else HTTPStatus.OK
    return render(request, "units/new/unit_new.html", {"site": site, "form": form}, status=status)
