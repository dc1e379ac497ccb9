"""A new unit at a site."""

from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_http_methods

from skavit.crews.access import editors
from skavit.crews.request import CrewRequest
from skavit.kinds import selectors as kinds
from skavit.sites.selectors import site_of
from skavit.units.models import Unit
from skavit.units.pages.new.forms import UnitForm, unknown_kinds
from skavit.units.services import units
from skavit.web.saving import save_form


@editors
@require_http_methods(["GET", "POST"])
def unit_new(request: CrewRequest, site_pk: int) -> HttpResponse:
    """A new unit at a site."""
    site = site_of(request.crew, site_pk)
    listed = [*kinds.own_kinds(request.crew), *kinds.shipped()]
    form = UnitForm(request.POST or None, listed=listed)

    def save() -> Unit:
        chosen = form.chosen
        return units.create_unit(
            request.membership,
            site,
            name=form.cleaned_data["name"],
            whereabouts=form.cleaned_data["whereabouts"],
            channels=form.channels(),
            kind=chosen.kind if chosen else None,
            own=kinds.own_kind(request.crew, chosen.own) if chosen and chosen.own else None,
            now=request.now,
            trade=form.trade,
        )

    context = {"site": site, "form": form, "listed": listed, "unknown": unknown_kinds()}
    return save_form(
        form,
        save,
        then=lambda unit: redirect("unit", pk=unit.pk),
        page=lambda status: render(request, "units/new/unit_new.html", context, status=status),
    )
