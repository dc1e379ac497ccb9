"""Notes on a unit, with photos, outside a visit."""

from datetime import datetime
from typing import Any
from uuid import UUID, uuid4

from django.core.exceptions import PermissionDenied
from django.db import IntegrityError, transaction

from skavit.crews.access import require_edit
from skavit.crews.models import Membership
from skavit.units.models import Unit
from skavit.visits.models import Note
from skavit.visits.services.photos import PhotoRefused, keep, made_anew


def write_note(
    unit: Unit, membership: Membership, *, token: UUID, text: str, photos: list[Any], instant: datetime
) -> Note:
    """Keep a note and its photos (files as they were sent), all or nothing; sent again it is the same one.

    Raises ``photos.PhotoRefused``.
    """
    require_edit(membership)
    known = unit.notes.filter(token=token).first()
    if known is not None:
        return known
    pictures = [made_anew(file, file.size or 0) for file in photos]
    try:
        with transaction.atomic():
            note = Note.objects.create(unit=unit, token=token, text=text, by=membership.user, at=instant)
            for picture in pictures:
                keep(picture, membership, uuid4(), instant, note=note)
    except IntegrityError as error:
        # Sent twice at once, the other was quicker: it is the same note.
        known = unit.notes.filter(token=token).first()
        if known is None:
            raise PhotoRefused("This note is another unit's. Accepted: one written here.") from error
        return known
    return note


def take_away(note: Note, membership: Membership, instant: datetime) -> None:
    """Take what a note says away; that there was one stays. Its author may, and owners."""
    require_edit(membership)
    if note.by_id != membership.user_id and not membership.may_manage:
        raise PermissionDenied("This note is somebody else's. Its author may take it away, and owners.")
    with transaction.atomic():
        note.photos.all().delete()
        note.text, note.away, note.away_by = "", instant, membership.user
        note.save(update_fields=["text", "away", "away_by"])
