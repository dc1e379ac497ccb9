"""The week in which a unit waters most."""

from django.http import HttpResponse
from django.views.decorators.http import require_GET

from skavit.core.trades import WATERING
from skavit.core.water.peak_week import PeakWeek, peak_week
from skavit.core.water.stack import stack
from skavit.crews.access import members
from skavit.crews.request import CrewRequest
from skavit.units.computing import unit_year
from skavit.units.models import Unit
from skavit.units.pages.side_page import side_page
from skavit.units.pages.view import chosen_view
from skavit.units.selectors import unit_of_trade
from skavit.watering.pages.peak.page import peak_page, peak_table
from skavit.web.tables import csv_answer


def _week(unit: Unit, year: int) -> PeakWeek | None:
    found = stack(unit_year(unit.plan, year).replay)
    return None if found is None else peak_week(found)


@members
@require_GET
def peak(request: CrewRequest, pk: int) -> HttpResponse:
    """The peak week, to hand over and to check on site."""
    unit = unit_of_trade(request.crew, pk, WATERING)
    view = chosen_view(unit.plan, request.GET, request.now)
    week = _week(unit, view.year)
    context = {"page": peak_page(week, request.words) if week else None, "view": view}
    return side_page(request, "watering/peak.html", unit, "checked", context)


@members
@require_GET
def peak_csv(request: CrewRequest, pk: int) -> HttpResponse:
    """The same as a table."""
    unit = unit_of_trade(request.crew, pk, WATERING)
    year = chosen_view(unit.plan, request.GET, request.now).year
    week = _week(unit, year)
    return csv_answer(peak_table(week), unit.site, unit.name, "peak-week", year)
