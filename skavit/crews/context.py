"""What every template knows of the crew."""

from typing import Any

from django.http import HttpRequest

from skavit.core.text.wording import PLAIN


def crew(request: HttpRequest) -> dict[str, Any]:
    """The crew, the membership and whether its person may edit."""
    membership = getattr(request, "membership", None)
    return {
        "crew": getattr(request, "crew", None),
        "membership": membership,
        "summer": getattr(request, "words", PLAIN).summer,
        "may_edit": bool(membership and membership.may_edit),
    }
