"""``python -m benchmarks.scale [UNITS] [CREWS]``: what one crew notes of a million units of 2,000 crews in the same database.

Makes and drops a database of its own, on the server that ``scripts/benchmark`` starts (some 15 GB of disk; half an hour). First one crew is there
alone, then all the others beside it. Each unit has a plan, its revision, its year and two things that are due. All data are invented.
"""

import argparse
import os
import time
from collections.abc import Callable
from functools import partial
from statistics import median
from typing import Any

import django
from django.db import connection, models, transaction
from django.test import Client
from django.test.utils import setup_databases, teardown_databases

from benchmarks.ruler import median_ms

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "skavit.settings")
UNITS, CREWS, SITES_A_CREW = 1_000_000, 2_000, 20
BASE = 10_000_000  # the first key of the others: above all that the demo has
REACH = 1.3
TIMES = 21
WAYS: dict[str, str] = {"round": "/", "find": "/find/?q=copy+77", "due": "/due/"}


def figures(alone: str, many: str) -> dict[str, tuple[float, float]]:
    """Median milliseconds of the round, of finding, of what is due and of an edit: alone, and beside the others.

    By turns, since the pace of a machine changes within a run.
    """
    from benchmarks.pages import edit_first
    from skavit.crews.models import User

    clients = {}
    for name in (alone, many):
        use(name)
        clients[name] = Client(HTTP_HOST="localhost")
        clients[name].force_login(User.objects.get(username="kahu"))
    asked: dict[str, Callable[[Client], object]] = {
        what: (lambda client, address=address: client.get(address)) for what, address in WAYS.items()
    }
    asked["edit"] = edit_first
    found = {}
    for what, run in asked.items():
        took: dict[str, list[float]] = {alone: [], many: []}
        for name in (alone, many) * TIMES:
            use(name)
            took[name].append(median_ms(partial(run, clients[name]), 1))
        found[what] = (median(took[alone]), median(took[many]))
    return found


def use(name: str) -> None:
    """Go on in the database of that name."""
    connection.close()
    connection.settings_dict["NAME"] = name
    connection.ensure_connection()


def in_server(statement: str) -> None:
    """A statement outside of any of the databases."""
    with connection._nodb_cursor() as cursor:
        cursor.execute(statement)


def copied(model: type[models.Model], rows: int, template: models.Model, **given: str) -> None:
    """Put rows in that are like a template; ``given`` says a column's SQL, in which g counts from 0."""
    columns = [field.column for field in model._meta.concrete_fields]
    values = [given.get(column, f"t.{column}") for column in columns]
    table = model._meta.db_table
    with connection.cursor() as cursor:
        cursor.execute(
            f"INSERT INTO {table} ({', '.join(columns)}) SELECT {', '.join(values)} "
            f"FROM generate_series(0, %s) g, {table} t WHERE t.id = %s",
            [rows - 1, template.pk],
        )


def beside(units: int, crews: int) -> None:
    """Put the other crews in, each with its sites, units, plans, years and what is due."""
    from skavit.crews.models import Crew
    from skavit.due.models import Due
    from skavit.sites.models import Site
    from skavit.units.models import PlanRevision, Unit, YearResult

    first = Unit.objects.select_related("site__crew", "head", "result").order_by("pk")[0]
    each = units // crews
    site = f"{BASE} + g / {each} * {SITES_A_CREW} + g %% {SITES_A_CREW}"
    key, hashed = f"{BASE} + g", "repeat(md5(g::text), 2)"
    with transaction.atomic():
        copied(Crew, crews, first.site.crew, id=key, name="'Crew ' || g", is_demo="false")
        crew = f"{BASE} + g / {SITES_A_CREW}"
        copied(Site, crews * SITES_A_CREW, first.site, id=key, crew_id=crew, name="'Site ' || g")
        result = YearResult.objects.get(pk=first.result_id)
        copied(YearResult, units, result, id=key, content_hash=hashed)
        copied(Unit, units, first, id=key, site_id=site, name="'Copy ' || g", head_id=key, result_id=key)
        revision = {"id": key, "unit_id": key, "parent_id": "NULL", "content_hash": hashed, "keyed_hash": hashed}
        copied(PlanRevision, units, first.head_revision, number="1", **revision)
        thing = Due.objects.order_by("pk")[0]
        for number, sort in enumerate(("battery", "findings")):
            own: dict[str, Any] = {"id": f"{BASE} + g * 2 + {number}", "unit_id": key, "sort": f"'{sort}'"}
            owed = {"crew_id": f"{BASE} + g / {each}", "date": "date '2027-01-01' + (g %% 700)::int"}
            copied(Due, units, thing, **own, **owed)


def settle() -> int:
    """As the server does by itself after a while; gives the size of the database in bytes."""
    with connection.cursor() as cursor:
        cursor.execute("VACUUM ANALYZE")
        cursor.execute("SELECT pg_database_size(current_database())")
        return int(cursor.fetchone()[0])


def main() -> None:
    """Measure alone, fill, measure again, tell both."""
    words = argparse.ArgumentParser(description=__doc__)
    words.add_argument("units", type=int, nargs="?", default=UNITS)
    words.add_argument("crews", type=int, nargs="?", default=CREWS)
    asked = words.parse_args()
    django.setup()
    from benchmarks.pages import fill
    from skavit.units import demo

    old = setup_databases(verbosity=0, interactive=False)
    many = connection.settings_dict["NAME"]
    alone = f"{many}_alone"
    try:
        demo.load("x")
        fill(asked.units // asked.crews)
        print(f"one crew of {asked.units // asked.crews:,} units, {settle() / 1e6:,.0f} MB")
        connection.close()
        in_server(f'CREATE DATABASE "{alone}" TEMPLATE "{many}"')
        begun = time.perf_counter()
        beside(asked.units, asked.crews)
        size = settle()
        took = time.perf_counter() - begun
        print(f"beside {asked.crews:,} crews with {asked.units:,} units, {size / 1e9:.1f} GB (filled in {took:.0f} s)")
        for what, (here, there) in figures(alone, many).items():
            print(f"{what:8} {here:8.1f} ms alone {there:8.1f} ms beside, {there / here:5.2f} times   (reach {REACH})")
    finally:
        use(many)
        in_server(f'DROP DATABASE IF EXISTS "{alone}" WITH (FORCE)')
        teardown_databases(old, verbosity=0)


if __name__ == "__main__":
    main()
