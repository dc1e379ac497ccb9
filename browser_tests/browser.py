"""A live server and a browser for each test class; console errors and refused scripts fail the test."""

import atexit
import threading
import time
from functools import cache
from pathlib import Path

from django.conf import settings
from django.core.management import call_command
from django.core.signals import request_finished, request_started
from django.test import LiveServerTestCase, tag
from django.urls import reverse
from playwright.sync_api import expect, sync_playwright

from browser_tests.database import PASSWORD, fresh_demo
from skavit.crews.models import User

AXE = (Path(__file__).parent / "vendor" / "axe.min.js").read_text()
CHROMIUM = "/usr/bin/chromium-headless-shell"
ARGUMENTS = [
    "--no-sandbox",
    "--disable-gpu",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]
ANSWERED_S = 120
# A guard against hanging, not a measure: the machine may be busy.
WAIT_MS = 120_000
expect.set_options(timeout=WAIT_MS)
LAPTOP, PHONE = {"width": 1280, "height": 800}, {"width": 390, "height": 844}


@cache
def chromium():
    """The browser of this process; it ends with it."""
    playwright = sync_playwright().start()
    atexit.register(playwright.stop)
    return playwright.chromium.launch(executable_path=CHROMIUM, args=ARGUMENTS)


class UnderWay:
    """How many requests the live server is answering, by Django's own signals."""

    def __init__(self):
        self.count, self.lock = 0, threading.Lock()
        request_started.connect(self.begun, weak=False)
        request_finished.connect(self.ended, weak=False)

    def begun(self, **told):
        with self.lock:
            self.count += 1

    def ended(self, **told):
        with self.lock:
            self.count -= 1

    def wait_for_none(self):
        """Until nothing was under way for a fifth of a second: what a closed page asked for last is still answered."""
        until = time.monotonic() + ANSWERED_S
        quiet_from = None
        while time.monotonic() < until:
            quiet_from = None if self.count else quiet_from or time.monotonic()
            if quiet_from and time.monotonic() - quiet_from > 0.2:
                return
            time.sleep(0.02)


@tag("browser")
class BrowserCase(LiveServerTestCase):
    """``page`` is a fresh page, logged in as the demo's installer."""

    size = LAPTOP
    touch = False
    user = "kahu"
    opens = None  # the page a test begins at; most go to their own

    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.under_way = UnderWay()
        cls.browser = chromium()

    @classmethod
    def tearDownClass(cls):
        call_command("flush", verbosity=0, interactive=False, inhibit_post_migrate=False)  # the next class has no demo
        super().tearDownClass()

    def _fixture_teardown(self):
        """Nothing: the next test begins with a copy of the demo."""

    def setUp(self):
        fresh_demo()
        self.context = self.browser.new_context(viewport=self.size, has_touch=self.touch)
        self.addCleanup(self.under_way.wait_for_none)
        self.addCleanup(self.context.close)
        self.page = self.context.new_page()
        self.page.set_default_timeout(WAIT_MS)
        self.complaints = []
        self.page.on("console", lambda m: self.complaints.append(m.text) if m.type == "error" else None)
        self.page.on("pageerror", lambda e: self.complaints.append(str(e)))
        if self.user:
            self.begin_as(self.user)
        if self.opens:
            self.go(self.opens)

    def tearDown(self):
        # 422 and 409 are answers; and htmx logs a request that a newer one replaced as if it were a fault.
        told = ("422", "409", "htmx:sendAbort", "htmx:afterRequest")
        refused = [c for c in self.complaints if not any(word in c for word in told)]
        self.assertEqual(refused, [])

    def ticks_sent(self):
        """Wait until the server has every tick of the entry sheet."""
        self.page.locator("[data-sheet][data-unsent='0']").wait_for()

    def begin_as(self, name):
        """Somebody who has logged in before; :meth:`log_in` does it at the form."""
        self.client.force_login(User.objects.get(username=name), "django.contrib.auth.backends.ModelBackend")
        session = self.client.cookies[settings.SESSION_COOKIE_NAME].value
        self.context.add_cookies(
            [{"name": settings.SESSION_COOKIE_NAME, "value": session, "url": self.live_server_url}]
        )

    def log_in(self, name):
        self.go("login")
        self.page.get_by_label("User name").fill(name)
        self.page.get_by_label("Password").fill(PASSWORD)
        self.page.get_by_role("button", name="Log in").click()
        self.page.wait_for_url(self.url("round"))

    def url(self, name, *args):
        return self.live_server_url + reverse(name, args=args)

    def go(self, name, *args):
        self.page.goto(self.url(name, *args))

    def press(self, key):
        """A key, once the page's scripts are there to hear it."""
        self.page.wait_for_load_state("load")
        self.page.keyboard.press(key)

    def settled(self):
        """Until what was put into the page hears what is typed into it."""
        self.page.locator(".htmx-added, .htmx-settling, .htmx-swapping").first.wait_for(state="detached")

    def sees(self, text):
        self.page.get_by_text(text).first.wait_for()

    def axe(self, where, *rules):
        """Nothing serious by axe-core, or by some of its rules; evaluated in the page, which the content security policy does not see."""
        if not self.page.evaluate("'axe' in window"):
            self.page.evaluate(AXE)
        options = {"resultTypes": ["violations"]} | ({"runOnly": list(rules)} if rules else {})
        found = self.page.evaluate("(options) => axe.run(document, options)", options)
        serious = [
            f"{v['id']}: {v['nodes'][0]['html'][:120]} {v['nodes'][0].get('failureSummary', '')[:300]}"
            for v in found["violations"]
            if v["impact"] in ("serious", "critical")
        ]
        self.assertEqual(serious, [], where)

    def fits_the_width(self, where):
        wide = self.page.evaluate("document.documentElement.scrollWidth - document.documentElement.clientWidth")
        self.assertLessEqual(wide, 0, where)


class NewUnitCase(BrowserCase):
    """A site and a unit from nothing, and the forms of its page opened in their places."""

    begins = "#unit-work"  # what stands open on the page of a new unit

    def site(self, name="Orchard road"):
        self.go("site-new")
        self.page.get_by_label("Name", exact=True).fill(name)
        self.page.get_by_label("Latitude").fill("39.6 S")
        self.page.get_by_label("Longitude").fill("176.85 E")
        self.sees("Zone at these coordinates")
        self.page.get_by_role("button", name="Save the site").click()
        self.sees("Add a unit")

    def unit(self, kind, name):
        self.page.get_by_role("link", name="Add a unit").first.click()
        self.page.get_by_label(kind).first.check()
        self.page.get_by_label("Name", exact=True).fill(name)
        self.page.get_by_role("button", name="Add the unit").click()
        self.page.locator(self.begins).wait_for()

    def ticked_to_the_last_step(self):
        """The titles of a sheet's steps, each but the last ticked with the thumb and none wider than the phone."""
        titles = []
        while True:
            now = self.page.locator(".step-now")
            titles.append(now.locator("h2").inner_text())
            self.fits_the_width(titles[-1])
            if self.page.locator("[data-step-next]").is_disabled():
                return titles
            now.locator(".tick-box:visible").tap()

    def open(self, place):
        """The form of a place, opened where it is not."""
        self.page.wait_for_load_state("networkidle")
        panel = self.page.locator(f"#{place} details, details#{place}").first
        if panel.get_attribute("open") is None:
            panel.locator(":scope > summary").click()
        form = panel.locator("form").first
        form.wait_for()
        panel.locator(".lazy").first.wait_for(state="detached")  # the form itself is fetched when it is opened
        self.settled()
        return form
