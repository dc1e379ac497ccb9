"""``python -m benchmarks.pages``: the pages' figures, in a database of its own that is made and dropped.

Needs the database server that ``scripts/benchmark`` starts. All data are invented. Beside the times it counts what one
request does: plans parsed, hashes, replays, audits, queries.
"""

import copy
import itertools
import os
import re
import time
from collections import Counter
from collections.abc import Callable
from datetime import date, timedelta
from typing import Any

import django
from django.db import connection
from django.test import Client
from django.test.utils import setup_databases, teardown_databases

from benchmarks.ruler import Ruler, median_ms

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "skavit.settings")
MANY, VERY_MANY = 1_000, 100_000
MANY_ANEW = int(os.environ.get("ANEW", "1000"))  # 10,000 of each take some minutes
COUNTED = ("parses", "hashes", "replays", "audits", "trials", "looks ahead", "runs in all", "queries")
HTMX = {"HTTP_HX_REQUEST": "true"}


def tell(what: str, seen: Counter[str]) -> None:
    """Print what was counted."""
    told = ", ".join(f"{seen[name]} {name}" for name in COUNTED)
    print(f"{what:40} {told}")


def page_rows(ruler: Ruler, client: Client) -> None:
    """A unit's page, kept and anew, and an edit with its redrawn region."""
    from skavit.units import computing
    from skavit.units.models import Unit
    from skavit.units.tests.counting import counted

    def anew(address: str) -> Callable[[], object]:
        def run() -> None:
            computing.KEPT.clear()
            client.get(address)

        return run

    addresses = [f"/units/{unit.pk}/" for unit in Unit.objects.all()]
    kept, slowest = max((median_ms(lambda address=address: client.get(address)), address) for address in addresses)
    ruler.row("unit's page, slowest of the demo", kept, 3)
    ruler.row("  its year worked out anew", max(median_ms(anew(address)) for address in addresses))
    with counted() as seen:
        anew(slowest)()
    tell("  what that does", seen)
    ruler.row("edit of an entry with its region", median_ms(lambda: edit_first(client), 15), 5)
    with counted() as seen:
        edit_first(client)
    tell("  what that does", seen)


def watering_rows(ruler: Ruler, client: Client) -> None:
    """The page of a controller of 48 stations in 4 programs, kept and anew."""
    from benchmarks.__main__ import gardens
    from skavit.crews.models import Membership
    from skavit.server.now import read_now
    from skavit.units import computing
    from skavit.units.models import Unit
    from skavit.units.services.revisions import edit

    unit = Unit.objects.select_related("site", "head").get(name="Pitches")
    who = Membership.objects.get(user__username="kahu")
    edit(unit, who, unit.head_revision.number, lambda _: gardens(48, 4), "48 stations", now=read_now())

    def anew() -> None:
        computing.KEPT.clear()
        client.get(f"/units/{unit.pk}/")

    ruler.row("watering unit's page, 48 stations", median_ms(lambda: client.get(f"/units/{unit.pk}/")), 4)
    ruler.row("  its year worked out anew", median_ms(anew, 3))


def as_found_row(ruler: Ruler, client: Client) -> None:
    """The page of a unit as found that held 198 different entries, its year worked out anew; at most two seconds."""
    from skavit.units import computing
    from skavit.units.models import Unit

    unit = Unit.objects.order_by("pk")[0]
    days = ("mo", "tu we", "th", "fr-su", "mo we fr", "sa", "mo-su")
    lines = [f"{['on', 'off'][n % 2]} {n * 37 % 24:02d}:{n * 53 % 60:02d} {days[n % 7]}" for n in range(198)]
    kept = client.post(f"/units/{unit.pk}/as-found/keep/", {"lines": "\n".join(lines)})

    def run() -> None:
        computing.KEPT.clear()
        client.get(kept["Location"])

    ruler.row("as found with 198 different entries", median_ms(run, 3))


def ticks_row(ruler: Ruler, client: Client) -> None:
    """All steps of a sheet ticked without signal, sent at once with the proof of their sheet."""
    from skavit.units.models import Unit

    unit = Unit.objects.get(name="Pitches")
    text = client.get(f"/units/{unit.pk}/sheet/").content.decode()
    steps = text.split("data-step=")[1:]  # of a step that says another thing by the hour, what it says now
    now = re.compile(r'<div class="spell"[^>]*\d">.*?name="key" value="(\w+)"', re.DOTALL)
    keys = [found[1] for step in steps if (found := now.search(step))]
    proof = re.findall(r'data-proof="([^"]+)"', text)[0]
    pressed = itertools.count()

    def run() -> None:
        done = str(next(pressed) % 2)
        sent = {"key": keys, "done": [done] * len(keys), "said": [""] * len(keys), "proof": proof}
        assert client.post(f"/units/{unit.pk}/sheet/tick/", sent, headers={"HX-Request": "true"}).json() == {"gone": {}}

    ruler.row(f"{len(keys)} ticks at once", median_ms(run, 15), 1)


def edit_first(client: Client, minute: list[int] = [0]) -> None:  # noqa: B006  it goes on from call to call
    """Move an entry of the first unit by a minute."""
    from skavit.units.models import Unit

    unit = Unit.objects.select_related("head").order_by("pk")[0]
    minute[0] = (minute[0] + 1) % 60
    typed = {
        "revision": unit.head.number,
        "action": "off",
        "channels": ["1"],
        "at_kind": "clock",
        "at_clock": f"22:{minute[0]:02d}",
        "days_kind": "daily",
    }
    answer = client.post(f"/units/{unit.pk}/rows/entry-1/", typed, **HTMX)
    if answer.status_code != 200:
        raise SystemExit(f"the edit was refused: {answer.status_code}")


