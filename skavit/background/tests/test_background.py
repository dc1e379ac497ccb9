"""Background work: asked for within bounds, done in a child with limits, cancelled, applied only where it still fits."""

import os
import threading
import time
from datetime import timedelta
from functools import partial
from pathlib import Path
from tempfile import TemporaryDirectory
from unittest import mock

from django.core.exceptions import PermissionDenied
from django.db import connection
from django.test import TestCase, TransactionTestCase
from django.urls import reverse
from django.utils import timezone
from procrastinate.contrib.django.models import ProcrastinateJob

from skavit.background import child, run, services
from skavit.background.models import Job, State
from skavit.background.shares import A_TURN, shared_out
from skavit.background.tests.builders import work_off
from skavit.background.work import ASKED_BY, LIMIT_S, WORK, Outcome
from skavit.core.plan import edits
from skavit.core.tests.builders import document
from skavit.core.tests.test_bounds import SIX_PAIRS, weekday_windows
from skavit.crews.leaving import take_out
from skavit.crews.models import Membership, Role, User
from skavit.crews.tests.builders import make_crew, make_unit, member
from skavit.server import processes
from skavit.server.now import read_now
from skavit.server.processes import NICE
from skavit.switching import fitting as switching
from skavit.tests.runner import may_have_children
from skavit.units.services import jobs
from skavit.units.services.revisions import edit

CROWDED = document(weekday_windows(20), [], limits=SIX_PAIRS)


