"""What is done on the page of a unit that switches beside its rows: channels, usual programs, the PIN."""

from functools import partial
from http import HTTPStatus

from django.http import Http404, HttpResponse
from django.views.decorators.http import require_POST

from skavit.core.plan import edits
from skavit.core.plan.usual_programs import usual_program
from skavit.crews.access import editors
from skavit.crews.request import CrewRequest
from skavit.switching.pages.unit.forms import ChannelForm
from skavit.units.pages.unit.page_actions import apply, edit_unit, show
from skavit.units.selectors import unit_of
from skavit.units.services import revisions, units


@editors
@require_POST
def channel_save(request: CrewRequest, pk: int, channel: int | None = None) -> HttpResponse:
    """Add a channel, or rename one."""
    unit = unit_of(request.crew, pk)
    form = ChannelForm(request.POST)
    place = "channel-new" if channel is None else f"channel-{channel}"
    if not form.is_valid():
        return show(request, unit, forms={place: form}, status=HTTPStatus.UNPROCESSABLE_ENTITY)
    name, base, now = form.cleaned_data["name"], form.cleaned_data["revision"], request.now

    def save() -> object:
        if channel is None:
            return units.add_channel(unit, request.membership, base, name, now=now)
        change = partial(edits.rename_channel, channel=channel, name=name)
        return revisions.edit(unit, request.membership, base, change, f"channel {channel} renamed", now=now)

    return apply(request, unit, save, forms={place: form})


@editors
@require_POST
def channel_copy(request: CrewRequest, pk: int, channel: int) -> HttpResponse:
    """One more channel that is wanted and keyed as this one."""
    unit = unit_of(request.crew, pk)
    name = next((c.name for n, c in enumerate(unit.plan.channels, start=1) if n == channel), "")
    change = partial(edits.copy_channel, channel=channel, name=f"{name} copy"[:80])
    return edit_unit(request, unit, change, f"channel {channel} copied")


@editors
@require_POST
def channel_remove(request: CrewRequest, pk: int, channel: int) -> HttpResponse:
    """Take a channel out, with its windows and entries."""
    unit = unit_of(request.crew, pk)
    return edit_unit(request, unit, partial(edits.remove_channel, channel=channel), f"channel {channel} removed")


@editors
@require_POST
def usual_program_add(request: CrewRequest, pk: int, channel: int) -> HttpResponse:
    """The windows of a usual program, added to a channel's."""
    chosen = usual_program(request.POST.get("program", ""))
    if chosen is None:
        raise Http404
    change = partial(edits.add_windows, channel=channel, windows=chosen.windows)
    return edit_unit(request, unit_of(request.crew, pk), change, f"usual program: {chosen.name}")


@editors
@require_POST
def pin(request: CrewRequest, pk: int) -> HttpResponse:
    """What is known of the unit's PIN; never the PIN itself."""
    known = {"factory": "factory", "set": "set"}.get(request.POST.get("pin", ""))
    change = partial(edits.with_pin, pin=known)
    return edit_unit(request, unit_of(request.crew, pk), change, "PIN looked at")
