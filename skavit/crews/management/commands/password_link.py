"""``manage.py password_link NAME``: the path of a link by which a person chooses a new password."""

from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from skavit.crews import services
from skavit.crews.models import User


class Command(BaseCommand):
    """Give a link to a new password."""

    help = "Print the path of a link by which a person chooses a new password, once, within a day."

    def add_arguments(self, parser: CommandParser) -> None:
        """The user name."""
        parser.add_argument("name")

    def handle(self, *args: Any, **options: Any) -> None:
        """Give it."""
        person = User.objects.filter(username=options["name"], is_active=True).first()
        if person is None:
            raise CommandError(
                f"{options['name']!r} cannot log in here. Accepted: a user name of somebody who is in a crew."
            )
        self.stdout.write(services.password_link(person))
