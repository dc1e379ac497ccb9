"""Pages around a plan's programs: other ways to fit, holidays, keyings, hand-over."""

from dataclasses import replace
from functools import partial

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from skavit.core.ground.errors import SkavitError
from skavit.core.ground.strict_json import Node
from skavit.core.plan import edits
from skavit.core.plan.days import dated_form, read_dated
from skavit.core.plan.holidays import Holiday
from skavit.core.plan.keyings import Keying
from skavit.core.text.typed import dated_words
from skavit.crews.access import editors, members
from skavit.units import long_work, programs, selectors, services
from skavit.units.view import words_of
from skavit.units.work import UNPROCESSABLE, edit_unit, number, revision, to_job


@members
@require_GET
def fits(request: HttpRequest, pk: int) -> HttpResponse:
    """What the unit could hold, side by side."""
    unit = selectors.unit_of(request.crew, pk)
    return render(request, "units/fits.html", programs.fits_page(unit, words_of(request)))


@editors
@require_POST
def fits_ask(request: HttpRequest, pk: int) -> HttpResponse:
    """Work out what the unit could hold; at once to the page where that was done before."""
    unit = selectors.unit_of(request.crew, pk)
    if long_work.ways_of(unit) is not None:
        return redirect("fits", pk=pk)
    return to_job(request, lambda: long_work.ask_ways(unit, request.membership))


@editors
@require_POST
def fit_take(request: HttpRequest, pk: int) -> HttpResponse:
    """Key one of the ways to fit."""
    unit = selectors.unit_of(request.crew, pk)
    chosen = programs.way_of(unit, number(request.POST, "way"))
    if chosen is None:
        raise Http404
    return edit_unit(request, pk, lambda _: chosen, "entries fitted, one of several ways")


@editors
@require_http_methods(["GET", "POST"])
def holidays(request: HttpRequest, pk: int) -> HttpResponse:
    """The dates on which no entry acts: public holidays to tick, and others typed."""
    unit = selectors.unit_of(request.crew, pk)
    asked = request.POST or request.GET
    page = programs.holidays_page(unit, asked.get("country", ""), asked.get("region", ""))
    if request.method != "POST":
        return render(request, "units/holidays.html", page)
    try:
        found = _chosen_holidays(request, page["keyed"])
        services.edit(
            unit, request.membership, revision(request.POST), partial(edits.set_holidays, holidays=found), "holidays"
        )
    except (SkavitError, services.StaleEdit) as error:
        ticked = set(request.POST.getlist("holiday"))
        rows = [replace(row, chosen=row.key in ticked) for row in page["rows"]]
        typed = {"own": request.POST.get("own", ""), "refused": str(error), "rows": rows}
        return render(request, "units/holidays.html", page | typed, status=UNPROCESSABLE)
    return redirect("unit", pk=pk)


def _chosen_holidays(request: HttpRequest, keyed: dict[str, tuple[Holiday, ...]]) -> tuple[Holiday, ...]:
    """The holidays ticked (``keyed`` by their names) and typed. Raises :class:`PlanError` for a date that is none."""
    ticked = request.POST.getlist("holiday")
    chosen = [holiday for name, own in keyed.items() if name in ticked for holiday in own]
    for index, part in enumerate(filter(None, (p.strip() for p in request.POST.get("own", "").split(";")))):
        words, _, days = part.partition(" for ")
        start = (dated_words(words) or [words])[0]
        days = days.strip() or "1"
        raw = {"from": start, "days": int(days) if days.isascii() and days.isdigit() and len(days) < 5 else days}
        chosen.append(Holiday.read(Node(raw, f"other dates[{index}]")))
    return tuple(dict.fromkeys(chosen))


@members
@require_GET
def keyings(request: HttpRequest, pk: int) -> HttpResponse:
    """The sets of entries that are keyed with the seasons."""
    unit = selectors.unit_of(request.crew, pk)
    return render(request, "units/keyings.html", programs.keyings_page(unit, words_of(request)))


@editors
@require_POST
def keying_add(request: HttpRequest, pk: int) -> HttpResponse:
    """Another set from a date on, begun as a copy of the last one."""
    unit = selectors.unit_of(request.crew, pk)
    typed, name = request.POST.get("from", ""), request.POST.get("name", "").strip()[:80]
    try:
        start = read_dated(Node((dated_words(typed) or [typed])[0], "from"))
        copied = unit.plan.unit.sets[-1]
        keying = Keying(start=start, name=name, entries=tuple(replace(entry, id=None) for entry in copied))
        change = partial(edits.add_keying, keying=keying)
        services.edit(unit, request.membership, revision(request.POST), change, f"keyed anew from {dated_form(start)}")
    except (SkavitError, services.StaleEdit) as error:
        page = programs.keyings_page(unit, words_of(request))
        typed_back = {"refused": str(error), "from": typed, "name": name}
        return render(request, "units/keyings.html", page | typed_back, status=UNPROCESSABLE)
    messages.success(request, "Begun as a copy. Change its slots under Keyed in.")
    return redirect(f"{reverse('unit', args=[pk])}?keying={len(unit.plan.unit.keyings)}")


@editors
@require_POST
def keying_remove(request: HttpRequest, pk: int, keying: int) -> HttpResponse:
    """Take a set of entries out."""
    return edit_unit(request, pk, partial(edits.remove_keying, keying=keying), "keying removed")


@members
@require_GET
def handover(request: HttpRequest, pk: int) -> HttpResponse:
    """The moment of leaving."""
    unit = selectors.unit_of(request.crew, pk)
    return render(request, "units/handover.html", programs.handover_page(unit, words_of(request)))
