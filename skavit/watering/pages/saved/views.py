"""What the year uses beside other ways of watering."""

from django.http import HttpResponse
from django.views.decorators.http import require_GET

from skavit.core.trades import WATERING
from skavit.crews.access import members
from skavit.crews.request import CrewRequest
from skavit.units.pages.side_page import side_page
from skavit.units.pages.view import chosen_view
from skavit.units.selectors import unit_of_trade
from skavit.watering.pages.saved.page import saved_page


@members
@require_GET
def saved(request: CrewRequest, pk: int) -> HttpResponse:
    """What the year uses beside other ways of watering, in litres, dry days and money."""
    unit = unit_of_trade(request.crew, pk, WATERING)
    view = chosen_view(unit.plan, request.GET, request.now)
    return side_page(
        request,
        "watering/saved.html",
        unit,
        "checked",
        {"page": saved_page(unit, view.year, request.words), "view": view},
    )
