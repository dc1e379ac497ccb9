"""All that changes sites."""

from typing import Any

from django.db import transaction

from skavit.crews.access import require_edit
from skavit.crews.models import Membership
from skavit.sites.models import Site

FIELDS = ("name", "latitude", "longitude", "timezone")


class NameTaken(Exception):
    """The crew has a site of that name."""


def save_site(membership: Membership, site: Site | None, data: dict[str, Any]) -> Site:
    """Add a site, or change one. Its units are from then on replayed at the new place."""
    require_edit(membership)
    with transaction.atomic():
        found = site or Site(crew=membership.crew)
        same = Site.objects.filter(crew=membership.crew, name=data["name"]).exclude(pk=found.pk)
        if same.exists():
            raise NameTaken("This crew has a site of that name. Accepted: another name.")
        for name in FIELDS:
            setattr(found, name, data[name])
        found.save()
    return found
