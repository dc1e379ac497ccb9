"""Make the catalogues of translated sentences from their .po files: .venv/bin/python scripts/make_messages.py.

With ``--missing`` it prints the sentences that a catalogue lacks, ready to be translated.
"""

import ast
import io
import os
import sys
from collections.abc import Iterator
from datetime import UTC, datetime
from pathlib import Path

from babel.messages.catalog import Catalog
from babel.messages.extract import extract
from babel.messages.mofile import write_mo
from babel.messages.pofile import read_po, write_po

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "skavit.settings")

from django.utils.translation.template import templatize

SKAVIT = Path(__file__).resolve().parent.parent / "skavit"
LANGUAGES = ("de", "fr", "es")
CUSTOMER, PAGES = SKAVIT / "customer", SKAVIT  # each has a folder locale
KEYWORDS = dict.fromkeys(("_", "gettext", "gettext_lazy", "gettext_noop")) | {
    "pgettext": ((1, "c"), 2),
    "pgettext_lazy": ((1, "c"), 2),
}

Sentence = tuple[str | None, str]  # its context, and the sentence


def sentences(of: Path) -> set[Sentence]:
    """What the source says to be translated: of the customer's sheet, or of all other pages."""
    found: set[Sentence] = set()
    for path in _sources(of):
        text = path.read_text(encoding="utf-8")
        # What is no sentence is blanked out in a template: on one line it has no indentation that could be wrong.
        source = templatize(text).replace("\n", " ") if path.suffix == ".html" else text
        for _, message, _, context in extract("python", io.BytesIO(source.encode()), KEYWORDS):
            found.add((context, message if isinstance(message, str) else message[-1]))
    return found


def _sources(of: Path) -> Iterator[Path]:
    if of == CUSTOMER:
        yield from sorted(CUSTOMER.glob("*.py"))
        return
    yield from sorted(SKAVIT.glob("templates/**/*.html"))
    for path in sorted(SKAVIT.rglob("*.py")):
        inside = path.relative_to(SKAVIT).parts
        if inside[0] not in ("customer", "core") and "tests" not in inside and _translates(path):
            yield path


def _translates(path: Path) -> bool:
    tree = ast.parse(path.read_text(encoding="utf-8"))
    return any(isinstance(one, ast.ImportFrom) and one.module == "django.utils.translation" for one in ast.walk(tree))


def catalogues(of: Path) -> list[Path]:
    """The files in which their translations stand."""
    return [of / "locale" / language / "LC_MESSAGES" / "django.po" for language in LANGUAGES]


def read(path: Path) -> Catalog:
    """A catalogue of sentences."""
    with path.open("rb") as file:
        found = read_po(file, locale=path.parent.parent.name)
    # The same sentences give the same file, whenever it is made.
    found.creation_date = found.revision_date = datetime(2026, 1, 1, tzinfo=UTC)
    return found


def told(catalogue: Catalog) -> dict[Sentence, str]:
    """The translations of a catalogue."""
    return {(message.context, message.id): message.string for message in catalogue if message.id}


def compiled(path: Path) -> bytes:
    """A catalogue as the application reads it."""
    out = io.BytesIO()
    write_mo(out, read(path))
    return out.getvalue()


def main() -> None:
    """Compile them all, or tell what they lack."""
    for of in (CUSTOMER, PAGES):
        for path in catalogues(of):
            if "--missing" in sys.argv:
                lacking = Catalog(locale=path.parent.parent.name)
                for context, sentence in sorted(sentences(of) - set(told(read(path))), key=lambda one: one[1]):
                    lacking.add(sentence, context=context)
                write_po(sys.stdout.buffer, lacking, omit_header=True)
            else:
                path.with_suffix(".mo").write_bytes(compiled(path))


if __name__ == "__main__":
    main()
