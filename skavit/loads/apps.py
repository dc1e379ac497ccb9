"""The application of loads."""

from django.apps import AppConfig


class LoadsConfig(AppConfig):
    """What hangs on the channels."""

    name = "skavit.loads"
