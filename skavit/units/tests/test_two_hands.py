"""Two at once: racing edits, stale forms, forms sent twice, ticks that arrive late. One of them counts, none is lost unsaid."""

from collections import Counter
from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, datetime, timedelta
from unittest import mock

from django.db import connection, connections
from django.test import Client, TestCase, TransactionTestCase
from django.urls import reverse
from django.utils import timezone

from skavit.core.kinds import shipped_kinds
from skavit.core.plan import edits
from skavit.crews.models import User
from skavit.crews.tests.builders import make_crew, make_unit, member
from skavit.kinds.models import Kind
from skavit.kinds.services import add_kind, move_step
from skavit.server.now import read_now
from skavit.sites.models import Site
from skavit.units import computing, results
from skavit.units.models import Tick, Unit
from skavit.units.services import revisions

AT_ONCE = 12
PLACE = {"latitude": "-39.5", "longitude": "176.9", "timezone": "Pacific/Auckland"}


class RacingTest(TransactionTestCase):
    def setUp(self):
        self.crew = make_crew()
        self.unit = make_unit(self.crew)

    def at_once(self, send, times=AT_ONCE):
        """The statuses of one request sent by several at the same time, counted."""
        sessions = []
        for _ in range(times):
            client = Client(raise_request_exception=False)
            client.force_login(member(self.crew).user)
            sessions.append(client)

        def one(client):
            try:
                return send(client).status_code
            finally:
                connections.close_all()

        with ThreadPoolExecutor(times) as pool:
            return Counter(pool.map(one, sessions))

    def test_of_racing_edits_one_counts_and_the_others_are_told(self):
        for name, args in (("row-action", ["entry-0", "remove"]), ("undo", [])):
            with self.subTest(name=name):
                base = Unit.objects.get(pk=self.unit.pk).head.number
                revisions = self.unit.revisions.count()
                url = reverse(name, args=[self.unit.pk, *args])
                found = self.at_once(lambda c, url=url, b=base: c.post(url, {"revision": b}))
                self.assertEqual(found, {302: 1, 409: AT_ONCE - 1}, name)
                self.assertEqual(self.unit.revisions.count() - revisions, int(name == "row-action"))

    def test_forms_sent_twice(self):
        site = {"name": "Pier", **PLACE}
        self.assertEqual(self.at_once(lambda c: c.post(reverse("site-new"), site)), {302: 1, 422: AT_ONCE - 1})
        self.assertEqual(Site.objects.filter(name="Pier").count(), 1)
        unit = {"name": "Bollards", "kind": "unknown", "channel_1": "Lamps"}
        new = reverse("unit-new", args=[self.unit.site.pk])
        self.assertEqual(self.at_once(lambda c: c.post(new, unit)), {302: 1, 422: AT_ONCE - 1})
        copy = reverse("kind-copy", args=["room-thermostat"])
        self.assertEqual(self.at_once(lambda c: c.post(copy)), {302: AT_ONCE})
        self.assertEqual(len(set(Kind.objects.values_list("name", flat=True))), AT_ONCE)

    def test_a_login_pressed_twice(self):
        User.objects.get(username="Test crew installer").set_password("x")
        browser = Client(enforce_csrf_checks=True)
        browser.get(reverse("login"))
        token = browser.cookies["csrftoken"].value
        data = {"username": "Test crew installer", "password": "x", "csrfmiddlewaretoken": token}
        self.assertRedirects(browser.post(reverse("login"), data), reverse("round"))
        self.assertRedirects(browser.post(reverse("login"), data), reverse("round"))

    def test_nothing_is_computed_while_the_unit_is_locked(self):
        locked, worked_out = [], []
        real, year = revisions._locked, computing.unit_year

        def lock(unit):
            locked.append(len(worked_out))
            return real(unit)

        def work_out(*words, **more):
            worked_out.append(connection.in_atomic_block)
            return year(*words, **more)

        with (
            mock.patch.object(revisions, "_locked", lock),
            mock.patch.object(computing, "unit_year", work_out),
            mock.patch.object(results, "unit_year", work_out),
        ):
            revisions.edit(
                self.unit,
                member(self.crew),
                self.unit.head.number,
                lambda plan: plan.with_entries(()),
                "x",
                now=read_now(),
            )
        self.assertEqual(len(locked), 1)
        self.assertGreaterEqual(len(worked_out), 2)
        self.assertFalse(any(worked_out))


