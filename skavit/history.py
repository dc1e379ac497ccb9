"""Who changed a row, and what it was before: kept beside each row by django-simple-history, and gone with it."""

from collections.abc import Iterator
from contextlib import contextmanager
from types import SimpleNamespace
from typing import Any

from django.db import migrations
from django.utils import timezone
from simple_history.models import HistoricalRecords

BEGUN = "as it stood when this record began"


def kept_history(*without: str) -> Any:
    """The history of a model, but for some of its fields; ``changes`` of a row are its states, by ``history_date``."""
    return HistoricalRecords(excluded_fields=list(without), cascade_delete_history=True, related_name="changes")


@contextmanager
def acting(person: Any) -> Iterator[None]:
    """What is changed meanwhile was changed by a person, though no request of theirs is at hand."""
    HistoricalRecords.context.request = SimpleNamespace(user=person)
    try:
        yield
    finally:
        del HistoricalRecords.context.request


def first_states(app: str, model: str) -> migrations.RunPython:
    """For a migration: the rows that are there already, as they stand."""

    def write(apps: Any, editor: Any) -> None:
        rows, states = apps.get_model(app, model), apps.get_model(app, f"Historical{model}")
        names = [f.attname for f in states._meta.concrete_fields if not f.name.startswith("history_")]
        moment = timezone.now()
        states.objects.bulk_create(
            (
                states(
                    **{name: getattr(row, name) for name in names},
                    history_relation_id=row.pk,
                    history_date=moment,
                    history_type="+",
                    history_change_reason=BEGUN,
                )
                for row in rows.objects.iterator(chunk_size=500)
            ),
            batch_size=500,
        )

    return migrations.RunPython(write, migrations.RunPython.noop)
