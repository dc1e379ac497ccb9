"""``manage.py make_ready``: what ``./start`` does to the database and the files before it serves, and what is said once it does."""

import os
from hashlib import sha256
from pathlib import Path
from typing import Any

from django.conf import settings
from django.contrib.staticfiles.finders import get_finders
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError, CommandParser

from skavit.crews.models import Crew, Membership, Role
from skavit.crews.services import nobody_yet
from skavit.units import demo


class Command(BaseCommand):
    """Bring the tables up to date, gather the files, load the demo where it is wanted."""

    help = "Make the database and the files ready, and write down how to log in."

    def add_arguments(self, parser: CommandParser) -> None:
        """The address it will be served at, and what the database begins with."""
        parser.add_argument("--address", required=True)
        parser.add_argument("--say", required=True, help="the file for what is said once the page answers")
        parser.add_argument("--begin", choices=["auto", "empty", "demo"], default="auto")

    def handle(self, *args: Any, **options: Any) -> None:
        """Make ready."""
        call_command("migrate", verbosity=0)
        _gather_static()
        password = os.environ["SKAVIT_DEMO_PASSWORD"]
        if options["begin"] == "demo" or (options["begin"] == "auto" and nobody_yet() and not Crew.objects.exists()):
            try:
                demo.load(password)
            except demo.NamesTaken as error:
                raise CommandError(str(error)) from error
        lines = ["", f"Skavit is at   {options['address']}"]
        if nobody_yet():
            lines.append("Nobody is here yet: its first page begins your crew.")
        lines += [*self._demo_login(password), "Ctrl-C stops it.", ""]
        handle = os.open(options["say"], os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600)  # it holds a password
        with os.fdopen(handle, "w") as file:
            file.write("\n".join(lines))

    def _demo_login(self, password: str) -> list[str]:
        """How to log in to the demo, where it is there and its password is still the first one."""
        people = list(Membership.objects.filter(crew__is_demo=True, left=None).select_related("user"))
        first = next((member.user for member in people if member.role == Role.INSTALLER), None)
        if first is None or not first.check_password(password):
            return []
        # The demo's people have one hash between them until they choose passwords of their own: checking takes a second.
        alike = [member.user for member in people if member.user != first and member.user.password == first.password]
        others = ", ".join(user.username for user in alike)
        return [
            f"Demo login     {first}   (installer{f'; also: {others}' if others else ''})",
            f"Password       {password}",
        ]


def _gather_static() -> None:
    """Gather and compress the static files, unless they are those of the last time."""
    stamp = settings.STATIC_ROOT / ".gathered"
    seen = sha256(settings.STORAGES["staticfiles"]["BACKEND"].encode())
    for finder in get_finders():
        for path, storage in finder.list(()):
            about = Path(storage.path(path)).stat()
            seen.update(f"{path} {about.st_size} {about.st_mtime_ns}\n".encode())
    if stamp.exists() and stamp.read_text() == seen.hexdigest():
        return
    call_command("collectstatic", verbosity=0, interactive=False)
    stamp.write_text(seen.hexdigest())
