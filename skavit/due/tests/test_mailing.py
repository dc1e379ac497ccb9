"""Mails of what is due: in the morning of the crew, once, to who asks for them."""

import datetime as dt
import re
from smtplib import SMTPServerDisconnected
from unittest.mock import patch

from django.core import mail
from django.core.management import call_command
from django.test import TestCase, override_settings
from django.urls import reverse
from procrastinate.contrib.django import app

from skavit.crews.models import Membership
from skavit.crews.tests.builders import make_crew, make_unit, member
from skavit.due.services.mailing import mail_due
from skavit.due.services.planning import plan_visit

# Monday 16 November 2026 in New Zealand, which is 13 hours ahead of UTC then.
MIDNIGHT = int(dt.datetime(2026, 11, 15, 11, tzinfo=dt.UTC).timestamp())
HOUR = 3_600
DAY = 24 * HOUR


def at(hour, day=0):
    return MIDNIGHT + day * DAY + hour * HOUR


class MailTest(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.crew = make_crew()
        cls.unit = make_unit(cls.crew)
        cls.kahu = member(cls.crew)

    def ask(self, membership, mails, email="kahu@example.org"):
        membership.user.email, membership.mails = email, mails
        membership.user.save()
        membership.save()

    def visit_on(self, date):
        plan_visit(self.unit, self.kahu, person=self.kahu.user, date=date, note="ladder", now=at(0))

    def test_nobody_who_does_not_ask_is_sent_any(self):
        self.assertEqual(mail_due(at(8)), 0)
        self.ask(self.kahu, "daily", email="")
        self.assertEqual(mail_due(at(8)), 0)

    def test_from_six_in_the_morning_of_the_crew_on_and_once_a_day(self):
        self.ask(self.kahu, "daily")
        self.assertEqual([mail_due(at(hour)) for hour in (0, 5, 6, 7, 23)], [0, 0, 1, 0, 0])
        self.assertEqual([mail_due(at(hour, day=1)) for hour in (5, 6, 7)], [0, 1, 0])

    def test_on_mondays_alone(self):
        self.ask(self.kahu, "mondays")
        self.assertEqual([mail_due(at(7, day)) for day in range(9)], [1, 0, 0, 0, 0, 0, 0, 1, 0])

    def test_it_tells_what_is_due_and_ones_own_visits(self):
        self.ask(self.kahu, "daily")
        self.visit_on(dt.date(2026, 11, 16))
        with override_settings(ADDRESS="https://skavit.example.org/"):
            mail_due(at(6))
        (sent,) = mail.outbox
        self.assertEqual(sent.to, ["kahu@example.org"])
        self.assertRegex(sent.subject, r"^Test crew: 1 visit of yours today, \d+ things due$")
        self.assertIn("- Path lights, Harbour walk: ladder", sent.body)
        self.assertIn(f"https://skavit.example.org{reverse('due')}", sent.body)
        self.assertTrue(re.search(r"- now: Path lights, Harbour walk: .*look at its year", sent.body), sent.body)
        self.assertNotIn("&", sent.body)

    def test_what_is_due_later_than_a_week_is_not_told(self):
        self.ask(self.kahu, "daily")
        self.unit.due.all().delete()
        self.visit_on(dt.date(2026, 11, 30))
        self.unit.due.exclude(sort="planned").delete()
        self.assertEqual(mail_due(at(6)), 0)
        self.assertEqual(mail_due(at(6, day=7)), 1)

    def test_what_was_not_sent_is_sent_with_the_next_hour(self):
        self.ask(self.kahu, "daily")
        with (
            patch("skavit.due.services.mailing.send_mail", side_effect=SMTPServerDisconnected("gone")),
            self.assertLogs("skavit.due.services.mailing"),
        ):
            self.assertEqual(mail_due(at(6)), 0)
        self.assertEqual(mail_due(at(7)), 1)

    def test_who_left_and_another_crew_get_nothing_of_it(self):
        other = make_crew("Other crew")
        self.ask(member(other), "daily", email="other@example.org")
        self.ask(self.kahu, "daily")
        Membership.objects.filter(pk=self.kahu.pk).update(left=dt.datetime(2026, 11, 1, tzinfo=dt.UTC))
        self.assertEqual(mail_due(at(6)), 0)

    def test_it_is_asked_for_on_ones_account(self):
        self.client.force_login(self.kahu.user)
        with override_settings(EMAIL_HOST="mail.example.org"):
            self.assertContains(self.client.get(reverse("account")), "On Mondays")
            sent = {"about": "mail", "email": "kahu@example.org", "mails": "mondays"}
            self.assertRedirects(self.client.post(reverse("account"), sent), reverse("account"))
        self.kahu.refresh_from_db()
        self.assertEqual((self.kahu.mails, self.kahu.user.email), ("mondays", "kahu@example.org"))

    def test_the_queue_sends_them_once_an_hour_and_so_does_the_command(self):
        self.ask(self.kahu, "daily")
        periodic = {one.task.name: one.cron for one in app.periodic_registry.periodic_tasks.values()}
        self.assertEqual(periodic["skavit.due.mail_due"], "7 * * * *")
        app.tasks["skavit.due.mail_due"](timestamp=at(6))
        self.assertEqual(len(mail.outbox), 1)
        call_command("mail_due", verbosity=0, stdout=None)
