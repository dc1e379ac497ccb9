"""What is due: the list, a month, a day in the van; and visits planned."""

from http import HTTPStatus

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.utils.http import url_has_allowed_host_and_scheme
from django.views.decorators.http import require_GET, require_http_methods

from skavit.crews.access import editors, members
from skavit.crews.request import CrewRequest
from skavit.due.forms import PlanForm
from skavit.due.page import day_page, due_page, month_page
from skavit.due.selectors import Asked, date_asked, today_of
from skavit.due.services.planning import plan_visit
from skavit.now import today_at
from skavit.units.pages.posted import number
from skavit.units.selectors import unit_of
from skavit.web.page import shown


@members
@require_GET
def due(request: CrewRequest) -> HttpResponse:
    """What is due, by date; for htmx the rows alone."""
    today = today_of(request.crew, request.now)
    page = due_page(request.crew, Asked.of(request.GET), request.words, today)
    part = request.htmx and not request.htmx.boosted
    return render(request, "due/_rows.html" if part else "due/due.html", shown(page))


@members
@require_GET
def month(request: CrewRequest) -> HttpResponse:
    """A month of what is due."""
    today = today_of(request.crew, request.now)
    found = month_page(request.crew, date_asked(request.GET.get("month", ""), today), request.words, today)
    return render(request, "due/month.html", shown(found))


@members
@require_GET
def day(request: CrewRequest) -> HttpResponse:
    """A day in the van, by distance."""
    date = date_asked(request.GET.get("date", ""), today_of(request.crew, request.now))
    page = day_page(
        request.crew, date, max(number(request.GET, "person"), 0), number(request.GET, "start"), request.words
    )
    return render(request, "due/day.html", shown(page))


@editors
@require_http_methods(["GET", "POST"])
def plan(request: CrewRequest, pk: int) -> HttpResponse:
    """Plan a visit to a unit, or take back what was planned."""
    unit = unit_of(request.crew, pk)
    planned = getattr(unit, "planned", None)
    today = today_at(unit.site.place, request.now)
    initial = {"person": planned.person_id, "date": planned.date, "note": planned.note} if planned else None
    form = PlanForm(request.POST or None, initial=initial, crew=request.crew, today=today)
    if form.is_bound and form.is_valid():
        plan_visit(unit, request.membership, now=request.now, **form.cleaned_data)
        messages.success(request, "Planned." if any(form.cleaned_data.values()) else "Nothing is planned any more.")
        back = request.POST.get("back", "")
        safe = url_has_allowed_host_and_scheme(back, {request.get_host()}, require_https=request.is_secure())
        return redirect(back if safe else "due")
    status = HTTPStatus.UNPROCESSABLE_ENTITY if form.is_bound else HTTPStatus.OK
    return render(request, "due/plan.html", {"unit": unit, "form": form, "planned": planned}, status=status)
