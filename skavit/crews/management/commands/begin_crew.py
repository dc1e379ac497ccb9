"""``manage.py begin_crew CREW NAME``: a crew with an owner, who chooses a password by the link that is printed."""

import secrets
from typing import Any

from django.core.exceptions import ValidationError
from django.core.management.base import BaseCommand, CommandError, CommandParser

from skavit.crews import services
from skavit.crews.names import check_login_name, check_name
from skavit.web.errors import NameTaken


class Command(BaseCommand):
    """Begin a crew."""

    help = "Begin a crew with an owner; prints the path of the link by which the owner chooses a password."

    def add_arguments(self, parser: CommandParser) -> None:
        """The crew's name and the owner's."""
        parser.add_argument("crew")
        parser.add_argument("owner")

    def handle(self, *args: Any, **options: Any) -> None:
        """Begin it."""
        crew, owner = options["crew"].strip(), options["owner"].strip()
        try:
            check_name(crew)
            check_login_name(owner)
            member = services.begin_crew(crew=crew, username=owner, password=secrets.token_urlsafe())
        except (NameTaken, ValidationError) as error:
            raise CommandError("; ".join(getattr(error, "messages", [str(error)]))) from error
        self.stdout.write(services.password_link(member.user))
