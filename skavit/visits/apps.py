"""The application of visits."""

from django.apps import AppConfig


class VisitsConfig(AppConfig):
    """Visits to units."""

    name = "skavit.visits"
