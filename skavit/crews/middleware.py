"""Finds the crew that a request is for."""

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse

from skavit.crews.models import Membership


class CrewMiddleware:
    """Sets ``request.membership`` and ``request.crew``, None for people who are in no crew."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Find the membership, then go on."""
        request.membership = None
        if request.user.is_authenticated:
            request.membership = (
                Membership.objects.filter(user=request.user, left=None).select_related("crew", "user").first()
            )
        request.crew = request.membership.crew if request.membership else None
        return self.get_response(request)
