"""``manage.py load_demo``: the demo crew, put in once."""

import os
from typing import Any

from django.core.management.base import BaseCommand, CommandError

from skavit.units import demo


class Command(BaseCommand):
    """Load the demo data where they are not there yet."""

    help = "Load the demo crew, once. The password is that of SKAVIT_DEMO_PASSWORD."

    def handle(self, *args: Any, **options: Any) -> None:
        """Load, and say what was done."""
        password = os.environ.get("SKAVIT_DEMO_PASSWORD", "")
        if not password:
            raise CommandError("SKAVIT_DEMO_PASSWORD is not set; accepted: a password for the demo people.")
        try:
            loaded = demo.load(password)
        except demo.NamesTaken as error:
            raise CommandError(str(error)) from error
        self.stdout.write("Demo data loaded." if loaded else "The demo crew is here already.")