class StaleFormTest(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.crew = make_crew()
        cls.unit = make_unit(cls.crew)

    def setUp(self):
        self.client.force_login(member(self.crew).user)

    def test_a_site_changed_meanwhile_is_not_undone(self):
        edit = reverse("site-edit", args=[self.unit.site.pk])
        shown = self.client.get(edit).context["form"].initial
        self.client.post(edit, shown | {"latitude": "-40"})
        typed = shown | {"name": "The long jetty"}
        page = self.client.post(edit, typed)
        self.assertContains(page, "It is now: Harbour walk, -40, 176.91", status_code=409)
        self.assertContains(page, 'value="The long jetty"', status_code=409)
        self.assertEqual(Site.objects.get().latitude, -40)
        sent_again = {name: page.context["form"][name].value() for name in shown}
        self.assertRedirects(self.client.post(edit, sent_again), reverse("site", args=[self.unit.site.pk]))
        self.assertEqual(Site.objects.get().name, "The long jetty")

    def test_a_kind_changed_meanwhile_is_not_undone(self):
        row = add_kind(member(self.crew), shipped_kinds()[0])
        edit = reverse("kind-edit", args=[row.pk])
        form = self.client.get(edit).context["form"]
        typed = {
            n: v for n in form.fields if (v := form.initial.get(n, form.fields[n].initial)) not in (None, False, "")
        }
        move_step(member(self.crew), row, row.kind.order[1], -1)
        page = self.client.post(edit, typed | {"name": "Another name"})
        self.assertContains(page, "Somebody changed this meanwhile", status_code=409)
        self.assertContains(page, 'value="Another name"', status_code=409)
        self.assertNotEqual(Kind.objects.get().name, "Another name")

    def test_undo_is_of_the_page_that_was_seen(self):
        seen = self.unit.head.number
        revisions.edit(
            self.unit, member(self.crew), seen, lambda plan: plan.with_entries(()), "all cleared", now=read_now()
        )
        answer = self.client.post(reverse("undo", args=[self.unit.pk]), {"revision": seen})
        self.assertContains(answer, "changed this unit meanwhile (all cleared)", status_code=409)
        self.assertEqual(Unit.objects.get().head.note, "all cleared")


class TickTest(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.crew = make_crew()
        cls.unit = make_unit(cls.crew)

    def setUp(self):
        self.client.force_login(member(self.crew).user)
        self.key = self.client.get(reverse("sheet", args=[self.unit.pk])).context["rows"][0].step.key

    def send(self, *, done, ago_s, person=None):
        said = int((timezone.now() - timedelta(seconds=ago_s)).timestamp() * 1000)
        data = {"key": self.key, "done": "1" if done else "0", "said": said}
        data |= {"person": person} if person else {}
        return self.client.post(reverse("tick", args=[self.unit.pk]), data, headers={"HX-Request": "true"})

    def is_done(self):
        return Tick.objects.filter(key=self.key, done=True).exists()

    def test_what_was_pressed_later_stands_in_whatever_order_it_arrives(self):
        self.assertEqual(self.send(done=False, ago_s=60).json(), {"gone": {}})
        self.assertEqual(self.send(done=True, ago_s=600).status_code, 200)
        self.assertFalse(self.is_done())
        self.send(done=True, ago_s=30)
        self.assertTrue(self.is_done())
        self.send(done=False, ago_s=45)
        self.assertTrue(self.is_done())

    def test_a_clock_that_is_ahead_wins_nothing(self):
        self.send(done=True, ago_s=-86_400)
        self.assertLessEqual(Tick.objects.get().said, timezone.now())
        self.send(done=False, ago_s=0)
        self.assertFalse(self.is_done())

    def test_many_at_once_need_no_sheet_where_the_page_proves_them(self):
        page = self.client.get(reverse("sheet", args=[self.unit.pk])).context
        keys, proof = [row.step.key for row in page["rows"] if row.step.key], page["proof"]
        url = reverse("tick", args=[self.unit.pk])
        sent = {"key": [*keys, "f" * 32], "done": ["1"] * (len(keys) + 1), "said": [""] * (len(keys) + 1)}
        answer = self.client.post(url, sent | {"proof": proof}, headers={"HX-Request": "true"}).json()
        self.assertEqual(list(answer["gone"]), ["f" * 32])
        self.assertEqual(Tick.objects.filter(done=True).count(), len(set(keys)))
        sent = {"key": keys, "done": ["0"] * len(keys), "said": [""] * len(keys), "proof": proof}
        with mock.patch("skavit.units.sheets.unit_year", side_effect=AssertionError("worked out")):
            self.assertEqual(self.client.post(url, sent, headers={"HX-Request": "true"}).json(), {"gone": {}})
            with self.assertRaises(AssertionError):
                self.client.post(url, sent | {"proof": proof + "x"}, headers={"HX-Request": "true"})
        self.assertFalse(Tick.objects.filter(done=True).exists())
        revisions.edit(
            self.unit, member(self.crew), self.unit.head.number, lambda p: edits.remove_entry(p, 0), "x", now=read_now()
        )
        gone = self.client.post(url, sent, headers={"HX-Request": "true"}).json()["gone"]
        self.assertTrue(gone)

    def test_begun_again_an_old_tick_that_arrives_late_stays_open(self):
        self.send(done=True, ago_s=100)
        self.client.post(reverse("ticks-clear", args=[self.unit.pk]))
        self.send(done=True, ago_s=50)
        self.assertFalse(self.is_done())

    def test_a_tick_of_somebody_else_is_not_sent_as_ones_own(self):
        other = member(self.crew, "owner").user.pk
        answer = self.send(done=True, ago_s=0, person=other)
        self.assertContains(answer, "Somebody else is logged in here now", status_code=403)
        self.assertEqual(Tick.objects.count(), 0)

    def test_nonsense_for_the_time_counts_as_now(self):
        for said in ("", "x", "9" * 30, "-5"):
            with self.subTest(said=said):
                data = {"key": self.key, "done": "1", "said": said}
                answer = self.client.post(reverse("tick", args=[self.unit.pk]), data, headers={"HX-Request": "true"})
                self.assertEqual(answer.status_code, 200, said)
        self.assertGreater(Tick.objects.get().said, datetime(2026, 1, 1, tzinfo=UTC))
