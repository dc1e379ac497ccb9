"""The dates on which no entry acts."""

from dataclasses import replace
from functools import partial

from django.http import HttpResponse
from django.shortcuts import redirect
from django.views.decorators.http import require_http_methods

from skavit.core.ground.errors import PlanError, UserError
from skavit.core.ground.strict_json import Node
from skavit.core.plan import edits
from skavit.core.plan.days import Holiday
from skavit.core.text.error_text import error_text
from skavit.core.text.typed import dated_words
from skavit.crews.access import editors
from skavit.crews.request import CrewRequest
from skavit.units.pages.holidays.page import holidays_page
from skavit.units.pages.post_data import revision
from skavit.units.pages.side_page import side_page
from skavit.units.selectors import unit_of
from skavit.units.services import revisions
from skavit.web.errors import status_of
from skavit.web.page import shown

OWN_FORM = "24 Dec; 6 Feb 2027; 24 Dec for 10, of days, up to 366"


@editors
@require_http_methods(["GET", "POST"])
def holidays(request: CrewRequest, pk: int) -> HttpResponse:
    """The dates on which no entry acts: public holidays to tick, and others typed."""
    unit = unit_of(request.crew, pk)
    asked = request.POST or request.GET
    page = holidays_page(unit, asked.get("country", ""), asked.get("region", ""), request.now)
    if request.method != "POST":
        return side_page(request, "units/holidays/holidays.html", unit, "keyed", shown(page))
    try:
        found = _chosen_holidays(request, page.keyed)
        change = partial(edits.set_holidays, holidays=found)
        revisions.edit(unit, request.membership, revision(request.POST), change, "holidays", now=request.now)
    except UserError as error:
        unit = unit_of(request.crew, pk)
        page = holidays_page(unit, asked.get("country", ""), asked.get("region", ""), request.now)
        ticked = set(request.POST.getlist("holiday"))
        rows = [replace(row, chosen=row.key in ticked) for row in page.rows]
        page = replace(page, own=request.POST.get("own", ""), refused=error_text(error), rows=rows)
        return side_page(request, "units/holidays/holidays.html", unit, "keyed", shown(page), status_of(error))
    return redirect("unit", pk=pk)


def _chosen_holidays(request: CrewRequest, keyed: dict[str, tuple[Holiday, ...]]) -> tuple[Holiday, ...]:
    """The holidays ticked (``keyed`` by their names) and typed. Raises :class:`PlanError` for a date that is none."""
    ticked = request.POST.getlist("holiday")
    chosen = [holiday for name, own in keyed.items() if name in ticked for holiday in own]
    for part in filter(None, (p.strip() for p in request.POST.get("own", "").split(";"))):
        words, _, days = part.partition(" for ")
        start = (dated_words(words) or [words])[0]
        days = days.strip() or "1"
        raw = {"from": start, "days": int(days) if days.isascii() and days.isdigit() and len(days) < 5 else days}
        try:
            chosen.append(Holiday.read(Node(raw)))
        except PlanError as error:
            raise PlanError("other dates", f"{part!r} is none", OWN_FORM) from error
    return tuple(dict.fromkeys(chosen))
