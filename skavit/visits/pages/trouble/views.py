"""What the customer says on the telephone, and what is likely wrong."""

from http import HTTPStatus
from typing import Any

from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_GET

from skavit.crews.access import members
from skavit.crews.request import CrewRequest
from skavit.server.now import today_at
from skavit.units.computing import leave_large
from skavit.units.pages.side_page import side_page
from skavit.units.selectors import unit_of
from skavit.visits.pages.trouble.forms import LooksForm
from skavit.visits.pages.trouble.page import causes_found
from skavit.visits.pages.trouble.record import happened_to
from skavit.visits.pages.trouble.said import SaidForm


@members
@require_GET
def trouble(request: CrewRequest, pk: int) -> HttpResponse:
    """Looks typed in, and their causes; while somebody types the answer alone."""
    unit = unit_of(request.crew, pk)
    form = LooksForm(request.GET or None, plan=unit.plan, today=today_at(unit.plan.site, request.now))
    said = SaidForm(request.GET if request.GET.get("say") else None, plan=unit.plan, today=form.today)
    if said.is_bound and said.is_valid():
        return redirect(f"{request.path}?{form.written_down(said.looks()).urlencode()}")
    context: dict[str, Any] = {"form": form, "said": said, "unit": unit}
    if form.is_bound and form.is_valid() and (looks := form.looks()):
        leave_large(unit.plan)
        kind = unit.core_kind
        has_date = kind is None or kind.clock.has_date
        context["found"] = causes_found(
            unit.plan, looks, request.words, has_date=has_date, happened=happened_to(unit, request.now)
        )
    if request.htmx and not request.htmx.boosted:
        return render(request, "visits/trouble/_causes.html", context)
    refused = form.is_bound and not form.is_valid()
    status = HTTPStatus.UNPROCESSABLE_ENTITY if refused else HTTPStatus.OK
    return side_page(request, "visits/trouble/trouble.html", unit, "", context, status)
