"""The unit's clock and sun beside what they must show."""

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_GET, require_POST

from skavit.core.ground.errors import SkavitError
from skavit.core.sheet import digits_to_set
from skavit.core.text.told import told
from skavit.crews.access import editors, members
from skavit.crews.request import CrewRequest
from skavit.now import today_at
from skavit.page import shown
from skavit.typed_fields import in_words
from skavit.units.pages.clock.forms import ClockForm, KeepForm
from skavit.units.pages.clock.page import ClockAnswers, clock_answers, clock_page, must_show
from skavit.units.pages.side import side
from skavit.units.selectors import unit_of
from skavit.units.services import revisions


@members
@require_GET
def clock(request: CrewRequest, pk: int) -> HttpResponse:
    """The unit's clock and sun; what it shows stands in the address and is answered at once."""
    unit = unit_of(request.crew, pk)
    plan, now, words = unit.plan, request.now, request.words
    if request.htmx and request.GET.get("part") == "must":
        return render(request, "units/clock/_must.html", {"must": must_show(plan, unit.core_kind, now, words)})
    form = ClockForm(request.GET or None, today=today_at(plan.site, now))
    in_words(form, request.words)
    answers = ClockAnswers()
    if form.is_bound and form.is_valid():
        answers = clock_answers(plan, form, digits_to_set(plan, now), words)
    if request.htmx:
        context = {"unit": unit, "form": form, "answers": answers, "revision": unit.head_revision.number}
        return render(request, "units/clock/_clock_answers.html", context)
    return side(request, "units/clock/clock.html", unit, "clock", shown(clock_page(unit, form, answers, now, words)))


@editors
@require_POST
def clock_keep(request: CrewRequest, pk: int) -> HttpResponse:
    """Keep a correction, or how far the clock is out, in the plan."""
    unit = unit_of(request.crew, pk)
    form = KeepForm(request.POST)
    if not form.is_valid():
        messages.error(request, "Nothing was sent that could be saved.")
        return redirect("unit-clock", pk=pk)
    try:
        revisions.edit(unit, request.membership, form.cleaned_data["revision"], form.edit, form.note, now=request.now)
    except (SkavitError, revisions.StaleEdit) as error:
        messages.error(request, told(error))
        return redirect("unit-clock", pk=pk)
    runs = (
        "The year sheet runs with it."
        if unit.head_revision.number != form.cleaned_data["revision"]
        else "It ran so already."
    )
    messages.success(request, f"Saved. {runs}")
    return redirect("unit", pk=pk)
