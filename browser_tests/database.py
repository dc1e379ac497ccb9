"""The demo, loaded once a process and copied for each test as a database template: copying takes a twentieth of loading."""

from django.db import connection

from skavit.tests.runner import COPIED
from skavit.units import demo

PASSWORD = "a demo password"
_made: set[str] = set()  # databases of this process whose template is there


def fresh_demo():
    """Make the test's database that of a demo which nobody has touched."""
    name = connection.settings_dict["NAME"]
    template = f"{name}{COPIED}"
    if name in _made:
        _copy(template, name)
        return
    demo.load(PASSWORD)
    _copy(name, template)
    _made.add(name)


def _copy(source, target):
    """Put a copy of one database in another's place, whoever still has it open."""
    connection.close()
    with connection._nodb_cursor() as cursor:
        # The server's own processes, such as one that vacuums, nobody may end but the server, which does so for a DROP.
        clients = "datname = %s AND usename = current_user"
        for name in (source, target):
            cursor.execute(f"SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE {clients}", [name])
        cursor.execute(f'DROP DATABASE IF EXISTS "{target}"')
        cursor.execute(f'CREATE DATABASE "{target}" TEMPLATE "{source}"')
