"""Large plans in the browser: the page says that it is being worked out and then comes; an edit too, with and without the script."""

import threading
import time
from unittest import mock

from django.db import connections

from browser_tests.browser import BrowserCase
from skavit.apart import run
from skavit.apart.models import Asked, State
from skavit.apart.switch import TO_WORKER
from skavit.core.ground.strict_json import Node
from skavit.core.plan.document import read_plan
from skavit.core.tests.builders import document, window
from skavit.core.tests.test_bounds import many_entries
from skavit.crews.models import Membership
from skavit.server.now import read_now
from skavit.tests.runner import may_have_children
from skavit.units import computing
from skavit.units.models import Unit
from skavit.units.services.revisions import edit

MANY = 30  # lines of what is keyed; the demo's own plan has a few
WORKED_OUT_MS = 600_000  # a busy machine is no fault
LATE_S = 3  # longer than a page waits before it says how far it is


class Worker(threading.Thread):
    """Answers what waits, a while after it was asked, until it is stopped."""

    def __init__(self):
        super().__init__(daemon=True)
        self.ended = threading.Event()
        self.late_s = 0.0

    def run(self):
        while not self.ended.wait(0.05):
            for pk in Asked.objects.filter(state=State.WAITING).order_by("pk").values_list("pk", flat=True):
                time.sleep(self.late_s)
                run.run(pk)
        connections.close_all()


class LargePlanTest(BrowserCase):
    def setUp(self):
        super().setUp()
        self.unit = Unit.objects.select_related("site__crew", "head").get(name="Path lights")
        large = read_plan(Node(document([window("sunset", "22:40")], many_entries(computing.LARGE + 1))))
        people = Membership.objects.get(user__username="kahu")
        edit(self.unit, people, self.unit.head.number, lambda _: large, "a large plan", now=read_now())
        computing.KEPT.clear()  # the web server's processes have none of the worker's years
        patient = mock.patch.object(run, "LIMIT_S", WORKED_OUT_MS // 1000)
        patient.start()
        self.addCleanup(patient.stop)
        left = mock.patch.object(TO_WORKER, "on", True)
        left.start()
        self.addCleanup(left.stop)
        may_have_children(self)
        self.worker = Worker()
        self.worker.start()
        self.addCleanup(run.ANSWERING.end)
        self.addCleanup(self.worker.join)
        self.addCleanup(self.worker.ended.set)

    def test_a_page_and_an_edit_come_when_they_are_worked_out(self):
        self.worker.late_s = LATE_S
        self.page.set_default_timeout(WORKED_OUT_MS)
        self.go("unit", self.unit.pk)
        self.sees("Working it out")
        # A long page is still being read when its first parts show.
        self.page.wait_for_function("(many) => document.querySelectorAll('#keyed li').length > many", arg=MANY)
        held = self.page.locator("#keyed")
        self.page.get_by_role("button", name="Undo").first.click()  # back to the demo's own plan, which is small
        self.page.wait_for_function("(many) => document.querySelectorAll('#keyed li').length < many", arg=MANY)
        before = held.inner_text()
        self.page.get_by_role("button", name="Redo").first.click()
        self.page.locator("[data-working]").get_by_text("Working it out").wait_for()
        self.page.locator("[data-working]").wait_for(state="hidden")
        self.page.wait_for_function("(before) => document.querySelector('#keyed').innerText !== before", arg=before)
        self.assertEqual(Unit.objects.get(pk=self.unit.pk).head_revision.note, "a large plan")
        self.assertFalse(Asked.objects.filter(state=State.WAITING).exists())
