"""Pages and actions of a unit: each parses, authorises, calls one service, and shows the work region anew."""

import json
from functools import partial

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils.text import slugify
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from skavit.bounds import IMPORT_AT_ONCE_BYTES, STEPS_AT_ONCE
from skavit.core.formats.schema import plan_schema
from skavit.core.ground.budget import Budget
from skavit.core.ground.errors import SkavitError
from skavit.core.plan import edits
from skavit.crews.access import editors, members
from skavit.kinds import selectors as kinds
from skavit.now import this_year
from skavit.sites.models import Site
from skavit.units import long_work, selectors, services
from skavit.units.forms import BehaviourForm, ChannelForm, ImportForm, SunForm, UnitForm
from skavit.units.nights import night as night_of
from skavit.units.results import unit_year
from skavit.units.rows import form_at
from skavit.units.view import chosen_view, words_of
from skavit.units.work import UNPROCESSABLE, after, apply, edit_unit, number, revision, show, to_job


@members
@require_GET
def unit_page(request: HttpRequest, pk: int) -> HttpResponse:
    """The unit: label strip, year sheet, findings, wanted and keyed in; ``?edit=`` opens the form of a row."""
    unit = selectors.unit_of(request.crew, pk)
    place = request.GET.get("edit", "")
    keying = chosen_view(unit.plan, request.GET).keying
    forms = {place: form_at(place, unit.plan, unit.head.number, words_of(request), None, keying)} if place else None
    return show(request, unit, forms=forms)


@members
@require_GET
def night(request: HttpRequest, pk: int) -> HttpResponse:
    """The cursor's night alone."""
    unit = selectors.unit_of(request.crew, pk)
    view = chosen_view(unit.plan, request.GET)
    words = words_of(request)
    context = night_of(unit_year(unit.plan, view.year, words), view, words)
    return render(request, "units/_night.html", {**context, "unit": unit, "view": view, "oob": True})


@editors
@require_http_methods(["GET", "POST"])
def unit_new(request: HttpRequest, site_pk: int) -> HttpResponse:
    """A new unit at a site."""
    site = get_object_or_404(Site, crew=request.crew, pk=site_pk)
    form = UnitForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        typed = {name: form.cleaned_data[name] for name in ("name", "whereabouts")}
        try:
            unit = services.create_unit(request.membership, site, **typed, channels=form.channels())
        except services.NameTaken as error:
            form.add_error("name", str(error))
        else:
            return redirect("unit", pk=unit.pk)
    status = UNPROCESSABLE if form.is_bound else 200
    return render(request, "units/unit_new.html", {"site": site, "form": form}, status=status)


@editors
@require_POST
def fit(request: HttpRequest, pk: int) -> HttpResponse:
    """Make the entries from the windows, and say what is lost."""
    unit = selectors.unit_of(request.crew, pk)
    base, had_keyings = revision(request.POST), bool(unit.plan.unit.keyings)

    def action() -> None:
        year = this_year(unit.site.place)
        made, losses = services.fit_entries(unit, request.membership, base, year, Budget(STEPS_AT_ONCE))
        if had_keyings:
            messages.info(request, "One set of entries for the whole year: the keyings were taken out.")
        for line in long_work.fit_lines(made.plan, losses):
            messages.add_message(request, messages.WARNING if losses else messages.SUCCESS, line)

    try:
        return apply(request, unit, action)
    except services.TooLong:
        return to_job(request, lambda: long_work.ask_fit(unit, request.membership, base))


@editors
@require_POST
def remedy(request: HttpRequest, pk: int) -> HttpResponse:
    """Take a finding's remedy."""
    unit = selectors.unit_of(request.crew, pk)
    view = chosen_view(unit.plan, request.POST)
    label, keying = request.POST.get("label", ""), max(number(request.POST, "of"), 0)
    return apply(
        request,
        unit,
        lambda: services.apply_remedy(unit, request.membership, revision(request.POST), view.year, label, keying),
    )


@editors
@require_POST
def undo(request: HttpRequest, pk: int) -> HttpResponse:
    """Undo the last change."""
    unit = selectors.unit_of(request.crew, pk)
    return apply(request, unit, lambda: services.undo(unit, request.membership, revision(request.POST)))


@editors
@require_POST
def redo(request: HttpRequest, pk: int) -> HttpResponse:
    """Redo what was undone."""
    unit = selectors.unit_of(request.crew, pk)
    return apply(request, unit, lambda: services.redo(unit, request.membership, revision(request.POST)))


@editors
@require_POST
def channel_save(request: HttpRequest, pk: int, channel: int | None = None) -> HttpResponse:
    """Add a channel, or rename one."""
    unit = selectors.unit_of(request.crew, pk)
    form = ChannelForm(request.POST)
    place = "channel-new" if channel is None else f"channel-{channel}"
    if not form.is_valid():
        return show(request, unit, forms={place: form}, status=UNPROCESSABLE)
    name, base = form.cleaned_data["name"], form.cleaned_data["revision"]
    if channel is None:
        return apply(
            request, unit, lambda: services.add_channel(unit, request.membership, base, name), forms={place: form}
        )
    return edit_unit(request, pk, lambda plan: edits.rename_channel(plan, channel, name), f"channel {channel} renamed")


