"""``manage.py invite CREW ROLE``: the path of a link by which one person joins a crew."""

from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.urls import reverse

from skavit.crews import services
from skavit.crews.models import Membership, Role


class Command(BaseCommand):
    """Invite somebody, in the name of the crew's first owner."""

    help = "Print the path of a link by which one person joins a crew, within seven days."

    def add_arguments(self, parser: CommandParser) -> None:
        """The crew's name and the role."""
        parser.add_argument("crew")
        parser.add_argument("role", choices=Role.values)

    def handle(self, *args: Any, **options: Any) -> None:
        """Invite."""
        owners = Membership.objects.filter(crew__name=options["crew"], role=Role.OWNER, left=None)
        owner = owners.select_related("crew", "user").order_by("pk").first()
        if owner is None:
            raise CommandError(f"There is no crew {options['crew']!r}. Accepted: the name of a crew.")
        _, secret = services.invite(owner, options["role"])
        self.stdout.write(reverse("join", args=[secret]))
