"""Requests for large plans: handed over, joined, answered by the worker, fetched; bounded, private, and never done twice."""

import os
import re
import time
from datetime import timedelta
from unittest import TestCase as PlainTest
from unittest import mock

from django.test import TestCase
from django.urls import reverse
from django.utils import timezone
from procrastinate.contrib.django import app as queue

from skavit.apart import middleware, run, services
from skavit.apart.models import Asked, State
from skavit.apart.switch import TO_WORKER
from skavit.apart.tests.builders import answer_all
from skavit.api import keys
from skavit.background.management.commands import work
from skavit.core.tests.builders import document, window
from skavit.core.tests.test_bounds import many_entries
from skavit.crews.leaving import take_out
from skavit.crews.tests.builders import make_crew, make_unit, member, stop_clock
from skavit.customer.services import make_link
from skavit.server.now import read_instant
from skavit.server.processes import NICE
from skavit.tests.runner import may_have_children
from skavit.units import ahead, computing, results
from skavit.units.models import Unit
from skavit.units.services.revisions import edit

LARGE = document([window("sunset", "22:40")], many_entries(computing.LARGE + 1))
PAGE = {"Accept": "text/html"}
SCRIPT = {"HX-Request": "true", "Skavit-Waits": "1"}
COPY = ["entry-0", "copy"]
OK, FOUND, ACCEPTED, CONFLICT, GONE, UNAVAILABLE = 200, 302, 202, 409, 410, 503
NOON = 1_798_000_000


class QueuesTest(PlainTest):
    def test_each_task_is_in_a_queue_that_a_worker_works_on(self):
        ours = {task.queue for name, task in queue.tasks.items() if name.startswith("skavit.")}
        self.assertEqual(ours, {work.LONG_WORK, work.PAGES})


