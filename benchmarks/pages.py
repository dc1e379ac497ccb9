"""``python -m benchmarks.pages``: the pages' figures, in a database of its own that is made and dropped.

Needs the database server that ``scripts/benchmark`` starts. All data are invented.
"""

import os
import statistics
import time
from collections.abc import Callable

import django
from django.db import connection
from django.test import Client
from django.test.utils import CaptureQueriesContext, setup_databases, teardown_databases

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "skavit.settings")
MANY = 1000


def median_ms(run: Callable[[], object], times: int = 9) -> float:
    """Median milliseconds of a call, the first one left out."""
    run()
    found = []
    for _ in range(times):
        start = time.perf_counter()
        run()
        found.append((time.perf_counter() - start) * 1e3)
    return statistics.median(found)


def main() -> None:
    """Make the data, print the rows, drop the data."""
    django.setup()
    from skavit.core.text.wording import Words
    from skavit.crews.models import Crew, User
    from skavit.round.cards import round_page
    from skavit.units import demo
    from skavit.units.models import PlanRevision, Unit

    old = setup_databases(verbosity=0, interactive=False)
    try:
        demo.load("x")
        client = Client(HTTP_HOST="localhost")
        client.force_login(User.objects.get(username="kahu"))
        slowest, queries = 0.0, 0
        for unit in Unit.objects.all():
            address = f"/units/{unit.pk}/"
            slowest = max(slowest, median_ms(lambda address=address: client.get(address)))
            with CaptureQueriesContext(connection) as seen:
                client.get(address)
            queries = max(queries, len(seen))
        print(f"unit's page, slowest of the demo  {slowest:7.1f} ms   (at most 200), {queries} queries (at most 20)")
        first = Unit.objects.select_related("head").first()
        copies = [Unit(site=first.site, name=f"Copy {n}") for n in range(MANY - Unit.objects.count())]
        Unit.objects.bulk_create(copies)
        revisions = [
            PlanRevision(
                unit=u, number=1, document=first.head.document, content_hash="x", note="", author=first.head.author
            )
            for u in copies
        ]
        PlanRevision.objects.bulk_create(revisions)
        for unit, revision in zip(copies, revisions, strict=True):
            unit.head = revision
        Unit.objects.bulk_update(copies, ["head"], batch_size=200)
        taken = median_ms(lambda: client.get("/"), 5)
        core = median_ms(lambda: round_page(Crew.objects.get(), Words()), 5)
        print(f"round with {MANY} units and thumbnails {taken:7.1f} ms   (at most 300), {core:.1f} of it reading")
    finally:
        teardown_databases(old, verbosity=0)


if __name__ == "__main__":
    main()
