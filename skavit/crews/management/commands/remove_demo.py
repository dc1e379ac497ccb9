"""``manage.py remove_demo``: take the demo crew away, with its people."""

from typing import Any

from django.core.management.base import BaseCommand

from skavit.crews import services


class Command(BaseCommand):
    """Take the demo away."""

    help = "Take the demo crew away with all it has."

    def handle(self, *args: Any, **options: Any) -> None:
        """Remove it."""
        services.remove_demo(None)
        self.stdout.write("There is no demo crew any more.")
