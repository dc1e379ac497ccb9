"""The application of watering: it names the page of units that water."""

from django.apps import AppConfig


class WateringConfig(AppConfig):
    """Units that water."""

    name = "skavit.watering"

    def ready(self) -> None:
        """Put down the page of units that water."""
        from skavit.core.plan.sorts import Sort
        from skavit.units.pages.plan.acting import SHOWN_BY, UnitShows
        from skavit.watering import services  # noqa: F401  its kind of work is put down where it is read
        from skavit.watering.pages.page import watering_page
        from skavit.watering.pages.rows import form_at

        SHOWN_BY[Sort.WATERS] = UnitShows(
            page=watering_page, whole="watering/unit.html", work="watering/_unit_work.html", form_at=form_at
        )
