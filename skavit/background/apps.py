"""The application of background work."""

from importlib import import_module

from django.apps import AppConfig
from django.conf import settings


class BackgroundConfig(AppConfig):
    """Work that takes longer than a page may."""

    name = "skavit.background"

    def ready(self) -> None:
        """Read the modules that do background work, so that each kind of it is known by its name."""
        for module in settings.DO_BACKGROUND_WORK:
            import_module(module)
