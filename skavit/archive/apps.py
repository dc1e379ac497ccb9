"""The application of the archive: it has no tables, and a daily task."""

from django.apps import AppConfig


class ArchiveConfig(AppConfig):
    """Archived and removed rows."""

    name = "skavit.archive"
