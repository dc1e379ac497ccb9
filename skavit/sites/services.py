"""All that changes sites."""

from typing import Any

from django.db import IntegrityError, transaction

from skavit.crews.access import require_edit
from skavit.crews.models import Membership
from skavit.sites.models import Site
from skavit.web.errors import NameTaken
from skavit.web.versions import StaleRow

FIELDS = ("name", "latitude", "longitude", "timezone")


def save_site(membership: Membership, site: Site | None, data: dict[str, Any], version: int | None = None) -> Site:
    """Add a site, or change one. Its units are from then on replayed at the new place.

    ``version`` is that of the site which was shown. Raises :class:`NameTaken`, :class:`~skavit.web.versions.StaleRow`.
    """
    require_edit(membership)
    try:
        with transaction.atomic():
            found = Site(crew=membership.crew) if site is None else Site.objects.select_for_update().get(pk=site.pk)
            if site is not None:
                if version is not None and found.version != version:
                    raise StaleRow(
                        found.version, f"{found.name}, {found.latitude:g}, {found.longitude:g}, {found.timezone}"
                    )
                found.version += 1
            for name in FIELDS:
                setattr(found, name, data[name])
            found.notes = data.get("notes", found.notes)
            found.area = data.get("area", found.area)
            found.save()
    except IntegrityError as error:
        raise NameTaken("This crew has a site of that name. Accepted: another name.") from error
    return found
