"""The library of kinds: look, copy, adjust, put the steps in another order, export and import."""

import json

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from skavit.core.formats.schema import kind_schema
from skavit.core.ground.errors import UserError
from skavit.core.kinds import Kind as CoreKind
from skavit.core.kinds.kind import SECTIONS
from skavit.crews.access import editors, members
from skavit.crews.request import CrewRequest
from skavit.kinds import selectors, services
from skavit.kinds.contact_form import ContactForm
from skavit.kinds.document_form import DocumentForm
from skavit.kinds.forms import KindFileForm, KindForm
from skavit.kinds.heating_form import HeatingForm
from skavit.kinds.keys_form import KeysForm
from skavit.kinds.memory_form import MemoryForm
from skavit.kinds.models import Kind
from skavit.kinds.playing import play_page, trouble
from skavit.kinds.watering_form import WateringForm
from skavit.web.page import shown
from skavit.web.saving import save_form
from skavit.web.typed_fields import in_words

UNPROCESSABLE = 422


@members
@require_GET
def library(request: CrewRequest) -> HttpResponse:
    """The crew's kinds and those that ship."""
    return _library(request, KindFileForm())


def _library(request: CrewRequest, form: KindFileForm) -> HttpResponse:
    context = {"own": selectors.own_kinds(request.crew), "shipped": selectors.shipped(), "form": form}
    return render(request, "kinds/library.html", context, status=UNPROCESSABLE if form.is_bound else 200)


@members
@require_GET
def shipped(request: CrewRequest, slug: str) -> HttpResponse:
    """A kind that ships."""
    page = selectors.kind_page(selectors.shipped_kind(slug))
    return render(request, "kinds/kind.html", {"slug": slug, "play": reverse("kind-play", args=[slug]), **page})


@members
@require_GET
def own(request: CrewRequest, pk: int) -> HttpResponse:
    """One of the crew's kinds, with its steps to be put in another order."""
    row = selectors.own_kind(request.crew, pk)
    page = selectors.kind_page(row.kind)
    steps = list(zip(row.kind.order, page["order"], strict=True))
    context = {"row": row, "steps": steps, "play": reverse("kind-own-play", args=[pk]), "wrong": trouble(row.kind)}
    return render(request, "kinds/kind.html", {**context, **page})


@editors
@require_POST
def copy(request: CrewRequest, slug: str) -> HttpResponse:
    """A copy for the crew, opened to be adjusted."""
    row = services.add_kind(request.membership, selectors.shipped_kind(slug))
    return redirect("kind-edit", pk=row.pk)


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


@editors
@require_http_methods(["GET", "POST"])
def edit(request: CrewRequest, pk: int, part: str = "") -> HttpResponse:
    """Adjust one of the crew's kinds, in one of the forms that show it."""
    row = selectors.own_kind(request.crew, pk)
    if part not in parts_of(row.kind):
        raise Http404
    form = FORMS[part](request.POST if request.method == "POST" else None, kind=row.kind, version=row.version)
    in_words(form, request.words)

    def save() -> Kind:
        assert form.made is not None  # as of each form that is valid
        return services.save_kind(request.membership, row, form.made, form.cleaned_data["version"])

    def then(_: Kind) -> HttpResponse:
        messages.success(request, "Saved.")
        return redirect("kind-own", pk=row.pk)

    context = {"row": row, "form": form, "parts": parts_of(row.kind).items(), "part": part}
    return save_form(
        form,
        save,
        then,
        page=lambda status: render(request, "kinds/edit.html", context, status=status),
    )


@members
@require_GET
def shipped_play(request: CrewRequest, slug: str) -> HttpResponse:
    """A kind that ships, played through key by key."""
    kind = selectors.shipped_kind(slug)
    return _play(request, kind, reverse("kind", args=[slug]))


@members
@require_GET
def own_play(request: CrewRequest, pk: int) -> HttpResponse:
    """One of the crew's kinds, played through key by key."""
    return _play(request, selectors.own_kind(request.crew, pk).kind, reverse("kind-own", args=[pk]))


def _play(request: CrewRequest, kind: CoreKind, back: str) -> HttpResponse:
    try:
        at = int(request.GET.get("at", 1))
    except ValueError:
        at = 1
    return render(request, "kinds/play.html", shown(play_page(kind, at, back)))


@editors
@require_POST
def order(request: CrewRequest, pk: int) -> HttpResponse:
    """Move one step up or down."""
    row = selectors.own_kind(request.crew, pk)
    section = request.POST.get("section", "")
    if section in SECTIONS and section in row.kind.order:
        services.move_step(request.membership, row, section, -1 if request.POST.get("by") == "up" else 1)
    return redirect("kind-own", pk=pk)


@editors
@require_POST
def import_kind(request: CrewRequest) -> HttpResponse:
    """A kind from its file."""
    form = KindFileForm(request.POST, request.FILES)
    if not form.is_valid():
        return _library(request, form)
    try:
        row = services.import_kind(request.membership, form.cleaned_data["file"].read())
    except UserError as error:
        form.add_error("file", str(error))
        return _library(request, form)
    messages.success(request, f"{row.name} imported.")
    return redirect("kind-own", pk=row.pk)


@members
@require_GET
def shipped_file(request: CrewRequest, slug: str) -> HttpResponse:
    """The file of a kind that ships."""
    return _file(selectors.shipped_kind(slug))


@members
@require_GET
def own_file(request: CrewRequest, pk: int) -> HttpResponse:
    """The file of one of the crew's kinds."""
    return _file(selectors.own_kind(request.crew, pk).kind)


def _file(kind: CoreKind) -> HttpResponse:
    text = json.dumps(kind.to_json(), indent=2, ensure_ascii=False)
    response = HttpResponse(text + "\n", content_type="application/json; charset=utf-8")
    response["Content-Disposition"] = f'attachment; filename="{kind.slug or "kind"}.json"'
    return response


@members
@require_GET
def schema(request: CrewRequest) -> HttpResponse:
    """The JSON Schema of the file of a kind."""
    return HttpResponse(json.dumps(kind_schema(), indent=2), content_type="application/schema+json")
