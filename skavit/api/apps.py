"""The application of what other programs read."""

from django.apps import AppConfig


class ApiConfig(AppConfig):
    """JSON by a key."""

    name = "skavit.api"
