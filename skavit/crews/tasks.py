"""What the queue does for people: mails with a link to a new password. Its worker finds this module by its name."""

from procrastinate.contrib.django import app

from skavit.crews import password_mail
from skavit.server.processes import QUEUE


@app.task(name=password_mail.TASK, queue=QUEUE)
def mail_password(email: str, address: str) -> None:
    """Send a link to a new password."""
    password_mail.send_mail(email, address)
