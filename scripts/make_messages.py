"""Make the catalogues of translated sentences from their .po files: .venv/bin/python scripts/make_messages.py."""

import io
from datetime import UTC, datetime
from pathlib import Path

from babel.messages.catalog import Catalog
from babel.messages.mofile import write_mo
from babel.messages.pofile import read_po

LOCALE = Path(__file__).resolve().parent.parent / "skavit" / "customer" / "locale"


def read(path: Path) -> Catalog:
    """A catalogue of sentences."""
    with path.open("rb") as file:
        found = read_po(file, locale=path.parent.parent.name)
    # The same sentences give the same file, whenever it is made.
    found.creation_date = found.revision_date = datetime(2026, 1, 1, tzinfo=UTC)
    return found


def compiled(path: Path) -> bytes:
    """The same as the application reads it."""
    out = io.BytesIO()
    write_mo(out, read(path))
    return out.getvalue()


def main() -> None:
    """Compile them all."""
    for path in sorted(LOCALE.glob("*/LC_MESSAGES/django.po")):
        path.with_suffix(".mo").write_bytes(compiled(path))


if __name__ == "__main__":
    main()
