"""Photos: made anew one at a time by a process with bounds, so that what is kept is a picture and nothing else."""

import fcntl
import hashlib
import os
import subprocess
import sys
import tempfile
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import datetime
from io import BytesIO
from pathlib import Path
from typing import IO, Any
from uuid import UUID

from django.conf import settings
from django.db import IntegrityError, transaction
from django.db.models import Q, QuerySet
from PIL import Image

from skavit.core.ground.errors import UserError
from skavit.crews.access import require_edit
from skavit.crews.models import Crew, Membership
from skavit.server.bounds import MOST_PHOTOS, PHOTO_BYTES, Busy
from skavit.visits import remaking
from skavit.visits.models import Note, Photo, Visit

ACCEPTED = f"a JPEG, PNG or WebP picture of at most {PHOTO_BYTES // 1_000_000} MB"
# Whoever comes while a picture is made anew waits so long for their turn, so many of each process of the server.
WAITING_S, MOST_WAITING, LOOK_S = 10.0, 4, 0.05
REMAKING_S = 9.0
_WAITING = threading.BoundedSemaphore(MOST_WAITING)


class PhotoRefused(UserError):
    """What was sent is no photo that is kept; the text says what is accepted."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Jpeg:
    """A picture made anew."""

    data: bytes
    width: int
    height: int


@contextmanager
def _turn() -> Iterator[None]:
    """One picture at a time on this machine, whichever process of the server it came to. Raises :class:`Busy`."""
    if not _WAITING.acquire(blocking=False):
        raise Busy("Other photos are being taken in. Accepted: this one again in a moment.")
    try:
        checkout = hashlib.sha256(str(settings.BASE_DIR).encode()).hexdigest()[:12]
        lock = os.open(
            Path(tempfile.gettempdir(), f"skavit-{os.getuid()}-{checkout}.photo"), os.O_RDWR | os.O_CREAT, 0o600
        )
        try:
            until = time.monotonic() + WAITING_S
            while True:
                try:
                    fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
                    break
                except BlockingIOError as taken:
                    if time.monotonic() > until:
                        raise Busy("Other photos are being taken in. Accepted: this one again in a moment.") from taken
                    time.sleep(LOOK_S)
            yield
        finally:
            os.close(lock)
    finally:
        _WAITING.release()


def made_anew(file: IO[Any], size: int) -> Jpeg:
    """Return a sent picture turned upright, brought to a bounded size, without whatever else it carried.

    Raises :class:`PhotoRefused` for what is too large, of another sort, or broken; :class:`Busy` where others wait already.
    """
    if size > PHOTO_BYTES:
        raise PhotoRefused(f"{size / 1e6:.1f} MB are too much. Accepted: {ACCEPTED}.")
    data = file.read(PHOTO_BYTES + 1)
    with _turn():
        try:
            done = subprocess.run(  # noqa: S603  our own module
                [sys.executable, "-m", remaking.__name__],
                input=data, capture_output=True, check=False, timeout=REMAKING_S, cwd=settings.BASE_DIR,
            )  # fmt: skip
        except subprocess.TimeoutExpired as slow:
            raise PhotoRefused(f"It takes too long to unpack. Accepted: {ACCEPTED}.") from slow
    if done.returncode == remaking.REFUSED:
        words = done.stderr.decode()
        raise PhotoRefused(words if "Accepted" in words else f"{words} Accepted: {ACCEPTED}.")
    if done.returncode:
        raise PhotoRefused(f"It takes too much memory to unpack. Accepted: {ACCEPTED}.")
    with Image.open(BytesIO(done.stdout)) as image:  # its head alone
        return Jpeg(data=done.stdout, width=image.width, height=image.height)


def add_photo(visit: Visit, membership: Membership, token: UUID, file: IO[Any], size: int, instant: datetime) -> Photo:
    """Keep a photo of a visit; sent again it is the same one. Raises :class:`PhotoRefused`."""
    require_edit(membership)
    known = Photo.objects.filter(token=token, visit=visit).defer("image").first()
    if known is not None:
        return known
    if visit.photos.count() >= MOST_PHOTOS:
        raise PhotoRefused(f"This visit has {MOST_PHOTOS} photos. Accepted: no more of them.")
    jpeg = made_anew(file, size)
    try:
        with transaction.atomic():
            return keep(jpeg, membership, token, instant, visit=visit)
    except IntegrityError as error:
        # Sent twice at once, the other was quicker: it is the same photo.
        known = Photo.objects.filter(token=token, visit=visit).defer("image").first()
        if known is None:
            raise PhotoRefused("This photo is another visit's. Accepted: one taken here.") from error
        return known


def keep(jpeg: Jpeg, membership: Membership, token: UUID, instant: datetime, **of: Visit | Note) -> Photo:
    """Keep a picture that was made anew, of a visit or of a note."""
    return Photo.objects.create(
        **of,
        token=token,
        image=jpeg.data,
        width=jpeg.width,
        height=jpeg.height,
        by=membership.user,
        at=instant,
    )


def photos_of(crew: Crew) -> "QuerySet[Photo]":
    """All photos of a crew."""
    return Photo.objects.filter(Q(visit__crew=crew) | Q(note__unit__site__crew=crew))
