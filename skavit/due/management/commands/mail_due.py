"""``manage.py mail_due``: send the mails of what is due now, as a worker does by itself once an hour."""

from typing import Any

from django.core.management.base import BaseCommand

from skavit.core.text.wording import count
from skavit.due.services.mailing import mail_due
from skavit.server.now import read_now


class Command(BaseCommand):
    """Send what is to be sent at this hour."""

    help = "Send the mails of what is due now."

    def handle(self, *args: Any, **options: Any) -> None:
        """Say how many."""
        self.stdout.write(f"{count(mail_due(read_now()), 'mail')} sent.")
