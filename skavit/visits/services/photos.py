"""Photos: looked at before they are taken, and made anew, so that what is kept is a picture and nothing else."""

from dataclasses import dataclass
from datetime import datetime
from io import BytesIO
from typing import IO, Any
from uuid import UUID

from django.db import IntegrityError
from django.db.models import Q, QuerySet
from PIL import Image, ImageOps, UnidentifiedImageError

from skavit.bounds import MOST_PHOTOS, PHOTO_BYTES
from skavit.crews.access import require_edit
from skavit.crews.models import Crew, Membership
from skavit.visits.models import Note, Photo, Visit

FORMATS = ("JPEG", "PNG", "WEBP")
MOST_PIXELS = 60_000_000
LONGEST_SIDE, QUALITY = 1_600, 82
ACCEPTED = f"a JPEG, PNG or WebP picture of at most {PHOTO_BYTES // 1_000_000} MB"


class PhotoRefused(Exception):
    """What was sent is no photo that is kept; the text says what is accepted."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Jpeg:
    """A picture made anew."""

    data: bytes
    width: int
    height: int


def made_anew(file: IO[Any], size: int) -> Jpeg:
    """A sent picture turned upright, brought to a bounded size, without whatever else it carried.

    Raises :class:`PhotoRefused` for what is too large, of another sort, or broken.
    """
    if size > PHOTO_BYTES:
        raise PhotoRefused(f"{size / 1e6:.1f} MB are too much. Accepted: {ACCEPTED}.")
    try:
        # Its head alone is read first: the size in pixels is known before anything is unpacked.
        with Image.open(file, formats=FORMATS) as image:
            if image.width * image.height > MOST_PIXELS:
                raise PhotoRefused(f"{image.width} by {image.height} pixels are too many. Accepted: {ACCEPTED}.")
            image.draft("RGB", (LONGEST_SIDE, LONGEST_SIDE))
            upright = ImageOps.exif_transpose(image).convert("RGB")
    except (UnidentifiedImageError, Image.DecompressionBombError, OSError, SyntaxError, ValueError) as error:
        raise PhotoRefused(f"This is no picture that can be read. Accepted: {ACCEPTED}.") from error
    upright.thumbnail((LONGEST_SIDE, LONGEST_SIDE))
    out = BytesIO()
    upright.save(out, "JPEG", quality=QUALITY, optimize=True)
    return Jpeg(data=out.getvalue(), width=upright.width, height=upright.height)


def add_photo(visit: Visit, membership: Membership, token: UUID, file: IO[Any], size: int, moment: datetime) -> Photo:
    """Keep a photo of a visit; sent again it is the same one. Raises :class:`PhotoRefused`."""
    require_edit(membership)
    known = Photo.objects.filter(token=token, visit=visit).defer("image").first()
    if known is not None:
        return known
    if visit.photos.count() >= MOST_PHOTOS:
        raise PhotoRefused(f"This visit has {MOST_PHOTOS} photos. Accepted: no more of them.")
    jpeg = made_anew(file, size)
    try:
        return keep(jpeg, membership, token, moment, visit=visit)
    except IntegrityError as error:
        raise PhotoRefused("This photo is another visit's. Accepted: one taken here.") from error


def keep(jpeg: Jpeg, membership: Membership, token: UUID, moment: datetime, **of: Visit | Note) -> Photo:
    """Keep a picture that was made anew, of a visit or of a note."""
    return Photo.objects.create(
        **of,
        token=token,
        image=jpeg.data,
        width=jpeg.width,
        height=jpeg.height,
        by=membership.user,
        at=moment,
    )


def photos_of(crew: Crew) -> "QuerySet[Photo]":
    """All photos of a crew."""
    return Photo.objects.filter(Q(visit__crew=crew) | Q(note__unit__site__crew=crew))
