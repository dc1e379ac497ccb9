"""The application of customers' links: what is due at a unit has the day on which one of its links ends."""

from django.apps import AppConfig


class CustomerConfig(AppConfig):
    """Links and sheets for customers."""

    name = "skavit.customer"

    def ready(self) -> None:
        """Tell when links end."""
        from skavit.customer.services import links_end
        from skavit.units import dated

        dated.ENDS.append(links_end)
