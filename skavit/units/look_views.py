"""Looking at a unit: as it was found, and its clock and sun beside what they must show."""

from typing import Any

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_GET, require_POST

from skavit.charts.year_sheet import OFF_THE_SHEET, Mark, year_sheet
from skavit.core.ground.arrays import DAY_S
from skavit.core.ground.errors import SkavitError
from skavit.core.plan.times import day_of
from skavit.core.sheet import date_words, digits_to_set
from skavit.core.text.wording import Words, days_text
from skavit.crews.access import editors, members
from skavit.now import local_digits, now_instant, this_year
from skavit.units import clock_sun, found, selectors, services
from skavit.units.models import AsFound, Unit
from skavit.units.results import unit_year
from skavit.units.rows import numbered
from skavit.units.view import words_of

UNPROCESSABLE = 422


def _today(unit: Unit) -> Any:
    return day_of(local_digits(unit.plan, now_instant()) // DAY_S)


@members
@require_GET
def clock_page(request: HttpRequest, pk: int) -> HttpResponse:
    """The unit's clock and sun; what it shows stands in the address and is answered at once."""
    unit = selectors.unit_of(request.crew, pk)
    plan, instant, words, kind = unit.plan, now_instant(), words_of(request), unit.core_kind
    if request.htmx and request.GET.get("part") == "must":
        return render(request, "units/_must.html", {"must": clock_sun.must_show(plan, kind, instant, words)})
    form = found.ClockForm(request.GET or None, today=_today(unit))
    context: dict[str, Any] = {"unit": unit, "form": form, "revision": unit.head.number}
    if form.is_bound and form.is_valid():
        context |= clock_sun.answers(plan, form, digits_to_set(plan, instant), words)
    if request.htmx:
        return render(request, "units/_clock_answers.html", context)
    return render(request, "units/clock.html", context | clock_sun.page(plan, kind, instant, words))


@editors
@require_POST
def clock_keep(request: HttpRequest, pk: int) -> HttpResponse:
    """Keep a correction, or how far the clock is out, in the plan."""
    unit = selectors.unit_of(request.crew, pk)
    form = found.KeepForm(request.POST)
    if not form.is_valid():
        messages.error(request, "Nothing was sent that could be kept.")
        return redirect("unit-clock", pk=pk)
    try:
        services.edit(unit, request.membership, form.cleaned_data["revision"], form.edit, form.note)
    except (SkavitError, services.StaleEdit) as error:
        messages.error(request, str(error))
        return redirect("unit-clock", pk=pk)
    messages.success(request, "Kept in the plan. The year sheet now runs with it.")
    return redirect("unit", pk=pk)


@members
@require_GET
def as_found(request: HttpRequest, pk: int) -> HttpResponse:
    """What a unit holds and shows, to be written down before anything is reset."""
    unit = selectors.unit_of(request.crew, pk)
    return _found_page(request, unit, found.FoundForm(today=_today(unit), plan=unit.plan))


def _found_page(request: HttpRequest, unit: Unit, form: found.FoundForm) -> HttpResponse:
    words = words_of(request)
    earlier = [(kept, _when(unit, kept, words)) for kept in unit.found.select_related("author")]
    context = {"unit": unit, "form": form, "earlier": earlier}
    return render(request, "units/found.html", context, status=UNPROCESSABLE if form.is_bound else 200)


@editors
@require_POST
def found_keep(request: HttpRequest, pk: int) -> HttpResponse:
    """Write down a unit as found."""
    unit = selectors.unit_of(request.crew, pk)
    form = found.FoundForm(request.POST, today=_today(unit), plan=unit.plan)
    if not form.is_valid():
        return _found_page(request, unit, form)
    kept = services.keep_found(
        unit,
        request.membership,
        shown=form.shown(),
        lines=form.cleaned_data["lines"],
        entries=form.entries,
        instant=now_instant(),
    )
    return redirect("found-look", pk=pk, found_pk=kept.pk)


def _when(unit: Unit, kept: AsFound, words: Words) -> str:
    """When it was looked at, by the site's clock."""
    digits = local_digits(unit.plan, kept.looked_at)
    return f"{date_words(digits)}, {words.minute(digits % DAY_S)}"


def _found_of(unit: Unit, pk: int) -> AsFound:
    return get_object_or_404(AsFound, unit=unit, pk=pk)


@members
@require_GET
def found_look(request: HttpRequest, pk: int, found_pk: int) -> HttpResponse:
    """What a unit as found does all year, and what is wrong with it."""
    unit = selectors.unit_of(request.crew, pk)
    kept, words = _found_of(unit, found_pk), words_of(request)
    plan = found.found_plan(unit.plan, kept)
    year = this_year(plan.site)
    run = unit_year(plan, year, words)
    listed = numbered(run)
    looked = found.look_again(unit.plan, kept, words)
    pictures = []
    for number, channel in enumerate(plan.channels):
        marks = [
            Mark(number=n.number, severity=n.finding.severity.value, dates=n.finding.dates)
            for n in listed
            if n.finding.channel in (None, number + 1)
        ]
        drawn = {"today": None, "cursor": OFF_THE_SHEET, "words": words, "marks": marks}
        windows = [
            f"On from {words.time(w.start)} until {words.time(w.to) if w.to else ''}, {days_text(w.days)}"
            for w in channel.windows
        ]
        sheets = [year_sheet(run.year_of(number), turned=turned, **drawn) for turned in (False, True)]
        pictures.append({"channel": channel, "windows": windows, "sheets": sheets})
    context = {
        "unit": unit,
        "found": kept,
        "when": _when(unit, kept, words),
        "year": year,
        "looked": looked,
        "findings": listed,
        "pictures": pictures,
        "entries": [(e.action.upper(), words.time(e.at), days_text(e.days), e.channels) for e in plan.unit.entries],
        "several": len(plan.channels) > 1,
        "revision": unit.head.number,
        **(clock_sun.table_words(plan.site, looked.table) if looked.table else {}),
    }
    return render(request, "units/found_look.html", context)


@editors
@require_POST
def found_take(request: HttpRequest, pk: int, found_pk: int) -> HttpResponse:
    """Take what was found into the plan."""
    unit = selectors.unit_of(request.crew, pk)
    plan = found.found_plan(unit.plan, _found_of(unit, found_pk))
    try:
        base = int(request.POST.get("revision", "-1"))
        services.take_found(unit, request.membership, base, plan, windows="windows" in request.POST)
    except (ValueError, services.StaleEdit) as error:
        messages.error(request, str(error))
        return redirect("found-look", pk=pk, found_pk=found_pk)
    return redirect("unit", pk=pk)
