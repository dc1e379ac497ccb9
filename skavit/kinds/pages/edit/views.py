"""Adjusting one of the crew's kinds, in the forms that show it."""

from functools import partial

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_http_methods

from skavit.core.kinds import Kind as CoreKind
from skavit.core.kinds.likely import changed_keys
from skavit.crews.access import editors
from skavit.crews.request import CrewRequest
from skavit.kinds import selectors, services
from skavit.kinds.models import Kind
from skavit.kinds.pages.edit.contact import ContactForm
from skavit.kinds.pages.edit.document import DocumentForm
from skavit.kinds.pages.edit.forms import KindForm
from skavit.kinds.pages.edit.heating import HeatingForm
from skavit.kinds.pages.edit.keys import KeysForm
from skavit.kinds.pages.edit.memory import MemoryForm
from skavit.kinds.pages.edit.watering import WateringForm
from skavit.kinds.pages.play.page import trouble
from skavit.sites.selectors import site_named
from skavit.web.saving import save_form
from skavit.web.typed_fields import in_words

FORMS: dict[str, type[DocumentForm]] = {
    "": KindForm,
    "water": WateringForm,
    "heat": HeatingForm,
    "memory": MemoryForm,
    "keys": KeysForm,
    "contact": ContactForm,
}
FORM_NAMES = {
    "": "What it is",
    "water": "Watering",
    "heat": "Temperatures",
    "memory": "Memory, place, modes",
    "keys": "Keys and steps",
    "contact": "Contact, by hand",
}


def parts_of(kind: CoreKind) -> dict[str, str]:
    """The forms of a kind by name; that of a sort only where it is of that sort."""
    left_out = {"water": kind.watering is None, "heat": kind.heating is None}
    return {part: name for part, name in FORM_NAMES.items() if not left_out.get(part)}


def _saved(before: CoreKind, form: DocumentForm) -> str:
    """What to say of a kind that was saved: which keys went with what was changed."""
    if form.made is None or isinstance(form, KeysForm):
        return "Saved."
    names = [name.replace("_", " ") for name in changed_keys(before, form.made)]
    return f"Saved. Its keys changed with it: {', '.join(names)}. Check them against the manual." if names else "Saved."


@editors
@require_http_methods(["GET", "POST"])
def edit(request: CrewRequest, pk: int, part: str = "") -> HttpResponse:
    """Adjust one of the crew's kinds, in one of the forms that show it."""
    row = selectors.own_kind(request.crew, pk)
    if part not in parts_of(row.kind):
        raise Http404
    sent = request.POST if request.method == "POST" else None
    form = FORMS[part](
        sent,
        kind=row.kind,
        version=row.version,
        today=request.instant.date(),
        site_named=partial(site_named, request.crew),
    )
    in_words(form, request.words)

    def save() -> Kind:
        assert form.made is not None  # as of each form that is valid
        return services.save_kind(request.membership, row, form.made, form.cleaned_data["version"])

    before = row.kind

    def then(_: Kind) -> HttpResponse:
        messages.success(request, _saved(before, form))
        return redirect("kind-edit-part", pk=row.pk, part=part) if part else redirect("kind-edit", pk=row.pk)

    context = {"row": row, "form": form, "parts": parts_of(row.kind).items(), "part": part, "wrong": trouble(row.kind)}
    return save_form(
        form,
        save,
        then,
        page=lambda status: render(request, "kinds/edit.html", context, status=status),
    )
