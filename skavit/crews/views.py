"""The crew's own page, and the health check."""

from django.contrib import messages
from django.contrib.auth.decorators import login_not_required
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from skavit.crews import services
from skavit.crews.access import owners
from skavit.crews.forms import CrewForm, PersonForm, RoleForm
from skavit.crews.models import Membership


@owners
@require_http_methods(["GET", "POST"])
def crew_page(request: HttpRequest) -> HttpResponse:
    """The crew: its clock and its people."""
    crew = request.crew
    form = CrewForm(request.POST or None, initial={"name": crew.name, "twelve_hour": "1" if crew.twelve_hour else "0"})
    if request.method == "POST" and form.is_valid():
        try:
            services.change_crew(request.membership, **form.cleaned_data)
        except services.NameTaken as error:
            form.add_error("name", str(error))
        else:
            return redirect("crew")
    return _show_crew(request, form, PersonForm())


def _show_crew(request: HttpRequest, form: CrewForm, person: PersonForm) -> HttpResponse:
    people = request.crew.memberships.select_related("user")
    status = 422 if form.is_bound or person.is_bound else 200
    return render(request, "crew.html", {"form": form, "person": person, "people": people}, status=status)


@owners
@require_POST
def person_add(request: HttpRequest) -> HttpResponse:
    """A new person."""
    form = PersonForm(request.POST)
    if form.is_valid():
        services.add_person(request.membership, **form.cleaned_data)
        return redirect("crew")
    crew = request.crew
    shown = CrewForm(initial={"name": crew.name, "twelve_hour": "1" if crew.twelve_hour else "0"})
    return _show_crew(request, shown, form)


@owners
@require_POST
def person_role(request: HttpRequest, pk: int) -> HttpResponse:
    """Another role for a person."""
    other = get_object_or_404(Membership, crew=request.crew, pk=pk)
    form = RoleForm(request.POST)
    if form.is_valid():
        try:
            services.set_role(request.membership, other, form.cleaned_data["role"])
        except services.LastOwner as error:
            messages.error(request, str(error))
    return redirect("crew")


@login_not_required
@require_GET
def health(request: HttpRequest) -> HttpResponse:
    """Whether the server answers."""
    return HttpResponse("ok", content_type="text/plain")
