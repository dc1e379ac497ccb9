"""The application of what the customer is left with."""

from django.apps import AppConfig


class CustomerConfig(AppConfig):
    """Sheets and links for customers."""

    name = "skavit.customer"

    def ready(self) -> None:
        """Put down its background work."""
        from skavit.customer import printing  # noqa: F401
