"""The application of heating: it names the page of units that hold temperatures."""

from django.apps import AppConfig


class HeatingConfig(AppConfig):
    """Units that hold temperatures."""

    name = "skavit.heating"

    def ready(self) -> None:
        """Put down the page of units that hold temperatures."""
        from skavit.core.plan.sorts import Sort
        from skavit.heating.pages.page import form_at, heating_page
        from skavit.units.pages.plan.acting import SHOWN_BY, UnitShows

        SHOWN_BY[Sort.HEATS] = UnitShows(
            page=heating_page, whole="heating/unit.html", work="heating/_unit_work.html", form_at=form_at
        )