class HandedOverTest(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.crew = make_crew()
        cls.unit = make_unit(cls.crew, LARGE)
        cls.page = reverse("unit", args=[cls.unit.pk])

    def setUp(self):
        stop_clock(self, NOON)
        computing.KEPT.clear()
        for told in (
            mock.patch.object(TO_WORKER, "on", True),
            mock.patch.object(middleware, "PAGE_S", 0),
            mock.patch.object(middleware, "LOOK_S", 0),
            mock.patch.object(middleware, "SCRIPT_S", 0),
        ):
            told.start()
            self.addCleanup(told.stop)
        self.client.force_login(member(self.crew).user)

    def sent(self, name="row-action", **headers):
        """An edit of the large plan: its first entry copied, or another."""
        base = Unit.objects.get(pk=self.unit.pk).head_revision.number
        url = reverse(name, args=[self.unit.pk, *(COPY if name == "row-action" else [])])
        return self.client.post(url, {"revision": base}, headers=headers or PAGE)

    def stands_at(self):
        return Unit.objects.get(pk=self.unit.pk).head_revision.number

    def test_a_page_is_worked_out_by_the_worker_and_is_the_same(self):
        waits = self.client.get(self.page, headers=PAGE)
        self.assertEqual((waits.status_code, waits.headers["Refresh"]), (ACCEPTED, "1"))
        self.assertContains(waits, "Working it out", status_code=ACCEPTED)
        self.assertEqual(waits.headers["Cache-Control"], "private, no-store")
        self.assertEqual(self.client.get(self.page, headers=PAGE).status_code, ACCEPTED)
        self.assertEqual(Asked.objects.count(), 1)  # the second look joined the first
        answer_all()
        there = self.client.get(self.page, headers=PAGE)
        with mock.patch.object(TO_WORKER, "on", False):
            here = self.client.get(self.page, headers=PAGE)
        self.assertEqual(*(_without_token(answer) for answer in (there, here)))
        self.assertIn("frame-ancestors", there.headers["Content-Security-Policy"])
        self.assertFalse(Asked.objects.exists())

    def test_nothing_of_a_large_plan_is_computed_in_the_request(self):
        computed = AssertionError("computed here")
        with (
            mock.patch.object(computing, "replay", side_effect=computed),
            mock.patch.object(ahead, "replay", side_effect=computed),
        ):
            for name in ("unit", "sheet", "visit", "customer", "handover", "unit-clock", "day", "record"):
                answer = self.client.get(reverse(name, args=[self.unit.pk]), headers=PAGE)
                self.assertIn(answer.status_code, (ACCEPTED, OK if name == "record" else ACCEPTED), name)

    def test_an_edit_without_the_script_is_done_once_and_leads_where_it_leads(self):
        before = self.stands_at()
        sent = self.sent()
        self.assertEqual(sent.status_code, FOUND)
        self.assertEqual(self.client.get(sent.url, headers=PAGE).headers["Refresh"], "1")
        self.assertEqual(self.stands_at(), before)
        answer_all()
        then = self.client.get(sent.url, headers=PAGE)
        self.assertEqual(then.status_code, FOUND)
        self.assertTrue(then.headers["Location"].startswith(self.page))
        self.assertEqual(self.stands_at(), before + 1)
        self.assertEqual(
            self.client.get(sent.url, headers=PAGE).headers["Location"], then.headers["Location"]
        )  # come for again, done once
        self.assertEqual(self.stands_at(), before + 1)

    def test_the_pages_script_comes_for_its_answer(self):
        waits = self.client.get(reverse("day", args=[self.unit.pk]), headers=SCRIPT)
        self.assertEqual(waits.status_code, ACCEPTED)
        self.assertNotContains(waits, "<html", status_code=ACCEPTED)
        again = SCRIPT | {"Skavit-Answer": waits.headers["Skavit-Answer"]}
        self.assertEqual(self.client.get(reverse("day", args=[self.unit.pk]), headers=again).status_code, ACCEPTED)
        answer_all()
        answer = self.client.get(reverse("day", args=[self.unit.pk]), headers=again)
        self.assertContains(answer, "night")

    def test_a_stale_edit_is_told_with_its_own_status(self):
        url = reverse("channel-copy", args=[self.unit.pk, 1])
        waits = self.client.post(url, {"revision": 0}, headers=SCRIPT)
        answer_all()
        again = SCRIPT | {"Skavit-Answer": waits.headers["Skavit-Answer"]}
        self.assertContains(self.client.post(url, headers=again), "changed this unit meanwhile", status_code=CONFLICT)

    def test_a_script_that_cannot_come_again_waits_for_the_whole(self):
        with mock.patch.object(middleware, "SCRIPT_S", 30), mock.patch.object(time, "sleep", lambda _: answer_all()):
            answer = self.client.get(self.page, headers={"Accept": "*/*"})
        self.assertContains(answer, "Path lights")
        self.assertContains(self.client.get(self.page), "Accepted: fewer entries", status_code=UNAVAILABLE)

    def test_another_program_waits_for_the_whole_too(self):
        key = keys.make_key(member(self.crew, "owner"), "Accounts")
        asks = {"Accept": "application/json", "Authorization": f"Bearer {key}"}
        self.client.logout()
        with mock.patch.object(middleware, "SCRIPT_S", 30), mock.patch.object(time, "sleep", lambda _: answer_all()):
            answer = self.client.get(f"/api/units/{self.unit.pk}/next", headers=asks)
        self.assertEqual(answer.status_code, OK, answer.content)
        self.assertTrue(answer.json())
        with mock.patch.object(services, "join", side_effect=AssertionError("its findings are kept")):
            self.assertEqual(self.client.get(f"/api/units/{self.unit.pk}/findings", headers=asks).status_code, OK)

    def test_nobody_comes_for_anothers_answer(self):
        secret = self.sent(**SCRIPT).headers["Skavit-Answer"]
        answer_all()
        self.client.force_login(member(self.crew, "owner").user)
        there = reverse("working", args=[secret])
        self.assertContains(self.client.get(there, headers=PAGE), "Open the page again", status_code=GONE)
        again = SCRIPT | {"Skavit-Answer": secret}
        self.assertEqual(self.client.get(self.page, headers=again).status_code, GONE)

    def test_who_has_left_meanwhile_is_answered_nothing(self):
        sent, sent_to = self.sent(), reverse("row-action", args=[self.unit.pk, *COPY])
        before = self.stands_at()
        take_out(member(self.crew, "owner"), member(self.crew))
        answer_all()
        self.assertIn(["Location", f"{reverse('login')}?next={sent_to}"], Asked.objects.get().headers)
        self.assertIn(reverse("login"), self.client.get(sent.url, headers=PAGE).headers["Location"])
        self.assertEqual(self.stands_at(), before)

    def test_a_customers_link_never_computes(self):
        secret = make_link(
            self.unit, member(self.crew), language="de", whom="", days=30, instant=read_instant(), whole_site=True
        )
        self.client.logout()
        there = reverse("share", args=[secret])
        waits = self.client.get(there, headers=PAGE | {"Accept-Language": "de"})
        self.assertContains(waits, "Wird ausgerechnet", status_code=ACCEPTED)
        self.assertNotContains(waits, "Round", status_code=ACCEPTED)
        answer_all()
        self.assertContains(self.client.get(there, headers=PAGE | {"Accept-Language": "de"}), "Path lights")

    def test_so_many_wait_and_one_more_is_told(self):
        with mock.patch.object(services, "MOST_OF_ONE", 2):
            for year in (2025, 2026):
                self.assertEqual(self.client.get(self.page, {"year": year}, headers=PAGE).status_code, ACCEPTED)
            refused = self.client.get(self.page, {"year": 2027}, headers=PAGE)
        self.assertContains(refused, "at work on other large plans", status_code=UNAVAILABLE)
        self.assertContains(self.client.get(self.page, {"year": 2026}, headers=PAGE), "(1)", status_code=ACCEPTED)

    def test_what_nobody_waits_for_is_not_worked_out_but_an_edit_is_done(self):
        self.client.get(self.page, headers=PAGE)
        self.sent()
        Asked.objects.update(seen=timezone.now() - services.GONE - timedelta(seconds=1))
        answer_all()
        self.assertEqual([asked.what for asked in Asked.objects.all()], [""])
        self.assertEqual(Asked.objects.get().state, State.ENDED)

    def test_what_a_lost_worker_had_begun_is_not_done_twice(self):
        self.client.get(self.page, headers=PAGE)
        sent = self.sent()
        look, edit = Asked.objects.order_by("pk")
        for asked in (look, edit):
            self.assertIsNotNone(services.take_up(asked.pk))
        self.assertEqual(services.take_up(look.pk), look)
        self.assertIsNone(services.take_up(edit.pk))
        told = self.client.get(sent.url, headers=PAGE)
        self.assertContains(told, "Look whether it was done", status_code=UNAVAILABLE)
        self.assertContains(told, "<html", status_code=UNAVAILABLE)

    def test_that_no_worker_is_there_is_told(self):
        self.client.get(self.page, headers=PAGE)
        Asked.objects.update(created=timezone.now() - services.GONE - timedelta(seconds=1))
        self.assertContains(
            self.client.get(self.page, headers=PAGE), "no worker is there just now", status_code=ACCEPTED
        )

    def test_answers_go_after_a_while_and_requests_at_once(self):
        self.sent()
        answer_all()
        kept = Asked.objects.get()
        self.assertEqual((kept.meta, bytes(kept.sent)), ({}, b""))
        Asked.objects.update(created=timezone.now() - services.KEPT - timedelta(seconds=1))
        self.client.get(self.page, headers=PAGE)
        self.assertNotIn(kept.secret, [asked.secret for asked in Asked.objects.all()])

    def test_an_undo_back_to_a_large_plan_is_left_to_the_worker_before_anything_is_written(self):
        with mock.patch.object(TO_WORKER, "on", False):
            unit = Unit.objects.select_related("site", "head").get(pk=self.unit.pk)
            emptied = unit.plan.with_entries(())
            edit(unit, member(self.crew), unit.head.number, lambda _: emptied, "emptied", now=NOON)
        before = self.stands_at()
        self.assertEqual(self.sent("undo", **SCRIPT).status_code, ACCEPTED)
        self.assertEqual(self.stands_at(), before)
        answer_all()
        self.assertEqual(self.stands_at(), before - 1)

    def test_lists_take_what_is_kept_and_leave_large_plans_as_they_are(self):
        unit = Unit.objects.select_related("site").get(pk=self.unit.pk)
        results.keep_results([unit], NOON)
        self.assertIsNotNone(Unit.objects.get(pk=unit.pk).result_id)
        self.assertContains(self.client.get(reverse("round"), headers=PAGE), "Path lights")


def _without_token(answer):
    text = re.sub(r'(csrfmiddlewaretoken" value="|X-CSRFToken": "|X-CSRFToken&quot;: &quot;)\w+', "", answer.text)
    return re.sub(r"\s+", " ", text)


def slow(meta, sent):
    """A request that does not end."""
    time.sleep(60)


def huge(meta, sent):
    """One that takes all memory."""
    return bytearray(3_000_000_000)


def dies(meta, sent):
    """One that ends its process."""
    os._exit(9)


def who(meta, sent):
    """The process, and how nice it is."""
    return os.getpid(), os.nice(0)


class AnsweringTest(PlainTest):
    """The process beside the worker: nice, bounded, and begun anew after it has ended."""

    def setUp(self):
        may_have_children(self)
        self.answering = run.Answering()
        self.addCleanup(self.answering.end)

    def given(self, work):
        with mock.patch.object(run, "_answer", work):
            return self.answering.run({}, b"")

    def test_too_long_too_large_and_killed_are_told_and_the_next_goes_on(self):
        pid, nice = self.given(who)
        self.assertEqual((nice, pid == os.getpid()), (min(os.nice(0) + NICE, 19), False))
        self.assertEqual(self.given(who)[0], pid)
        with self.assertLogs("skavit.apart.run"):
            with mock.patch.object(run, "LIMIT_S", 0.2):
                self.assertIsNone(self.given(slow))
            self.assertIsNone(self.given(huge))
            self.assertIsNone(self.given(dies))
        self.assertNotEqual(self.given(who)[0], pid)
        meta = {"REQUEST_METHOD": "GET", "PATH_INFO": "/health/", "SERVER_NAME": "localhost", "SERVER_PORT": "80"}
        status, _, _, text = self.answering.run(meta | {"HTTP_HOST": "localhost", "wsgi.url_scheme": "http"}, b"")
        self.assertEqual(status, OK, text)
