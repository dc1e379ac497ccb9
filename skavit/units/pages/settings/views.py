"""What kind of device a unit is, its clock and memory, and its sun."""

from http import HTTPStatus

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect
from django.views.decorators.http import require_http_methods

from skavit.core.ground.errors import SkavitError
from skavit.core.plan.document import Plan
from skavit.core.plan.sorts import Sort
from skavit.core.text.told import told
from skavit.crews.access import editors
from skavit.crews.request import CrewRequest
from skavit.kinds import selectors as kinds
from skavit.sites.selectors import sites_of
from skavit.typed_fields import in_words, with_hidden
from skavit.units.pages.posted import revision
from skavit.units.pages.settings.forms import BehaviourForm, SunForm, UnitEditForm
from skavit.units.pages.side import side
from skavit.units.selectors import unit_of
from skavit.units.services import revisions, units


def _settings(request: CrewRequest, pk: int, form_class: type[BehaviourForm | SunForm], title: str) -> HttpResponse:
    """A page with one form about the unit itself; what was typed stays where it is refused."""
    unit = unit_of(request.crew, pk)
    form = form_class.showing(unit.plan, unit.head_revision.number, unit.core_kind)
    in_words(form, request.words)
    if request.method == "POST":
        form = form_class(request.POST, plan=unit.plan, kind=unit.core_kind)
        in_words(form, request.words)
        if form.is_valid():
            try:
                revisions.edit(
                    unit, request.membership, form.cleaned_data["revision"], form.edit, form.note, now=request.now
                )
            except revisions.StaleEdit as stale:
                form.add_error(None, str(stale))
                with_hidden(form, "revision", stale.now.number)
            except SkavitError as error:
                form.add_error(None, told(error))
            else:
                return redirect("unit", pk=unit.pk)
    status = HTTPStatus.UNPROCESSABLE_ENTITY if form.is_bound else HTTPStatus.OK
    return side(request, "units/settings/behaviour.html", unit, "clock", {"form": form, "title": title}, status)


@editors
@require_http_methods(["GET", "POST"])
def unit_edit(request: CrewRequest, pk: int) -> HttpResponse:
    """What the unit is called, where it hangs, at which site; and archiving or removing it."""
    unit = unit_of(request.crew, pk)
    shown = {"name": unit.name, "whereabouts": unit.whereabouts, "site": unit.site_id}
    form = UnitEditForm(request.POST or None, initial=shown, sites=sites_of(request.crew))
    if request.method == "POST" and form.is_valid():
        try:
            units.change_unit(request.membership, unit, **form.cleaned_data, now=request.now)
        except units.NameTaken as error:
            form.add_error("name", str(error))
        else:
            return redirect("unit", pk=pk)
    status = HTTPStatus.UNPROCESSABLE_ENTITY if form.is_bound else HTTPStatus.OK
    # The name that stands is told, not the one that was refused.
    unit = unit_of(request.crew, pk) if form.is_bound else unit
    return side(request, "units/settings/unit_edit.html", unit, "", {"form": form}, status)


@editors
@require_http_methods(["GET", "POST"])
def kind(request: CrewRequest, pk: int) -> HttpResponse:
    """What kind of device the unit is."""
    unit = unit_of(request.crew, pk)
    listed = [found for found in (*kinds.own_kinds(request.crew), *kinds.shipped()) if _may_be(unit.plan, found)]
    chosen = next((found for found in listed if found.reference == request.POST.get("kind")), None)
    refused = "No kind was chosen. Accepted: one of the list." if request.method == "POST" and not chosen else ""
    if chosen:
        own = kinds.own_kind(request.crew, chosen.own) if chosen.own else None
        try:
            units.choose_kind(unit, request.membership, revision(request.POST), chosen.kind, own, now=request.now)
        except (SkavitError, revisions.StaleEdit) as error:
            refused = told(error)
        else:
            messages.success(
                request, f"{chosen.kind.name}: the plan keeps to its limits. Fit again if entries stand here."
            )
            return redirect("unit", pk=pk)
    context = {"listed": listed, "chosen": unit.core_kind, "refused": refused}
    status = HTTPStatus.UNPROCESSABLE_ENTITY if refused else HTTPStatus.OK
    return side(request, "units/settings/kind.html", unit, "kind", context, status)


def _may_be(plan: Plan, found: kinds.Listed) -> bool:
    """Whether a unit of this plan can be of a kind: one that switches nothing yet may become any."""
    if plan.sort != Sort.SWITCHES or plan.unit.all_entries or any(channel.windows for channel in plan.channels):
        return found.sort == plan.sort
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
