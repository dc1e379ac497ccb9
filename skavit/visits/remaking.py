"""A picture made anew by a process of its own: ``python -m skavit.visits.remaking <picture >jpeg``.

A picture of half a megabyte can hold sixty million pixels, so it is unpacked where memory and time are bounded and
nothing else can suffer. It knows no Django, so that it begins in a fraction of a second.
"""

import resource
import sys
from io import BytesIO

from PIL import Image, ImageOps, UnidentifiedImageError

from skavit.core.ground.errors import UserError

LONGEST_SIDE, QUALITY = 1_600, 82
# A JPEG is unpacked at a fraction of its size (its draft mode); the others whole.
MOST_PIXELS = {"JPEG": 120_000_000, "PNG": 24_000_000, "WEBP": 24_000_000}
MEMORY_BYTES, CPU_S = 500_000_000, 15
REFUSED, TOO_MUCH = 3, 4


class Refused(UserError):
    """What was sent is no picture that can be made anew; the text says why."""


def remade(data: bytes) -> bytes:
    """Return a picture turned upright, as JPEG of at most :data:`LONGEST_SIDE` pixels, without whatever else it carried.

    Raises :class:`Refused` for too many pixels and for what cannot be read.
    """
    Image.MAX_IMAGE_PIXELS = None  # the bound below is by format
    try:
        # The head alone is read first: the size in pixels is known before anything is unpacked.
        with Image.open(BytesIO(data), formats=tuple(MOST_PIXELS)) as image:
            _check_size(image)
            image.draft("RGB", (LONGEST_SIDE, LONGEST_SIDE))
            deep = image.mode.startswith("I")  # grey of 16 bits, which would be cut and not scaled
            small = (image.point(lambda grey: grey / 256).convert("L") if deep else image).convert("RGB")
            small.thumbnail((LONGEST_SIDE, LONGEST_SIDE))
            upright = ImageOps.exif_transpose(small)
    except Refused:
        raise
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError) as error:
        raise Refused("This is no picture that can be read.") from error
    upright.info.clear()  # a comment would be written again
    out = BytesIO()
    upright.save(out, "JPEG", quality=QUALITY, optimize=True)
    return out.getvalue()


def _check_size(image: Image.Image) -> None:
    """Raise :class:`Refused` for a picture of too many pixels."""
    most = MOST_PIXELS[image.format or ""]
    if image.width * image.height > most:
        raise Refused(
            f"{image.width} by {image.height} pixels are too many. "
            f"Accepted: a {image.format} of at most {most // 1_000_000} million pixels."
        )


def main() -> int:
    """Make the picture on standard input anew; the exit status says what became of it."""
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY_BYTES, MEMORY_BYTES))
    resource.setrlimit(resource.RLIMIT_CPU, (CPU_S, CPU_S))
    try:
        sys.stdout.buffer.write(remade(sys.stdin.buffer.read()))
    except Refused as refused:
        sys.stderr.write(str(refused))
        return REFUSED
    except MemoryError:
        return TOO_MUCH
    return 0


if __name__ == "__main__":
    sys.exit(main())
