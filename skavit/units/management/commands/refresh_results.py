"""``manage.py refresh_results``: bring the kept results of all units up to date, on all cores."""

import os
from concurrent.futures import ProcessPoolExecutor
from functools import partial
from typing import Any

from django.core.management.base import BaseCommand
from django.db import connections

from skavit.now import read_now, year_at
from skavit.units.models import Unit
from skavit.units.results import is_fresh, keep_result

BAR = 40


def _renew(pk: int, now: int) -> None:
    """One unit, in a process of its own with a connection of its own."""
    keep_result(Unit.objects.select_related("site", "head").get(pk=pk), now)


class Command(BaseCommand):
    """Work out what is stale: after a release of the core or of the zone data, and at the new year."""

    help = "Bring the kept results of all units up to date."

    def handle(self, *args: Any, **options: Any) -> None:
        """Renew stale results with a bar that shows how far it is."""
        now = read_now()
        units = Unit.objects.at_work().select_related("site", "result").order_by("pk")
        stale = [unit.pk for unit in units if not is_fresh(unit, year_at(unit.site.place, now))]
        connections.close_all()  # a connection is not to be shared with the processes that follow
        with ProcessPoolExecutor(os.cpu_count()) as pool:
            for done, _ in enumerate(pool.map(partial(_renew, now=now), stale), start=1):
                filled = BAR * done // len(stale)
                bar = "#" * filled + "." * (BAR - filled)
                self.stdout.write(f"\r{bar} {done} of {len(stale)}", ending="")
        self.stdout.write(f"{chr(10) if stale else ''}{len(stale)} results renewed.")
