"""``manage.py import_crew FILE``: put the crew of an archive in."""

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from skavit.exchange.archive import ArchiveRefused, read_archive, work_out


class Command(BaseCommand):
    """Put the crew of an archive in, all of it or nothing."""

    help = "Put the crew of an archive in; its name and those of its people must be free."

    def add_arguments(self, parser: CommandParser) -> None:
        """The file."""
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        """Put it in, then work its years out."""
        try:
            with options["file"].open("rb") as file:
                crew = read_archive(file)
        except OSError as error:
            raise CommandError(f"{options['file']}: {error.strerror}") from error
        except ArchiveRefused as error:
            raise CommandError(str(error)) from error
        work_out(crew, lambda done, of: self.stdout.write(f"\r{done} of {of} years worked out", ending=""))
        self.stdout.write(f"\n{crew.name} is in.")
