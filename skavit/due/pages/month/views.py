"""The sheet of a month."""

from django.http import HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_GET

from skavit.crews.access import members
from skavit.crews.request import CrewRequest
from skavit.due.pages.month.page import month_page
from skavit.due.selectors import date_asked, today_of
from skavit.web.page import shown


@members
@require_GET
def month(request: CrewRequest) -> HttpResponse:
    """A month of what is due."""
    today = today_of(request.crew, request.now)
    found = month_page(request.crew, date_asked(request.GET.get("month", ""), today), request.words, today)
    return render(request, "due/month.html", shown(found))
