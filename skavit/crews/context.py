"""What every template knows of the crew."""

from typing import Any

from django.http import HttpRequest


def crew(request: HttpRequest) -> dict[str, Any]:
    """The crew, the membership and whether its person may edit."""
    membership = getattr(request, "membership", None)
    return {
        "crew": getattr(request, "crew", None),
        "membership": membership,
        "may_edit": bool(membership and membership.may_edit),
    }
