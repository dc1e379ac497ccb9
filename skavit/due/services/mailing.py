"""Mails of what is due: to who asks for them, in the morning of their crew, on Mondays or every day."""

import datetime as dt
import logging
from smtplib import SMTPException

from django.conf import settings
from django.core.mail import send_mail
from django.template.loader import render_to_string
from django.urls import reverse

from skavit.core.ground.arrays import DAY_S, HOUR_S
from skavit.core.text.wording import count
from skavit.crews.models import Mails, Membership
from skavit.due.rows import due_rows
from skavit.due.selectors import due_of_crew, planned_on, today_of
from skavit.server.now import site_digits
from skavit.sites.selectors import home_of

FROM_HOUR, MONDAY = 6, 0
AHEAD = dt.timedelta(days=7)
MOST_ROWS, MOST_MAILS = 40, 2_000
MOST_FAILED = 3  # then the mail server is away, and the rest waits for the next hour


def mail_due(now: int) -> int:
    """Send what is to be sent now; how many mails that were. What cannot be sent is tried again with the next call."""
    asking = Membership.objects.exclude(mails=Mails.NEVER).exclude(user__email="").filter(left=None)
    sent = failed = 0
    for membership in asking.select_related("crew", "user").order_by("pk").iterator(chunk_size=200):
        if sent == MOST_MAILS or failed == MOST_FAILED:
            break
        went = _mail(membership, now)
        sent += went is True
        failed += went is None
    return sent


def _mail(membership: Membership, now: int) -> bool | None:
    """Send somebody what is due; true where a mail went, None where the mail server did not take it."""
    today = today_of(membership.crew, now)
    hour = site_digits(home_of(membership.crew), now) % DAY_S // HOUR_S
    its_day = membership.mails == Mails.DAILY or today.weekday() == MONDAY
    if hour < FROM_HOUR or not its_day or membership.mailed == today:
        return False
    told = _told(membership, today)
    # Put down before it is sent: of two workers one sends.
    theirs = Membership.objects.filter(pk=membership.pk, mailed=membership.mailed)
    if told is None or not theirs.update(mailed=today):
        return False
    subject, text = told
    try:
        send_mail(subject, text, settings.DEFAULT_FROM_EMAIL, [membership.user.email])
    except (SMTPException, OSError):
        logging.getLogger(__name__).exception("The mail to %s was not sent.", membership)
        Membership.objects.filter(pk=membership.pk).update(mailed=membership.mailed)
        return None
    return True


def _told(membership: Membership, today: dt.date) -> tuple[str, str] | None:
    """Subject and text of a mail; None where nothing is due."""
    crew, words = membership.crew, membership.crew.words
    own = list(planned_on(crew, today, membership.user_id)[:MOST_ROWS])
    soon = due_of_crew(crew).exclude(date__gt=today + AHEAD)
    number = soon.order_by().count()
    if not number and not own:
        return None
    visits = f"{count(len(own), 'visit')} of yours today, " if own else ""
    context = {
        "crew": crew,
        "own": own,
        "rows": due_rows(list(soon[:MOST_ROWS]), words, today),
        "more": max(number - MOST_ROWS, 0),
        "address": f"{settings.ADDRESS.rstrip('/')}{reverse('due')}" if settings.ADDRESS else "",
    }
    subject = f"{crew}: {visits}{count(number, 'thing')} due"
    return " ".join(subject.split()), render_to_string("due/mail.txt", context)
