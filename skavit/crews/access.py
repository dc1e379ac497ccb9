"""Who may enter a view."""

from collections.abc import Callable
from functools import wraps
from typing import Any

from django.core.exceptions import PermissionDenied
from django.http import HttpResponse

from skavit.crews.models import Membership
from skavit.crews.request import CrewRequest

View = Callable[..., HttpResponse]


def members(view: View) -> View:
    """Only people who are in a crew."""

    @wraps(view)
    def guarded(request: CrewRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        if request.membership is None:
            raise PermissionDenied("You are in no crew yet. Ask an owner to add you.")
        return view(request, *args, **kwargs)

    return guarded


def editors(view: View) -> View:
    """Only owners and installers."""

    @wraps(view)
    @members
    def guarded(request: CrewRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        require_edit(request.membership)
        return view(request, *args, **kwargs)

    return guarded


def owners(view: View) -> View:
    """Only owners."""

    @wraps(view)
    @members
    def guarded(request: CrewRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        if not request.membership.may_manage:
            raise PermissionDenied("Only an owner of the crew may do this.")
        return view(request, *args, **kwargs)

    return guarded


def require_edit(membership: Membership) -> None:
    """Refuse a person who may only look; services call this before they change anything."""
    if not membership.may_edit:
        raise PermissionDenied(
            "You may look at this crew's units, not change them. Ask an owner for the installer role."
        )
