"""The crew's own page and its people."""

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_http_methods, require_POST

from skavit.crews import leaving, services
from skavit.crews.access import owners
from skavit.crews.forms import CrewForm, NameForm, PersonForm, RoleForm
from skavit.crews.models import Invitation, Membership
from skavit.crews.request import CrewRequest
from skavit.web.errors import NameTaken
from skavit.web.saving import save_form


@owners
@require_http_methods(["GET", "POST"])
def crew_page(request: CrewRequest) -> HttpResponse:
    """The crew: its clock and its people."""
    form = CrewForm(request.POST or None, initial=_as_it_is(request))
    return save_form(
        form,
        lambda: services.change_crew(request.membership, **form.cleaned_data),
        then=lambda _: redirect("crew"),
        page=lambda _: _show_crew(request, form, PersonForm()),
    )


def _as_it_is(request: CrewRequest) -> dict[str, str]:
    return {
        "name": request.crew.name,
        "twelve_hour": str(int(request.crew.twelve_hour)),
        "summer_time": str(int(request.crew.summer_time)),
        "us_units": str(int(request.crew.us_units)),
        "contact": request.crew.contact,
    }


def _show_crew(request: CrewRequest, form: CrewForm, person: PersonForm, link: str = "") -> HttpResponse:
    crew = request.crew
    context = {
        "form": form,
        "person": person,
        "people": crew.memberships.filter(left=None).select_related("user"),
        "gone": crew.memberships.exclude(left=None).select_related("user"),
        "invitations": [one for one in crew.invitations.filter(taken_by=None).select_related("by") if one.is_open],
        "link": link,
    }
    return render(request, "crew.html", context, status=422 if form.is_bound or person.is_bound else 200)


@owners
@require_POST
def person_add(request: CrewRequest) -> HttpResponse:
    """A new person."""
    form = PersonForm(request.POST)
    return save_form(
        form,
        lambda: services.add_person(request.membership, **form.cleaned_data),
        then=lambda _: redirect("crew"),
        page=lambda _: _show_crew(request, CrewForm(initial=_as_it_is(request)), form),
    )


def _other(request: CrewRequest, pk: int) -> Membership:
    return get_object_or_404(Membership.objects.select_related("crew", "user"), crew=request.crew, pk=pk)


@owners
@require_POST
def person_role(request: CrewRequest, pk: int) -> HttpResponse:
    """Another role for a person."""
    other = _other(request, pk)
    form = RoleForm(request.POST)
    if form.is_valid():
        try:
            services.set_role(request.membership, other, form.cleaned_data["role"])
        except services.LastOwner as error:
            messages.error(request, str(error))
    return redirect("crew")


@owners
@require_http_methods(["GET", "POST"])
def person_out(request: CrewRequest, pk: int) -> HttpResponse:
    """What a person has handed out, and taking them out."""
    other = _other(request, pk)
    if other.left is not None:
        return redirect("crew")
    if request.method == "GET":
        context = {"other": other, "handed_out": leaving.handed_out(other)}
        return render(request, "person_out.html", context)
    try:
        leaving.take_out(request.membership, other, end_links="end_links" in request.POST)
    except services.LastOwner as error:
        messages.error(request, str(error))
    else:
        messages.success(request, f"{other.user} is out: logged out everywhere. What they did stays with their name.")
    return redirect("crew")


@owners
@require_POST
def person_rename(request: CrewRequest, pk: int) -> HttpResponse:
    """Another user name for a person."""
    other = _other(request, pk)
    form = NameForm.of(other.user, request.POST)
    if form.is_valid():
        try:
            services.rename(request.membership, other, form.cleaned_data["username"])
            messages.success(request, f"From now on {other.user} logs in with that name.")
        except NameTaken as taken:
            form.add_error("username", str(taken))
    for error in form.errors.get("username", []):
        messages.error(request, str(error))
    return redirect("crew")


@owners
@require_POST
def person_forget(request: CrewRequest, pk: int) -> HttpResponse:
    """Remove a person who has left for good."""
    other = _other(request, pk)
    try:
        services.forget(request.membership, other)
    except services.StillHere as error:
        messages.error(request, str(error))
    return redirect("crew")


@owners
@require_POST
def person_again(request: CrewRequest, pk: int) -> HttpResponse:
    """Let a person in again who left."""
    services.let_in_again(request.membership, _other(request, pk))
    return person_link(request, pk)


@owners
@require_POST
def person_link(request: CrewRequest, pk: int) -> HttpResponse:
    """A link by which a person chooses a new password; shown once, to be handed on."""
    other = _other(request, pk)
    path = services.give_password_link(request.membership, other)
    messages.success(request, f"Hand this to {other.user}. They choose a new password with it, within a day, once.")
    return _show_crew(
        request, CrewForm(initial=_as_it_is(request)), PersonForm(), link=request.build_absolute_uri(path)
    )


@owners
@require_POST
def invite(request: CrewRequest) -> HttpResponse:
    """An invitation; its link is shown once."""
    form = RoleForm(request.POST)
    if not form.is_valid():
        return redirect("crew")
    invitation, secret = services.invite(request.membership, form.cleaned_data["role"])
    messages.success(
        request,
        f"Hand this link on. One person joins by it as {invitation.get_role_display().lower()}, within seven days.",
    )
    link = request.build_absolute_uri(reverse("join", args=[secret]))
    return _show_crew(request, CrewForm(initial=_as_it_is(request)), PersonForm(), link=link)


@owners
@require_POST
def invitation_back(request: CrewRequest, pk: int) -> HttpResponse:
    """Take an invitation back."""
    services.take_back(request.membership, get_object_or_404(Invitation, crew=request.crew, pk=pk))
    return redirect("crew")


@owners
@require_POST
def demo_remove(request: CrewRequest) -> HttpResponse:
    """Take the demo crew away, with its people; then the first page begins a crew of one's own."""
    services.remove_demo(request.membership)
    return redirect("login")
