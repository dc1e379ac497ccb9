"""The application of units: it names the background work that it does."""

from django.apps import AppConfig


class UnitsConfig(AppConfig):
    """Units and their plans."""

    name = "skavit.units"

    def ready(self) -> None:
        """Put down the kinds of work."""
        from skavit.units.pages.sheet import printing  # noqa: F401  each is put down where it is read
        from skavit.units.services import files, fitting, refreshing  # noqa: F401
