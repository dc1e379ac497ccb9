"""The page of what other programs read: its addresses, and the crew's keys."""

from http import HTTPStatus

from django.contrib import messages
from django.contrib.auth.decorators import login_not_required
from django.contrib.auth.views import redirect_to_login
from django.http import Http404, HttpResponse, JsonResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_GET, require_POST

from skavit.api.forms import KeyForm
from skavit.api.keys import A_MINUTE, Bearer, last_used, make_key
from skavit.api.service import NO_KEY, api
from skavit.crews.access import members, owners
from skavit.crews.request import CrewRequest
from skavit.crews.revocable import take_back
from skavit.web.errors import TooMany


@members
@require_GET
def page(request: CrewRequest) -> HttpResponse:
    """Addresses and keys."""
    return _show(request, KeyForm())


def _show(request: CrewRequest, form: KeyForm, secret: str = "", status: int = HTTPStatus.OK) -> HttpResponse:
    described = api.get_openapi_schema()
    addresses = [
        (address, operation["get"]["summary"], operation["get"]["parameters"])
        for address, operation in described["paths"].items()
    ]
    context = {
        "addresses": addresses,
        "base": request.build_absolute_uri("/api/"),
        "form": form,
        "secret": secret,
        "keys": [(key, last_used(key)) for key in request.crew.api_keys.held().select_related("by")],
        "a_minute": A_MINUTE,
    }
    return render(request, "api/api.html", context, status=status)


@login_not_required
@require_GET
def described(request: CrewRequest) -> HttpResponse:
    """The same as OpenAPI: for people of a crew, and for programs with a key."""
    if request.membership is None and Bearer()(request) is None:
        if "Authorization" in request.headers:
            return api.create_response(request, {"detail": NO_KEY}, status=HTTPStatus.UNAUTHORIZED)
        return redirect_to_login(request.get_full_path())
    return JsonResponse(api.get_openapi_schema())


@owners
@require_POST
def key_make(request: CrewRequest) -> HttpResponse:
    """A new key, told this once."""
    form = KeyForm(request.POST)
    if not form.is_valid():
        return _show(request, form, status=HTTPStatus.UNPROCESSABLE_ENTITY)
    try:
        secret = make_key(request.membership, form.cleaned_data["program"])
    except TooMany as error:
        messages.error(request, str(error))
        return redirect("api-page")
    return _show(request, KeyForm(), secret)


@owners
@require_POST
def key_back(request: CrewRequest, pk: int) -> HttpResponse:
    """End a key."""
    if not request.crew.api_keys.filter(pk=pk).exists():
        raise Http404(pk)
    take_back(request.membership, request.crew.api_keys.held(), pk, request.instant)
    messages.success(request, "The key is dead.")
    return redirect("api-page")
