"""The list of a day."""

from django.http import HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_GET

from skavit.crews.access import members
from skavit.crews.request import CrewRequest
from skavit.due.pages.day.page import day_page
from skavit.due.selectors import date_asked, today_of
from skavit.units.pages.post_data import number
from skavit.web.page import shown


@members
@require_GET
def day(request: CrewRequest) -> HttpResponse:
    """A day in the van, by distance."""
    date = date_asked(request.GET.get("date", ""), today_of(request.crew, request.now))
    page = day_page(
        request.crew, date, max(number(request.GET, "person"), 0), number(request.GET, "start"), request.words
    )
    return render(request, "due/day.html", shown(page))