@editors
@require_POST
def channel_copy(request: HttpRequest, pk: int, channel: int) -> HttpResponse:
    """One more channel that is wanted and keyed as this one."""
    unit = selectors.unit_of(request.crew, pk)
    name = next((c.name for n, c in enumerate(unit.plan.channels, start=1) if n == channel), "")
    change = partial(edits.copy_channel, channel=channel, name=f"{name} copy"[:80])
    return edit_unit(request, pk, change, f"channel {channel} copied")


@editors
@require_POST
def channel_remove(request: HttpRequest, pk: int, channel: int) -> HttpResponse:
    """Take a channel out, with its windows and entries."""
    return edit_unit(request, pk, lambda plan: edits.remove_channel(plan, channel), f"channel {channel} removed")


def _settings(request: HttpRequest, pk: int, form_class: type[BehaviourForm | SunForm], title: str) -> HttpResponse:
    """A page with one form about the unit itself; what was typed stays where it is refused."""
    unit = selectors.unit_of(request.crew, pk)
    form = form_class.showing(unit.plan, unit.head.number)
    if request.method == "POST":
        form = form_class(request.POST, plan=unit.plan)
        if form.is_valid():
            try:
                services.edit(unit, request.membership, form.cleaned_data["revision"], form.edit, form.note)
            except services.StaleEdit as stale:
                form.add_error(None, str(stale))
                form.data = form.data.copy()
                form.data["revision"] = str(stale.now.number)
            except SkavitError as error:
                form.add_error(None, str(error))
            else:
                return redirect("unit", pk=unit.pk)
    status = UNPROCESSABLE if form.is_bound else 200
    return render(request, "units/behaviour.html", {"unit": unit, "form": form, "title": title}, status=status)


@editors
@require_http_methods(["GET", "POST"])
def kind(request: HttpRequest, pk: int) -> HttpResponse:
    """What kind of device the unit is."""
    unit = selectors.unit_of(request.crew, pk)
    listed = [*kinds.own_kinds(request.crew), *kinds.shipped()]
    chosen = next((found for found in listed if found.reference == request.POST.get("kind")), None)
    refused = "No kind was chosen. Accepted: one of the list." if request.method == "POST" and not chosen else ""
    if chosen:
        own = kinds.own_kind(request.crew, chosen.own) if chosen.own else None
        try:
            services.choose_kind(unit, request.membership, revision(request.POST), chosen.kind, own)
        except (SkavitError, services.StaleEdit) as error:
            refused = str(error)
        else:
            messages.success(
                request, f"{chosen.kind.name}: the plan keeps to its limits. Fit again if entries stand here."
            )
            return redirect("unit", pk=pk)
    context = {"unit": unit, "listed": listed, "chosen": unit.core_kind, "refused": refused}
    return render(request, "units/kind.html", context, status=UNPROCESSABLE if refused else 200)


@editors
@require_http_methods(["GET", "POST"])
def behaviour(request: HttpRequest, pk: int) -> HttpResponse:
    """The unit's clock, its way back to automatic, and its memory."""
    return _settings(request, pk, BehaviourForm, "Clock and memory")


@editors
@require_http_methods(["GET", "POST"])
def sun(request: HttpRequest, pk: int) -> HttpResponse:
    """Where the unit takes its sun times from."""
    return _settings(request, pk, SunForm, "Sun")


@members
@require_GET
def export(request: HttpRequest, pk: int) -> HttpResponse:
    """The plan file."""
    unit = selectors.unit_of(request.crew, pk)
    text = json.dumps(unit.plan.to_json(), indent=2, ensure_ascii=False)
    response = HttpResponse(text + "\n", content_type="application/json; charset=utf-8")
    name = slugify(f"{unit.site.name} {unit.name}") or "plan"
    response["Content-Disposition"] = f'attachment; filename="{name}.json"'
    return response


@editors
@require_POST
def import_plan(request: HttpRequest, pk: int) -> HttpResponse:
    """Take the unit and the channels of a plan file."""
    unit = selectors.unit_of(request.crew, pk)
    form = ImportForm(request.POST, request.FILES)
    if not form.is_valid():
        return show(request, unit, forms={"import": form}, status=UNPROCESSABLE)
    data, base = form.cleaned_data["file"].read(), form.cleaned_data["revision"]
    if len(data) > IMPORT_AT_ONCE_BYTES:
        return to_job(request, lambda: long_work.ask_import(unit, request.membership, base, data))
    try:
        services.import_plan(unit, request.membership, base, data)
    except (SkavitError, services.StaleEdit) as error:
        form.add_error("file", str(error))
        return show(request, unit, forms={"import": form}, status=UNPROCESSABLE)
    messages.success(request, services.IMPORTED)
    return after(request, unit)


@members
@require_GET
def schema(request: HttpRequest) -> HttpResponse:
    """The JSON Schema of the plan file."""
    return HttpResponse(json.dumps(plan_schema(), indent=2), content_type="application/schema+json")