def fill(total: int) -> None:
    """Copies of the first unit, so that there are so many."""
    from skavit.due.models import Due
    from skavit.units.models import PlanRevision, Unit

    first = Unit.objects.select_related("head", "result").order_by("pk")[0]
    have = Unit.objects.count()
    copies = [Unit(site=first.site, name=f"Copy {n}", result=first.result) for n in range(have, total)]
    Unit.objects.bulk_create(copies, batch_size=5_000)
    shared = {
        "number": 1,
        "document": first.head.document,
        "content_hash": "x",
        "note": "",
        "author": first.head.author,
    }
    revisions = [PlanRevision(unit=unit, **shared) for unit in copies]
    PlanRevision.objects.bulk_create(revisions, batch_size=5_000)
    for unit, revision in zip(copies, revisions, strict=True):
        unit.head = revision
    Unit.objects.bulk_update(copies, ["head"], batch_size=2_000)
    crew, start = first.site.crew, date(2027, 1, 1)
    things = [
        Due(crew=crew, unit=unit, sort=sort, date=start + timedelta(days=number % 700) if number % 9 else None)
        for number, unit in enumerate(copies)
        for sort in ("battery", "findings")
    ]
    Due.objects.bulk_create(things, batch_size=5_000)


def round_rows(ruler: Ruler, client: Client) -> None:
    """The round with a thousand units, and with a hundred thousand."""
    from skavit.units.tests.counting import counted

    for total in (MANY, VERY_MANY):
        fill(total)
        with connection.cursor() as cursor:
            cursor.execute("VACUUM ANALYZE")  # as the server does by itself
        ruler.row(f"round with {total:,} units", median_ms(lambda: client.get("/"), 5), 8)
        ruler.row("  filtered by a word", median_ms(lambda: client.get("/?q=copy+77"), 5))
        ruler.row("  what is due", median_ms(lambda: client.get("/due/"), 5), 8)
        ruler.row("  what is due, narrowed", median_ms(lambda: client.get("/due/?sort=battery&q=77"), 5))
        with counted() as seen:
            client.get("/")
        tell("  what that does", seen)


def again_rows(total: int) -> None:
    """So many units worked out anew by the worker's processes: copies of the demo's, no two the same, in turn."""
    from skavit.server.bounds import pulses_a_year
    from skavit.server.now import read_now
    from skavit.units.models import PlanRevision, Unit
    from skavit.units.services.refreshing import renew, stale_units

    demo = list(Unit.objects.select_related("head", "site", "kind").exclude(name__startswith="Copy").order_by("pk"))
    plain = [one for one in demo if one.plan.water is None and one.plan.heat is None and not pulses_a_year(one.plan)]
    for what, kinds in (("time switches of the demo", plain), ("units of the demo, one in seventeen in pulses", demo)):
        chosen = [kinds[number % len(kinds)] for number in range(total)]
        copies = [
            Unit(site=one.site, name=f"Anew {what} {n}", kind=one.kind, shipped_kind=one.shipped_kind)
            for n, one in enumerate(chosen)
        ]
        Unit.objects.bulk_create(copies, batch_size=5_000)
        revisions = [
            PlanRevision(
                unit=unit, number=1, document=_called(one.head.document, unit.name), content_hash=str(unit.pk),
                note="", author=one.head.author,
            )
            for unit, one in zip(copies, chosen, strict=True)
        ]  # fmt: skip
        PlanRevision.objects.bulk_create(revisions, batch_size=5_000)
        for unit, revision in zip(copies, revisions, strict=True):
            unit.head = revision
        Unit.objects.bulk_update(copies, ["head"], batch_size=2_000)
        stale = stale_units(Unit.objects.filter(pk__in=[unit.pk for unit in copies]), read_now())
        begun = time.perf_counter()
        renew(stale, read_now(), lambda _: None)
        seconds = time.perf_counter() - begun
        print(
            f"{len(stale):,} {what}, worked out anew: {seconds:.0f} s on {os.cpu_count()} cores   (reach 90 s of 10,000)"
        )


def _called(document: dict[str, Any], name: str) -> dict[str, Any]:
    """A plan's document whose first channel, station or zone has another name."""
    changed = copy.deepcopy(document)
    named = [
        *(changed.get("channels") or []),
        *(changed.get("water") or {}).get("stations", []),
        *(changed.get("heat") or {}).get("zones", []),
    ]
    named[0]["name"] = name[:60]
    return changed


def main() -> None:
    """Make the data, print the rows, drop the data."""
    django.setup()
    from skavit.crews.models import User
    from skavit.units import demo

    ruler = Ruler()
    old = setup_databases(verbosity=0, interactive=False)
    try:
        demo.load("x")
        client = Client(HTTP_HOST="localhost")
        client.force_login(User.objects.get(username="kahu"))
        page_rows(ruler, client)
        watering_rows(ruler, client)
        round_rows(ruler, client)
        as_found_row(ruler, client)
        ticks_row(ruler, client)
        again_rows(MANY_ANEW)
    finally:
        teardown_databases(old, verbosity=0)


if __name__ == "__main__":
    main()
