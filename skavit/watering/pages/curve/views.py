"""A year that the controller has built in."""

from http import HTTPStatus

from django.http import Http404, HttpResponse
from django.views.decorators.http import require_GET

from skavit.core.trades import WATERING
from skavit.crews.access import members
from skavit.crews.request import CrewRequest
from skavit.units.pages.side_page import side_page
from skavit.units.selectors import unit_of_trade
from skavit.watering.pages.curve.page import CurveForm, curve_page


@members
@require_GET
def curve(request: CrewRequest, pk: int) -> HttpResponse:
    """A year that the controller has built in."""
    unit = unit_of_trade(request.crew, pk, WATERING)
    has = unit.core_kind.watering if unit.core_kind else None
    if has is None or not has.curves:
        raise Http404(pk)
    form = CurveForm(request.GET or None, has=has, initial={"minutes": 20, "budget": 100})
    context = {"form": form, "page": curve_page(unit, has, form)}
    status = HTTPStatus.UNPROCESSABLE_ENTITY if form.is_bound and not form.is_valid() else HTTPStatus.OK
    return side_page(request, "watering/curve.html", unit, "keyed", context, status)
