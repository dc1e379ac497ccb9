"""A new unit at a site."""

from http import HTTPStatus

from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_http_methods

from skavit.crews.access import editors
from skavit.crews.request import CrewRequest
from skavit.kinds import selectors as kinds
from skavit.sites.selectors import site_of
from skavit.units.pages.new.forms import UnitForm
from skavit.units.services import units


@editors
@require_http_methods(["GET", "POST"])
def unit_new(request: CrewRequest, site_pk: int) -> HttpResponse:
    """A new unit at a site."""
    site = site_of(request.crew, site_pk)
    listed = [*kinds.own_kinds(request.crew), *kinds.shipped()]
    form = UnitForm(request.POST or None, listed=listed)
    if request.method == "POST" and form.is_valid():
        typed = {name: form.cleaned_data[name] for name in ("name", "whereabouts")}
        try:
            kind = form.chosen.kind if form.chosen else None
            own = kinds.own_kind(request.crew, form.chosen.own) if form.chosen and form.chosen.own else None
            unit = units.create_unit(
                request.membership,
                site,
                **typed,
                channels=form.channels(),
                kind=kind,
                own=own,
                now=request.now,
                sort=form.sort,
            )
        except units.NameTaken as error:
            form.add_error("name", str(error))
        else:
            return redirect("unit", pk=unit.pk)
    status = HTTPStatus.UNPROCESSABLE_ENTITY if form.is_bound else HTTPStatus.OK
    context = {"site": site, "form": form, "listed": listed}
    return render(request, "units/new/unit_new.html", context, status=status)
