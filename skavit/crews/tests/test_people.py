"""A crew's own beginning, and its people: names, invitations, passwords, throttled logins, leaving."""

import re
from concurrent.futures import ThreadPoolExecutor
from contextlib import ExitStack
from datetime import timedelta
from io import StringIO
from pathlib import Path
from tempfile import TemporaryDirectory
from unittest.mock import patch

from axes.models import AccessAttempt
from django.contrib.auth.hashers import PBKDF2PasswordHasher
from django.core import mail
from django.core.exceptions import ValidationError
from django.core.mail import get_connection
from django.core.management import CommandError, call_command
from django.db import connections
from django.test import Client, TestCase, TransactionTestCase, override_settings
from django.urls import reverse
from django.utils import timezone
from procrastinate.contrib.django.models import ProcrastinateJob

from skavit.crews import hashing, password_mail, services
from skavit.crews.leaving import take_out
from skavit.crews.models import Crew, Invitation, Membership, PasswordMail, User
from skavit.crews.names import check_login_name, looks_of
from skavit.crews.tasks import mail_password
from skavit.crews.tests.builders import make_crew, make_unit, member
from skavit.units import demo
from skavit.web.errors import NameTaken

GOOD = "a-long-evening-7"
NEW = {"crew": "Bay lights", "username": "moana", "password": GOOD, "twelve_hour": "0"}


def log_in(client, name, password):
    """Through the page, as people do; whether it was taken."""
    return client.post(reverse("login"), {"username": name, "password": password}).status_code == 302


def choose_password(client, link, name):
    """Go by a link to a new password, and choose one."""
    shown = client.get(link, follow=True)
    assert f"For {name}." in shown.content.decode()
    client.post(shown.redirect_chain[-1][0], {"new_password1": GOOD, "new_password2": GOOD})


def link_in(page):
    return re.search(r'value="http://testserver(/[^"]+)"', page.content.decode())[1]


class BeginTest(TestCase):
    def test_the_first_page_makes_the_first_owner_and_crew(self):
        self.assertRedirects(self.client.get("/"), reverse("login") + "?next=/", target_status_code=302)
        self.assertRedirects(self.client.get(reverse("login")), reverse("begin"))
        page = self.client.post(reverse("begin"), NEW, follow=True)
        self.assertContains(page, "No unit yet")
        owner = Membership.objects.get()
        self.assertEqual((owner.user.username, owner.role, owner.crew.name), ("moana", "owner", "Bay lights"))
        self.assertRedirects(Client().get(reverse("begin")), reverse("login"))
        self.assertEqual(Client().post(reverse("begin"), NEW | {"username": "other"}).status_code, 302)
        self.assertEqual(User.objects.count(), 1)

    def test_what_was_typed_stays_where_it_is_refused(self):
        page = self.client.post(reverse("begin"), NEW | {"password": "moana"})
        self.assertContains(page, "too similar to the username", status_code=422)
        self.assertContains(page, 'value="Bay lights"', status_code=422)

    def test_the_demo_is_taken_away_and_an_own_crew_begun(self):
        demo.load(GOOD)
        self.client.force_login(User.objects.get(username="kahu"))
        self.assertEqual(self.client.post(reverse("demo-remove")).status_code, 403)
        self.client.force_login(User.objects.get(username="owner"))
        self.assertContains(self.client.get(reverse("crew")), "Remove the demo")
        page = self.client.post(reverse("demo-remove"), follow=True)
        self.assertContains(page, "Begin your crew")
        self.assertEqual((Crew.objects.count(), User.objects.count()), (0, 0))

    def test_an_own_crew_is_no_demo(self):
        crew = make_crew()
        self.client.force_login(member(crew, "owner").user)
        self.assertEqual(self.client.post(reverse("demo-remove")).status_code, 403)
        self.assertTrue(Crew.objects.exists())

    def test_the_demo_is_not_loaded_over_somebody(self):
        crew = make_crew()
        User.objects.filter(pk=member(crew, "viewer").user.pk).update(username="kahu", looks=looks_of("kahu"))
        with self.assertRaisesMessage(demo.NamesTaken, "kahu is the name of a crew or a person here already"):
            demo.load(GOOD)
        self.assertEqual(Crew.objects.count(), 1)

    def test_commands_for_the_same(self):
        out = StringIO()
        call_command("begin_crew", "Bay lights", "moana", stdout=out)
        choose_password(self.client, out.getvalue().strip(), "moana")
        self.assertTrue(log_in(Client(), "moana", GOOD))
        out = StringIO()
        call_command("invite", "Bay lights", "viewer", stdout=out)
        self.assertContains(Client().get(out.getvalue().strip()), "moana invites you. Your role: Viewer.")
        out = StringIO()
        call_command("password_link", "moana", stdout=out)
        self.assertContains(Client().get(out.getvalue().strip(), follow=True), "For moana")
        for words in (
            ("begin_crew", "Bay lights", "x"),
            ("begin_crew", "X", "mo\u200bana"),
            ("invite", "No", "viewer"),
        ):
            with self.subTest(words=words), self.assertRaises(CommandError):
                call_command(*words, stdout=StringIO())
        with self.assertRaisesMessage(CommandError, "'nobody' cannot log in here"):
            call_command("password_link", "nobody")
        call_command("remove_demo", stdout=StringIO())
        self.assertEqual(Crew.objects.count(), 1)


