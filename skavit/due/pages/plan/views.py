"""Planning a visit to a unit."""

from http import HTTPStatus

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.utils.http import url_has_allowed_host_and_scheme
from django.views.decorators.http import require_http_methods

from skavit.crews.access import editors
from skavit.crews.request import CrewRequest
from skavit.due.pages.plan.forms import PlanForm
from skavit.due.services.planning import plan_visit
from skavit.server.now import today_at
from skavit.units.selectors import unit_of


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
