"""``manage.py refresh_results``: bring the kept results of all units up to date, on all cores."""

from typing import Any

from django.core.management.base import BaseCommand

from skavit.server.now import read_now
from skavit.units.models import Unit
from skavit.units.services.refreshing import renew, stale_units

BAR = 40


class Command(BaseCommand):
    """Work out what is stale: after a release of the core or of the zone data, and at the new year."""

    help = "Bring the kept results of all units up to date."

    def handle(self, *args: Any, **options: Any) -> None:
        """Renew stale results with a bar that shows how far it is."""
        now = read_now()
        stale = stale_units(Unit.objects.at_work(), now)

        def tell(done: int) -> None:
            filled = BAR * done // len(stale)
            self.stdout.write(f"\r{'#' * filled}{'.' * (BAR - filled)} {done} of {len(stale)}", ending="")

        renew(stale, now, tell)
        self.stdout.write(f"{chr(10) if stale else ''}{len(stale)} results renewed.")