class BeginAtOnceTest(TransactionTestCase):
    def test_of_several_who_begin_at_once_one_does(self):
        def one(number):
            try:
                services.begin(crew=f"Crew {number}", username=f"person {number}x", password=GOOD)
            except services.BegunAlready:
                return False
            else:
                return True
            finally:
                connections.close_all()

        with ThreadPoolExecutor(6) as pool:
            self.assertEqual(sum(pool.map(one, range(6))), 1)
        self.assertEqual(Crew.objects.count(), 1)

    def test_of_several_who_join_by_one_link_one_does(self):
        crew = make_crew()
        _, secret = services.invite(member(crew, "owner"), "viewer")

        def one(number):
            try:
                services.join(secret, username=f"person {number}x", password=GOOD)
            except services.LinkEnded:
                return False
            else:
                return True
            finally:
                connections.close_all()

        with ThreadPoolExecutor(6) as pool:
            self.assertEqual(sum(pool.map(one, range(6))), 1)
        self.assertEqual(crew.memberships.count(), 4)


class PeopleTest(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.crew = make_crew()
        cls.unit = make_unit(cls.crew)

    def setUp(self):
        self.client.force_login(member(self.crew, "owner").user)

    def test_a_colleague_joins_by_a_link_that_ends(self):
        link = link_in(self.client.post(reverse("invite"), {"role": "installer"}))
        self.assertNotIn(link.split("/")[2], str(Invitation.objects.values()))
        colleague = Client()
        self.assertContains(colleague.get(link), "invites you. Your role: Installer.")
        page = colleague.post(link, {"username": "tama", "password": GOOD}, follow=True)
        self.assertContains(page, "Path lights")
        self.assertContains(Client().get(link), "has been used", status_code=410)
        self.assertContains(Client().post(link, {"username": "x", "password": GOOD}), "has been used", status_code=410)

    def test_an_invitation_is_taken_back_or_runs_out(self):
        link = link_in(self.client.post(reverse("invite"), {"role": "viewer"}))
        self.client.post(reverse("invitation-back", args=[Invitation.objects.get().pk]))
        self.assertEqual(Client().get(link).status_code, 410)
        link = link_in(self.client.post(reverse("invite"), {"role": "viewer"}))
        Invitation.objects.update(ends=timezone.now() - timedelta(seconds=1))
        self.assertEqual(Client().get(link).status_code, 410)

    def test_the_password_is_changed_and_other_browsers_are_out(self):
        person = member(self.crew).user
        here, there = Client(), Client()
        for browser in (here, there):
            log_in(browser, person.username, "x")
        data = {"about": "password", "old_password": "x", "new_password1": GOOD, "new_password2": GOOD}
        self.assertContains(here.post(reverse("account"), data, follow=True), "The password is changed")
        self.assertEqual(here.get(reverse("round")).status_code, 200)
        self.assertEqual(there.get(reverse("round")).status_code, 302)
        wrong = here.post(reverse("account"), data)
        self.assertContains(wrong, "old password was entered incorrectly", status_code=422)

    def test_an_owner_gives_a_link_to_a_new_password_once(self):
        other = member(self.crew)
        link = link_in(self.client.post(reverse("person-link", args=[other.pk])))
        choose_password(Client(), link, "Test crew installer")
        self.assertTrue(log_in(Client(), other.user.username, GOOD))
        self.assertContains(Client().get(link, follow=True), "This link has ended")

    def test_who_is_taken_out_sees_nothing_more_at_once(self):
        other = member(self.crew)
        link = link_in(self.client.post(reverse("person-link", args=[other.pk])))
        browser = Client()
        log_in(browser, other.user.username, "x")
        invited = services.invite(member(self.crew, "owner"), "viewer")[0]
        Invitation.objects.filter(pk=invited.pk).update(by=other.user)
        self.assertEqual(browser.get(reverse("unit", args=[self.unit.pk])).status_code, 200)
        page = self.client.post(reverse("person-out", args=[other.pk]), follow=True)
        self.assertContains(page, "What they did stays with their name")
        self.assertContains(page, "Who left (1)")
        self.assertEqual(browser.get(reverse("unit", args=[self.unit.pk])).status_code, 302)
        self.assertFalse(log_in(browser, other.user.username, "x"))
        self.assertContains(Client().get(link, follow=True), "This link has ended")
        self.assertFalse(Invitation.objects.exists())
        self.assertEqual(self.unit.head.author, other.user)
        again = link_in(self.client.post(reverse("person-again", args=[other.pk])))
        choose_password(browser, again, other.user.username)
        self.assertTrue(log_in(browser, other.user.username, GOOD))
        self.assertEqual(browser.get(reverse("unit", args=[self.unit.pk])).status_code, 200)

    def test_one_leaves_by_oneself_but_not_the_only_owner(self):
        page = self.client.post(reverse("leave"), follow=True)
        self.assertContains(page, "only owner stays owner")
        installer = Client()
        installer.force_login(member(self.crew).user)
        installer.post(reverse("leave"))
        self.assertEqual(installer.get(reverse("round")).status_code, 302)
        self.assertIsNotNone(member(self.crew).left)

    def test_an_owner_who_left_does_not_count_as_one(self):
        second = services.add_person(member(self.crew, "owner"), username="two", password=GOOD, role="owner")
        first = self.crew.memberships.get(user__username="Test crew owner")
        take_out(first, second)
        with self.assertRaises(services.LastOwner):
            services.set_role(first, first, "viewer")

    def test_too_many_wrong_logins_are_refused_for_a_while_and_nobody_else_is_locked_out(self):
        name = member(self.crew).user.username
        stranger = Client(REMOTE_ADDR="198.51.100.7")
        for _ in range(8):
            answer = stranger.post(reverse("login"), {"username": name, "password": "wrong"})
        self.assertContains(answer, "Too many logins", status_code=429)
        answer = stranger.post(reverse("login"), {"username": name, "password": "x"})
        self.assertContains(answer, "in 15 minutes", status_code=429)
        self.assertTrue(log_in(Client(REMOTE_ADDR="198.51.100.8"), name, "x"))
        answer = stranger.post(reverse("login"), {"username": name, "password": "x"})
        self.assertEqual(answer.status_code, 429)
        self.assert_a_new_password_lifts_it(stranger, name)

    def assert_a_new_password_lifts_it(self, stranger, name):
        link = link_in(self.client.post(reverse("person-link", args=[member(self.crew).pk])))
        choose_password(stranger, link, name)
        self.assertTrue(log_in(stranger, name, GOOD))

    def test_a_password_is_held_against_the_name(self):
        page = self.client.post(
            reverse("person-add"), {"username": "manaia77", "password": "manaia77x", "role": "viewer"}
        )
        self.assertContains(page, "too similar to the username", status_code=422)

    def test_without_a_mail_server_nothing_is_offered(self):
        self.assertEqual(self.client.get(reverse("password-forgotten")).status_code, 404)

    @override_settings(EMAIL_HOST="mail.example")
    def test_a_forgotten_password_by_mail(self):
        self.client.post(reverse("account"), {"about": "mail", "email": "owner@example.org", "mails": "never"})
        self.assertContains(Client().get(reverse("login")), "Password forgotten")
        for address in ("owner@example.org", "nobody@example.org"):
            with self.subTest(address=address):
                page = Client().post(reverse("password-forgotten"), {"email": address}, follow=True)
                self.assertContains(page, "If that mail is known here")
        self.assertEqual(mail.outbox, [])  # the request sends nothing: it asks the same of the worker for both
        jobs = [job.args for job in ProcrastinateJob.objects.filter(task_name=password_mail.TASK).order_by("pk")]
        self.assertEqual([job["email"] for job in jobs], ["owner@example.org", "nobody@example.org"])
        for job in jobs:
            mail_password(**job)
        self.assertEqual([message.to for message in mail.outbox], [["owner@example.org"]])
        path = re.search(r"http://testserver(\S+)", mail.outbox[0].body)[1]
        self.assertContains(Client().get(path, follow=True), "Choose a new password")


class BoundedLoginTest(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.crew = make_crew()

    def log_in(self, name, password="wrong"):
        return Client().post(reverse("login"), {"username": name, "password": password})

    def test_changing_names_from_one_address_are_refused_before_anything_is_hashed(self):
        with patch.object(services, "MOST_FAILED", 5):
            self.assertEqual([self.log_in(f"name{n}").status_code for n in range(5)], [200] * 5)
            with patch.object(PBKDF2PasswordHasher, "encode") as encode:
                self.assertEqual(self.log_in("name9").status_code, 429)
                self.assertEqual(self.log_in("Test crew owner", "x").status_code, 429)
            encode.assert_not_called()
            AccessAttempt.objects.update(attempt_time=timezone.now() - timedelta(minutes=16))
            self.assertEqual(self.log_in("Test crew owner", "x").status_code, 302)

    @override_settings(PASSWORD_HASHERS=["skavit.crews.hashing.HasherInTurn"])
    def test_who_comes_while_others_are_hashed_waits_briefly_and_is_then_told(self):
        with patch.object(hashing, "WAITING_S", 0.05):
            self.assertTrue(hashing._TURN.acquire(timeout=5))
            try:
                answer = self.log_in("Test crew owner", "x")
            finally:
                hashing._TURN.release()
        self.assertEqual(answer.status_code, 429)
        self.assertContains(answer, "Many people are logging in", status_code=429)
        with ExitStack() as waiting:
            for _ in range(hashing.AT_ONCE + hashing.MOST_WAITING):
                hashing._WAITING.acquire()
                waiting.callback(hashing._WAITING.release)
            self.assertEqual(self.log_in("Test crew owner", "x").status_code, 429)

    def test_a_hash_of_before_is_still_known(self):
        plain = PBKDF2PasswordHasher()
        plain.iterations = 1000
        self.assertTrue(hashing.HasherInTurn().verify("x", plain.encode("x", "salt")))

    @override_settings(EMAIL_HOST="mail.example")
    def test_three_password_mails_an_hour_to_one_address_and_no_more(self):
        for _ in range(5):
            Client().post(reverse("password-forgotten"), {"email": "Owner@example.org"})
        asked = ProcrastinateJob.objects.filter(task_name=password_mail.TASK)
        self.assertEqual(asked.count(), 3)
        PasswordMail.objects.update(at=timezone.now() - timedelta(minutes=61))
        Client().post(reverse("password-forgotten"), {"email": "owner@example.org"})
        self.assertEqual(asked.count(), 4)

    def test_private_pages_are_kept_by_nobody(self):
        self.client.force_login(member(self.crew).user)
        for address in (reverse("round"), reverse("account"), reverse("find")):
            with self.subTest(address):
                self.assertEqual(self.client.get(address).headers["Cache-Control"], "private, no-store")

    @override_settings(EMAIL_BACKEND="skavit.server.mail_folder.PrivateFolderBackend")
    def test_a_mail_in_a_folder_is_its_owners_from_the_first_byte(self):
        with TemporaryDirectory() as folder, override_settings(EMAIL_FILE_PATH=folder):
            connection = get_connection()
            connection.open()
            (file,) = Path(folder).iterdir()
            self.assertEqual((file.stat().st_mode & 0o777, file.stat().st_size), (0o600, 0))
            connection.close()
            mail.EmailMessage("A link", "https://x", "a@example.org", ["b@example.org"], connection=connection).send()


class NamesTest(TestCase):
    def test_names_that_look_alike_are_one(self):
        for one, other in (
            ("kahu", "k\u0430hu"),
            ("moana", "m0ana"),
            ("Lily", "lIIy"),
            ("ann", "a\u200bnn"),
            ("tama", "TAMA"),
        ):
            with self.subTest(one=one, other=other):
                self.assertEqual(looks_of(one), looks_of(other), (one, other))
        self.assertNotEqual(looks_of("moana"), looks_of("mauna"))

    def test_letters_that_cannot_be_seen_or_are_mixed_are_refused(self):
        for name in ("mo\u200bana", "\u202eabc", "k\u0430hu", "\uff4bahu", "mo\u00adana", "a\tb", "x<y"):
            with self.subTest(name=name), self.assertRaises(ValidationError, msg=repr(name)):
                check_login_name(name)
        for name in ("moana", "Ngā Rākau", "Пётр", "o'brien", "j.smith-2@bay"):
            check_login_name(name)

    def test_a_look_alike_is_told_at_the_field(self):
        crew = make_crew()
        self.client.force_login(member(crew, "owner").user)
        services.add_person(member(crew, "owner"), username="moana", password=GOOD, role="viewer")
        page = self.client.post(reverse("person-add"), {"username": "m0ana", "password": GOOD, "role": "viewer"})
        self.assertContains(page, "or one that looks like it", status_code=422)
        with self.assertRaises(NameTaken):
            services.add_person(member(crew, "owner"), username="MOANA", password=GOOD, role="viewer")
