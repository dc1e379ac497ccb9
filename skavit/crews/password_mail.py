"""A mail with a link to a new password: asked for in a request, looked up and sent by the worker.

The request does the same for an address that is known and for one that is not, and no mail server can hold it up.
"""

from datetime import timedelta
from urllib.parse import urlsplit

from django.contrib.auth.forms import PasswordResetForm
from django.db import transaction
from django.utils import timezone
from procrastinate.contrib.django import app as queue

from skavit.crews.models import PasswordMail
from skavit.server.processes import QUEUE
from skavit.web.links import hash_of

TASK = "skavit.crews.mail_password"
AN_HOUR, KEPT = timedelta(hours=1), timedelta(days=1)
MOST_TO_AN_ADDRESS, MOST_FROM_A_SENDER = 3, 20  # an hour


def ask_mail(email: str, *, sender: str, address: str) -> None:
    """Ask for a mail to ``email``; what is asked for too often is passed over in silence.

    ``sender`` is the network address of who asks, ``address`` that of this server for the link.
    """
    now, whom, by = timezone.now(), hash_of(email.strip().lower()), hash_of(sender)
    lately = PasswordMail.objects.filter(at__gt=now - AN_HOUR)
    PasswordMail.objects.filter(at__lt=now - KEPT).delete()
    if lately.filter(whom=whom).count() >= MOST_TO_AN_ADDRESS or lately.filter(sender=by).count() >= MOST_FROM_A_SENDER:
        return
    with transaction.atomic():
        PasswordMail.objects.create(whom=whom, sender=by, at=now)
        queue.configure_task(TASK, queue=QUEUE).defer(email=email, address=address)


def send_mail(email: str, address: str) -> None:
    """Send the link to each person who has this mail address; nobody where it is not known."""
    form = PasswordResetForm({"email": email})
    if form.is_valid():
        at = urlsplit(address)
        form.save(
            domain_override=at.netloc,
            use_https=at.scheme == "https",
            email_template_name="password_mail.txt",
            subject_template_name="password_subject.txt",
        )
