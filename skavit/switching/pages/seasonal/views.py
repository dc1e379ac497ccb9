"""The sets of entries that are keyed with the seasons."""

from dataclasses import replace
from functools import partial

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect
from django.urls import reverse
from django.views.decorators.http import require_GET, require_POST

from skavit.core.ground.errors import UserError
from skavit.core.ground.strict_json import Node
from skavit.core.plan import edits
from skavit.core.plan.days import dated_form, read_dated
from skavit.core.plan.seasonal import SeasonalProgram
from skavit.core.text.error_text import error_text
from skavit.core.text.typed import dated_words
from skavit.crews.access import editors, members
from skavit.crews.request import CrewRequest
from skavit.switching.pages.seasonal.page import seasonal_page
from skavit.units.pages.post_data import revision
from skavit.units.pages.side_page import side_page
from skavit.units.pages.unit.page_actions import edit_unit
from skavit.units.selectors import unit_of
from skavit.units.services import revisions
from skavit.web.errors import status_of
from skavit.web.page import shown


@members
@require_GET
def keyings(request: CrewRequest, pk: int) -> HttpResponse:
    """The sets of entries that are keyed with the seasons."""
    unit = unit_of(request.crew, pk)
    return side_page(
        request, "switching/seasonal/seasonal.html", unit, "keyed", shown(seasonal_page(unit, request.words))
    )


@editors
@require_POST
def keying_add(request: CrewRequest, pk: int) -> HttpResponse:
    """Another set from a date on, begun as a copy of the last one."""
    unit = unit_of(request.crew, pk)
    typed, name = request.POST.get("from", ""), request.POST.get("name", "").strip()[:80]
    try:
        start = read_dated(Node((dated_words(typed) or [typed])[0], "from"))
        copied = unit.plan.unit.sets[-1]
        keying = SeasonalProgram(start=start, name=name, entries=tuple(replace(entry, id=None) for entry in copied))
        change = partial(edits.add_keying, keying=keying)
        note, base = f"keyed anew from {dated_form(start)}", revision(request.POST)
        revisions.edit(unit, request.membership, base, change, note, now=request.now)
    except UserError as error:
        unit = unit_of(request.crew, pk)
        page = replace(seasonal_page(unit, request.words), refused=error_text(error), start=typed, name=name)
        return side_page(request, "switching/seasonal/seasonal.html", unit, "keyed", shown(page), status_of(error))
    messages.success(request, "Begun as a copy. Change its slots under Keyed in.")
    return redirect(f"{reverse('unit', args=[pk])}?keying={len(unit.plan.unit.keyings)}")


@editors
@require_POST
def keying_remove(request: CrewRequest, pk: int, keying: int) -> HttpResponse:
    """Take a set of entries out."""
    return edit_unit(request, unit_of(request.crew, pk), partial(edits.remove_keying, keying=keying), "keying removed")
