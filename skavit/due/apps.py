"""The application of what is due: it follows every change of a plan."""

from django.apps import AppConfig


class DueConfig(AppConfig):
    """What is due at the crew's units."""

    name = "skavit.due"

    def ready(self) -> None:
        """Follow plans and visits."""
        from skavit.due.services.keeping import keep_due
        from skavit.due.services.planning import visited
        from skavit.units import results
        from skavit.visits.services import visits

        results.FOLLOWED_BY.append(keep_due)
        visits.FOLLOWED_BY.append(visited)
