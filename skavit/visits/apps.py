"""The application of visits."""

from django.apps import AppConfig


class VisitsConfig(AppConfig):
    """Visits to units."""

    name = "skavit.visits"

    def ready(self) -> None:
        """Tell the pages of kinds what the record teaches of them."""
        from skavit.kinds import teaching
        from skavit.visits.learning import learned_of

        teaching.TAUGHT.append(learned_of)
