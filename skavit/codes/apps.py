"""The application of codes."""

from django.apps import AppConfig


class CodesConfig(AppConfig):
    """Codes of units."""

    name = "skavit.codes"
