"""History of rows: who changed what, kept beside each row by django-simple-history and deleted with it."""

from collections.abc import Iterator
from contextlib import contextmanager
from types import SimpleNamespace
from typing import Any

from simple_history.models import HistoricalRecords

BEGUN = "as it stood when this record began"


def kept_history(*without: str) -> Any:
    """The history of a model, but for some of its fields; ``changes`` of a row are its states, by ``history_date``."""
    return HistoricalRecords(excluded_fields=list(without), cascade_delete_history=True, related_name="changes")


@contextmanager
def changes_by(person: Any) -> Iterator[None]:
    """What is changed meanwhile was changed by a person, though no request of theirs is at hand."""
    HistoricalRecords.context.request = SimpleNamespace(user=person)
    try:
        yield
    finally:
        del HistoricalRecords.context.request
