"""The list of what is due."""

from django.http import HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_GET

from skavit.crews.access import members
from skavit.crews.request import CrewRequest
from skavit.due.pages.listed.page import due_page
from skavit.due.selectors import Asked, today_of
from skavit.web.page import shown


@members
@require_GET
def due(request: CrewRequest) -> HttpResponse:
    """What is due, by date; for htmx the rows alone."""
    today = today_of(request.crew, request.now)
    page = due_page(request.crew, Asked.of(request.GET), request.words, today)
    part = request.htmx and not request.htmx.boosted
    return render(request, "due/_rows.html" if part else "due/due.html", shown(page))
