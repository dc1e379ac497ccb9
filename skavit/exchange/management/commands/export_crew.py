"""``manage.py export_crew CREW FILE``: a crew's whole data as one archive."""

import os
from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from skavit.crews.models import Crew
from skavit.exchange.archive import write_archive


class Command(BaseCommand):
    """Write an archive of a crew."""

    help = "Write a crew's whole data, photos too, into one archive."

    def add_arguments(self, parser: CommandParser) -> None:
        """The crew's name and the file."""
        parser.add_argument("crew")
        parser.add_argument("file", type=Path)
        parser.add_argument("--without-passwords", action="store_true", help="people choose new ones by a link")

    def handle(self, *args: Any, **options: Any) -> None:
        """Write it; a file that is there is not written over."""
        crew = Crew.objects.filter(name=options["crew"]).first()
        if crew is None:
            raise CommandError(f"no crew is called {options['crew']!r}")
        try:
            # It holds hashes of passwords: only its owner reads it, from its first byte on.
            handle = os.open(options["file"], os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
            with os.fdopen(handle, "wb") as file:
                write_archive(crew, file, with_passwords=not options["without_passwords"])
        except OSError as error:
            raise CommandError(f"{options['file']}: {error.strerror}") from error
        self.stdout.write(f"{crew.name}: {options['file']}")