class AskingTest(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.crew = make_crew()
        cls.unit = make_unit(cls.crew)

    def ask(self, number, role="installer"):
        return services.begin(member(self.crew, role), "pdf", "A sheet", {"unit": self.unit.pk, "n": number}, "/")

    def test_the_same_asked_twice_is_one(self):
        self.assertEqual(self.ask(1).pk, self.ask(1).pk)
        self.assertEqual(ProcrastinateJob.objects.count(), 1)
        self.assertNotEqual(self.ask(1, "owner").pk, self.ask(1).pk)

    def test_a_crew_has_so_much_waiting_and_no_more(self):
        for number in range(services.MOST_OPEN):
            self.ask(number)
        with self.assertRaisesMessage(services.TooMuchWork, "Accepted: more when some are done"):
            self.ask("one more")
        self.client.force_login(member(self.crew).user)
        page = self.client.post(reverse("sheet-pdf", args=[self.unit.pk]), follow=True)
        self.assertContains(page, "20 pieces of work of this crew are waiting")

    def test_what_is_cancelled_is_not_done(self):
        job = self.ask(1)
        with self.assertRaises(PermissionDenied):
            services.cancel(member(self.crew, "viewer"), job)
        services.cancel(member(self.crew, "owner"), job)
        self.assertIsNone(services.take_up(job.pk))
        self.client.force_login(member(self.crew).user)
        self.assertContains(self.client.get(reverse("job", args=[job.pk])), "Cancelled. Nothing was changed.")

    def test_what_a_lost_worker_began_is_given_up(self):
        job = self.ask(1)
        services.take_up(job.pk)
        services.give_up_lost()
        self.assertTrue(Job.objects.get(pk=job.pk).is_open)
        Job.objects.update(seen=timezone.now() - services.LOST - timedelta(seconds=1))
        self.client.force_login(member(self.crew).user)
        self.assertContains(self.client.get(reverse("job", args=[job.pk])), "The worker was stopped meanwhile")

    def test_what_a_killed_worker_had_under_way_is_queued_anew(self):
        self.ask(1)
        with connection.cursor() as cursor:
            cursor.execute("SELECT worker_id FROM procrastinate_register_worker_v1()")
            (worker,) = cursor.fetchone()
            cursor.execute("UPDATE procrastinate_jobs SET status = 'doing', worker_id = %s", [worker])
            services.bring_back_lost()
            self.assertEqual(ProcrastinateJob.objects.get().status, "doing")
            cursor.execute("UPDATE procrastinate_workers SET last_heartbeat = now() - interval '31 seconds'")
            services.bring_back_lost()
            self.assertEqual(ProcrastinateJob.objects.get().status, "todo")

    def test_where_no_worker_is_there_the_page_says_so(self):
        job = self.ask(1)
        self.client.force_login(member(self.crew).user)
        self.assertContains(self.client.get(reverse("job", args=[job.pk])), "other work comes first")
        Job.objects.update(created=timezone.now() - services.LOST - timedelta(seconds=1))
        self.assertContains(self.client.get(reverse("job", args=[job.pk])), "no worker is there just now")
        Job.objects.filter(pk=self.ask(2).pk).update(state=State.RUNNING, seen=timezone.now())
        self.assertContains(self.client.get(reverse("job", args=[job.pk])), "other work comes first")

    def test_the_page_shows_how_far_it_is_and_asks_again(self):
        job = self.ask(1)
        services.take_up(job.pk)
        services.report(job.pk, 40, "drawing the pages")
        self.client.force_login(member(self.crew).user)
        page = self.client.get(reverse("job", args=[job.pk]), headers={"HX-Request": "true"})
        self.assertContains(page, "Working: drawing the pages")
        self.assertContains(page, 'value="40"')
        self.assertContains(page, "every 1s")


class WhoMayHaveItTest(TestCase):
    """Every address of every kind of work, as every role and as who asked for it."""

    @classmethod
    def setUpTestData(cls):
        cls.crew = make_crew()
        cls.people = {role: member(cls.crew, role) for role in Role}
        cls.others = {role: Membership.objects.create(
            crew=cls.crew, user=User.objects.create_user(f"other-{role}", password="x"), role=role
        ) for role in Role}  # fmt: skip

    def done(self, work, asked):
        return Job.objects.create(
            crew=self.crew, by=asked.user, does=work, title="Work", arguments={}, back="/", state=State.DONE,
            told="Ready.", answer=b"secret", answer_name="all.zip", answer_type="application/zip",
        )  # fmt: skip

    def statuses(self, somebody, job):
        self.client.force_login(somebody.user)
        page, file = (self.client.get(reverse(name, args=[job.pk])) for name in ("job", "job-answer"))
        cancelled = self.client.post(reverse("job-cancel", args=[job.pk]))
        return page.status_code, file.status_code, cancelled.status_code

    def test_who_asked_has_it_and_owners_see_that_it_runs(self):
        for work, roles in ASKED_BY.items():
            for asked in (self.people[role] for role in roles):
                job = self.done(work, asked)
                self.assertEqual(self.statuses(asked, job), (200, 200, 302), work)
                for role, other in self.others.items():
                    with self.subTest(work=work, asked=asked.role, other=role):
                        expected = (200, 404, 302) if role == Role.OWNER else (404, 404, 404)
                        self.assertEqual(self.statuses(other, job), expected)
                self.client.force_login(self.others[Role.OWNER].user)
                page = self.client.get(reverse("job", args=[job.pk]))
                self.assertNotContains(page, "all.zip")
                self.assertContains(page, f"{asked.user.username} asked for it and has what came of it")

    def test_another_role_or_leaving_the_crew_ends_it(self):
        owner = self.people[Role.OWNER]
        job = self.done("crew-archive", owner)
        for role in (Role.INSTALLER, Role.VIEWER):
            Membership.objects.filter(pk=owner.pk).update(role=role)
            self.assertEqual(self.statuses(owner, job), (404, 404, 404))
        Membership.objects.filter(pk=owner.pk).update(role=Role.OWNER)
        self.assertEqual(self.statuses(owner, job)[1], 200)
        take_out(self.others[Role.OWNER], owner)
        self.assertEqual(self.client.get(reverse("job-answer", args=[job.pk])).status_code, 302)

    def test_work_asked_for_by_who_may_no_more_is_not_done(self):
        owner = self.people[Role.OWNER]
        services.begin(owner, "crew-archive", "All data", {}, "/")
        Membership.objects.filter(pk=owner.pk).update(role=Role.VIEWER)
        (job,) = work_off()
        self.assertEqual(
            (job.state, job.told), (State.REFUSED, "Whoever asked for it has another role in the crew now.")
        )
        self.assertIsNone(job.answer)


class FitTest(TestCase):
    """A fit of twenty windows in six pairs goes to the background, and comes back only to the plan it was made for."""

    @classmethod
    def setUpTestData(cls):
        cls.crew = make_crew()
        cls.unit = make_unit(cls.crew, CROWDED)

    def setUp(self):
        self.client.force_login(member(self.crew).user)
        self.base = self.unit.head.number
        answer = self.client.post(reverse("fit", args=[self.unit.pk]), {"revision": self.base})
        self.job = Job.objects.get()
        self.assertRedirects(answer, reverse("job", args=[self.job.pk]))

    def entries(self):
        return type(self.unit).objects.get(pk=self.unit.pk).plan.unit.entries

    def test_it_is_applied(self):
        (job,) = work_off()
        self.assertEqual(job.state, State.DONE, job.told)
        self.assertEqual(len(self.entries()), 12)
        page = self.client.get(reverse("job", args=[job.pk]), follow=True)
        self.assertContains(page, "12 entries made")
        self.assertContains(page, "the best of the first 16 million steps of the search")

    def test_a_plan_changed_meanwhile_is_not_overwritten(self):
        edit(
            self.unit,
            member(self.crew),
            self.base,
            lambda plan: edits.rename_channel(plan, 1, "Lamps"),
            "renamed",
            now=read_now(),
        )
        (job,) = work_off()
        self.assertEqual((job.state, job.told), (State.REFUSED, jobs.OVERTAKEN))
        self.assertEqual(self.entries(), ())

    def test_cancelled_at_the_last_moment_it_is_not_applied(self):
        with mock.patch.object(switching, "fit", wraps=switching.fit) as fit:
            fit.side_effect = lambda *_: (services.cancel(member(self.crew), self.job), mock.DEFAULT)[1]
            (job,) = work_off()
        self.assertEqual(job.state, State.CANCELLED)
        self.assertEqual(self.entries(), ())

    def test_who_left_the_crew_changes_nothing_any_more(self):
        take_out(member(self.crew, "owner"), member(self.crew))
        (job,) = work_off()
        self.assertEqual((job.state, job.told), (State.REFUSED, "Whoever asked for it has left the crew."))


def _with_a_connection_of_its_own(pk, database):
    connection.connection = None  # that of the test, which a fork must not use or close
    child.main(pk, database)


def _lives(pid):
    """Whether a process runs; one that has ended may still wait to be asked how."""
    try:
        return Path("/proc", pid, "stat").read_text().split()[2] != "Z"
    except FileNotFoundError:
        return False


def _sleep(folder, keys):
    Path(folder, str(os.getpid())).touch()
    time.sleep(60)


class ChildTest(TransactionTestCase):
    """Real child processes, each with a connection of its own."""

    def setUp(self):
        may_have_children(self)
        self.crew = make_crew()
        self.unit = make_unit(self.crew)
        self.job = services.begin(member(self.crew), "pdf", "A sheet", {"unit": self.unit.pk}, "/")

    def run_with(self, code, limit_s=120):
        """Run the job in a forked child, which has the kind of work that is given as this test has it."""
        context = run.multiprocessing.get_context("fork")
        with (
            mock.patch.object(run.multiprocessing, "get_context", lambda _: context),
            mock.patch.object(type(context), "set_forkserver_preload", lambda *_: None),
            mock.patch.object(run, "_child", _with_a_connection_of_its_own),
            mock.patch.dict(WORK, {"pdf": code}),
            mock.patch.dict(LIMIT_S, {"pdf": lambda _: limit_s}),
        ):
            run.run(self.job.pk)
        self.job.refresh_from_db()
        return self.job

    def test_a_sheet_is_drawn_in_a_child_of_the_server_of_forks(self):
        run.run(self.job.pk)
        self.job.refresh_from_db()
        self.assertEqual(self.job.state, State.DONE, self.job.told)
        self.assertTrue(bytes(self.job.answer).startswith(b"%PDF-"))

    def test_too_much_memory_ends_it_with_words(self):
        def greedy(job, report):
            return Outcome(told=str(len(bytearray(3_000_000_000))))

        job = self.run_with(greedy)
        self.assertEqual((job.state, job.told), (State.FAILED, run.TOO_LARGE))

    def test_too_long_ends_it_with_words(self):
        def slow(job, report):
            time.sleep(60)

        begun = time.monotonic()
        job = self.run_with(slow, limit_s=1)
        self.assertEqual((job.state, job.told), (State.FAILED, run.TOO_LONG.format(minutes=0)))
        self.assertLess(time.monotonic() - begun, 30)

    def test_a_child_that_dies_is_told(self):
        job = self.run_with(lambda *_: os._exit(9))
        self.assertEqual((job.state, job.told), (State.FAILED, run.BROKEN))

    def test_cancelling_ends_the_child(self):
        def slow(job, report):
            time.sleep(60)

        def cancel():
            time.sleep(1)
            services.cancel(member(self.crew), self.job)
            connection.close()

        thread = threading.Thread(target=cancel)
        thread.start()
        begun = time.monotonic()
        job = self.run_with(slow)
        thread.join()
        self.assertEqual(job.state, State.CANCELLED)
        self.assertLess(time.monotonic() - begun, 30)

    def test_what_a_child_shares_out_ends_with_it(self):
        folder = Path(self.enterContext(TemporaryDirectory()))

        def shares(job, report):
            shared_out(range(10 * A_TURN), partial(_sleep, folder), lambda _: None)

        def cancel_once_all_are_at_work():
            while len(list(folder.iterdir())) < os.cpu_count():
                time.sleep(0.05)
            services.cancel(member(self.crew), self.job)
            connection.close()

        thread = threading.Thread(target=cancel_once_all_are_at_work)
        thread.start()
        job = self.run_with(shares)
        thread.join()
        self.assertEqual(job.state, State.CANCELLED)
        until = time.monotonic() + 20
        while alive := [one.name for one in folder.iterdir() if _lives(one.name)]:
            self.assertLess(time.monotonic(), until, alive)
            time.sleep(0.05)

    def test_the_child_leaves_the_processor_to_the_pages(self):
        found = []
        with (
            mock.patch.object(processes.os, "nice", found.append),
            mock.patch.object(child.os, "setpgid"),
            mock.patch.object(processes, "end_with_parent"),
            mock.patch.object(child, "do"),
            mock.patch.object(processes, "bound_memory"),
            mock.patch.object(child, "close_old_connections"),
        ):
            child.main(self.job.pk, connection.settings_dict["NAME"])
        self.assertEqual(found, [NICE])
