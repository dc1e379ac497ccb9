"""What kind of device a unit is, its clock and memory, and its sun."""

from http import HTTPStatus

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect
from django.views.decorators.http import require_http_methods

from skavit.core.ground.errors import UserError
from skavit.core.plan.document import Plan
from skavit.core.text.error_text import error_text
from skavit.core.trades import SWITCHING
from skavit.crews.access import editors
from skavit.crews.request import CrewRequest
from skavit.kinds import selectors as kinds
from skavit.sites.selectors import sites_of
from skavit.units.pages.post_data import revision
from skavit.units.pages.settings.forms import BehaviourForm, SunForm, UnitEditForm
from skavit.units.pages.side_page import save_side_page, side_page
from skavit.units.selectors import unit_of
from skavit.units.services import units
from skavit.web.errors import status_of
from skavit.web.saving import save_form
from skavit.web.typed_fields import in_words


def _settings(request: CrewRequest, pk: int, form_class: type[BehaviourForm | SunForm], title: str) -> HttpResponse:
    """A page with one form about the unit itself; what was typed stays where it is refused."""
    unit = unit_of(request.crew, pk)
    form = form_class.showing(unit.plan, unit.head_revision.number, unit.core_kind)
    in_words(form, request.words)
    if request.method == "POST":
        form = form_class(request.POST, plan=unit.plan, kind=unit.core_kind)
        in_words(form, request.words)
    template = "units/settings/behaviour.html"
    return save_side_page(request, unit, form, form.note, template, "clock", {"form": form, "title": title})


@editors
@require_http_methods(["GET", "POST"])
def unit_edit(request: CrewRequest, pk: int) -> HttpResponse:
    """What the unit is called, where it hangs, at which site; and archiving or removing it."""
    unit = unit_of(request.crew, pk)
    shown = {"name": unit.name, "whereabouts": unit.whereabouts, "site": unit.site_id}
    form = UnitEditForm(request.POST or None, initial=shown, sites=sites_of(request.crew))

    def page(status: HTTPStatus) -> HttpResponse:
        # The page shows the kept name, not the refused one.
        there = unit_of(request.crew, pk) if form.is_bound else unit
        return side_page(request, "units/settings/unit_edit.html", there, "", {"form": form}, status)

    return save_form(
        form,
        lambda: units.change_unit(request.membership, unit, **form.cleaned_data, now=request.now),
        then=lambda _: redirect("unit", pk=pk),
        page=page,
    )


@editors
@require_http_methods(["GET", "POST"])
def kind(request: CrewRequest, pk: int) -> HttpResponse:
    """What kind of device the unit is."""
    unit = unit_of(request.crew, pk)
    listed = [found for found in (*kinds.own_kinds(request.crew), *kinds.shipped()) if _may_be(unit.plan, found)]
    chosen = next((found for found in listed if found.reference == request.POST.get("kind")), None)
    refused, status = "", HTTPStatus.OK
    if request.method == "POST" and not chosen:
        refused, status = "No kind was chosen. Accepted: one of the list.", HTTPStatus.UNPROCESSABLE_ENTITY
    if chosen:
        own = kinds.own_kind(request.crew, chosen.own) if chosen.own else None
        try:
            units.choose_kind(unit, request.membership, revision(request.POST), chosen.kind, own, now=request.now)
        except UserError as error:
            refused, status = error_text(error), status_of(error)
            unit = unit_of(request.crew, pk)
        else:
            messages.success(
                request, f"{chosen.kind.name}: the plan keeps to its limits. Fit again if entries stand here."
            )
            return redirect("unit", pk=pk)
    context = {"listed": listed, "chosen": unit.core_kind, "refused": refused}
    return side_page(request, "units/settings/kind.html", unit, "kind", context, status)


def _may_be(plan: Plan, found: kinds.Listed) -> bool:
    """Whether a unit of this plan can be of a kind: one that switches nothing yet may become any."""
    if plan.trade is not SWITCHING or plan.unit.all_entries or any(channel.windows for channel in plan.channels):
        return found.trade is plan.trade
    return True


@editors
@require_http_methods(["GET", "POST"])
def behaviour(request: CrewRequest, pk: int) -> HttpResponse:
    """The unit's clock, its way back to automatic, and its memory."""
    return _settings(request, pk, BehaviourForm, "Clock and memory")


@editors
@require_http_methods(["GET", "POST"])
def sun(request: CrewRequest, pk: int) -> HttpResponse:
    """Where the unit takes its sun times from."""
    return _settings(request, pk, SunForm, "Sun")
