"""Tables in CSV (RFC 4180), UTF-8, and their answers."""

import csv
import io
from collections.abc import Iterable

from django.http import HttpResponse
from django.utils.text import slugify

MOST_ROWS = 100_000
_FORMULA = ("=", "+", "-", "@", "\t", "\r")


def table(head: Iterable[str], rows: Iterable[Iterable[object]]) -> str:
    """A table as text. What a spreadsheet would take for a formula is marked as text."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(head)
    for number, row in enumerate(rows):
        if number >= MOST_ROWS:
            break
        writer.writerow([_cell(cell) for cell in row])
    return out.getvalue()


def _cell(cell: object) -> object:
    return f"'{cell}" if isinstance(cell, str) and cell.startswith(_FORMULA) else cell


def csv_answer(text: str, *names: object) -> HttpResponse:
    """A table as a file, called by some names."""
    response = HttpResponse(text, content_type="text/csv; charset=utf-8")
    name = slugify(" ".join(map(str, names))) or "table"
    response["Content-Disposition"] = f'attachment; filename="{name}.csv"'
    return response
