"""The application of open formats."""

from django.apps import AppConfig


class ExchangeConfig(AppConfig):
    """Calendars, tables, and what is taken from them."""

    name = "skavit.exchange"

    def ready(self) -> None:
        """Put down its background work."""
        from skavit.exchange import archiving, importing  # noqa: F401
