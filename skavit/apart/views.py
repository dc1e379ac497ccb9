"""Coming back for what the worker answers to a form that was sent without the page's script."""

from django.contrib.auth.decorators import login_not_required
from django.http import HttpRequest, HttpResponse
from django.views.decorators.http import require_GET

from skavit.apart import services
from skavit.apart.middleware import answer, gone


@login_not_required  # the secret and who asked are looked at
@require_GET
def working(request: HttpRequest, secret: str) -> HttpResponse:
    """The answer where there is one, else how far it is."""
    asked = services.asked_before(request, secret)
    return gone(request) if asked is None else answer(request, asked)
