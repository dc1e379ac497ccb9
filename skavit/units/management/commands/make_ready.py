"""``manage.py make_ready``: what ``./start`` does to the database and the files before it serves, and what is said once it does."""

import os
from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError, CommandParser

from skavit.crews.models import Crew, Membership, Role
from skavit.crews.services import nobody_yet
from skavit.units import demo


class Command(BaseCommand):
    """Bring the tables up to date, gather the files, load the demo where it is wanted."""

    help = "Make the database and the files ready, and write down how to log in."

    def add_arguments(self, parser: CommandParser) -> None:
        """The address it will be served at, and what stands at the beginning."""
        parser.add_argument("--address", required=True)
        parser.add_argument("--say", required=True, help="the file for what is said once the page answers")
        parser.add_argument("--begin", choices=["auto", "empty", "demo"], default="auto")

    def handle(self, *args: Any, **options: Any) -> None:
        """Make ready."""
        call_command("migrate", verbosity=0)
        call_command("collectstatic", verbosity=0, interactive=False)
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
        members = Membership.objects.filter(crew__is_demo=True, left=None).select_related("user")
        people = {member.user.username: member for member in members if member.user.check_password(password)}
        first = next((name for name, member in people.items() if member.role == Role.INSTALLER), None)
        if first is None:
            return []
        others = ", ".join(name for name in people if name != first)
        return [
            f"Demo login     {first}   (installer{f'; also: {others}' if others else ''})",
            f"Password       {password}",
        ]
