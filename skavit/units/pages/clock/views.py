"""The unit's clock and sun beside what they must show."""

from http import HTTPStatus

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_GET, require_POST

from skavit.core.ground.errors import UserError
from skavit.core.sheet import digits_to_set
from skavit.core.text.error_text import error_text
from skavit.crews.access import editors, members
from skavit.crews.request import CrewRequest
from skavit.server.now import today_at
from skavit.units.models import Unit
from skavit.units.pages.clock.forms import ClockForm, KeepForm
from skavit.units.pages.clock.page import ClockAnswers, clock_answers, clock_page, must_show
from skavit.units.pages.side_page import edit_by, side_page
from skavit.units.selectors import unit_of
from skavit.web.errors import status_of
from skavit.web.page import shown
from skavit.web.typed_fields import in_words


@members
@require_GET
def clock(request: CrewRequest, pk: int) -> HttpResponse:
    """The unit's clock and sun; what it shows is in the address and is answered at once."""
    unit = unit_of(request.crew, pk)
    plan, now, words = unit.plan, request.now, request.words
    if request.htmx and request.GET.get("part") == "must":
        return render(request, "units/clock/_must.html", {"must": must_show(plan, unit.core_kind, now, words)})
    if request.htmx:
        form, answers = _answered(request, unit)
        context = {"unit": unit, "form": form, "answers": answers, "revision": unit.head_revision.number}
        return render(request, "units/clock/_clock_answers.html", context)
    return _page(request, unit)


def _answered(request: CrewRequest, unit: Unit) -> tuple[ClockForm, ClockAnswers]:
    """What the unit shows, read from the address, and what follows from it."""
    plan = unit.plan
    form = ClockForm(request.GET or None, plan=plan, kind=unit.core_kind, today=today_at(plan.site, request.now))
    in_words(form, request.words)
    if not form.is_bound or not form.is_valid():
        return form, ClockAnswers()
    return form, clock_answers(plan, unit.core_kind, form, digits_to_set(plan, request.now), request.words)


def _page(request: CrewRequest, unit: Unit, status: HTTPStatus = HTTPStatus.OK) -> HttpResponse:
    form, answers = _answered(request, unit)
    page = clock_page(unit, form, answers, request.now, request.words)
    return side_page(request, "units/clock/clock.html", unit, "clock", shown(page), status)


@editors
@require_POST
def clock_keep(request: CrewRequest, pk: int) -> HttpResponse:
    """Keep a correction, or how far the clock is out, in the plan."""
    unit = unit_of(request.crew, pk)
    form = KeepForm(request.POST)
    if not form.is_valid():
        messages.error(request, "Nothing was sent that could be saved.")
        return _page(request, unit, HTTPStatus.UNPROCESSABLE_ENTITY)
    try:
        edit_by(request, unit, form, form.note)
    except UserError as error:
        messages.error(request, error_text(error))
        return _page(request, unit_of(request.crew, pk), status_of(error))
    runs = (
        "The year sheet runs with it."
        if unit.head_revision.number != form.cleaned_data["revision"]
        else "It ran so already."
    )
    messages.success(request, f"Saved. {runs}")
    return redirect("unit", pk=pk)
