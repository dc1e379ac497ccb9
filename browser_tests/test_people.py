"""A newcomer's own crew in the browser: begun, a colleague invited and taken out; long work shown, cancelled, applied."""

import json
from datetime import timedelta
from unittest import mock

from browser_tests.browser import LAPTOP, PHONE, BrowserCase
from skavit.background import services
from skavit.background.models import Job
from skavit.background.tests.builders import work_off
from skavit.core.tests.builders import document
from skavit.core.tests.test_bounds import SIX_PAIRS, weekday_windows
from skavit.crews.models import User
from skavit.crews.services import remove_demo
from skavit.units.models import Unit

GOOD, BETTER = "a-long-evening-7", "a-longer-morning-8"


class NewcomerTest(BrowserCase):
    user = None

    def test_from_the_first_page_to_a_colleague_taken_out(self):
        remove_demo(None)
        page = self.page
        page.goto(self.live_server_url)
        page.wait_for_url(self.url("begin"))
        self.axe("begin")
        page.get_by_label("Crew").fill("Bay lights")
        page.get_by_label("User name").fill("moana")
        page.get_by_label("Password").fill("moana")
        page.get_by_role("button", name="Begin").click()
        self.sees("too similar")
        self.assertEqual(page.get_by_label("Crew").input_value(), "Bay lights")
        page.get_by_label("Password").fill(GOOD)
        page.get_by_role("button", name="Begin").click()
        page.wait_for_url(self.url("round"))
        self.sees("Add the first site")
        self.assertEqual(page.locator(".teaching-step").count(), 3)
        self.assertTrue(page.locator(".teaching-picture svg").is_visible())
        self.axe("an empty crew")
        page.set_viewport_size(PHONE)
        self.assertTrue(page.locator(".teaching-picture svg").is_visible())
        self.fits_the_width("an empty crew on the phone")
        page.set_viewport_size(LAPTOP)

        self.go("crew")
        page.get_by_role("button", name="Make the link").click()
        link = page.get_by_label("Shown this once").input_value()
        colleague = self.browser.new_context(viewport=PHONE, has_touch=True).new_page()
        self.addCleanup(colleague.context.close)
        colleague.goto(link)
        colleague.get_by_label("User name").fill("tama")
        colleague.get_by_label("Password").fill(GOOD)
        colleague.get_by_role("button", name="Join").tap()
        colleague.get_by_text("No unit yet").wait_for()
        colleague.get_by_role("link", name="tama").tap()
        colleague.get_by_label("Old password").fill(GOOD)
        colleague.get_by_label("New password", exact=True).fill(BETTER)
        colleague.get_by_label("The new password again").fill(BETTER)
        colleague.get_by_role("button", name="Change the password").tap()
        colleague.get_by_text("The password is changed").wait_for()

        self.go("crew")
        page.get_by_text("More").first.click()
        page.get_by_role("link", name="Remove from the crew").click()
        self.sees("They hold no keys")
        page.get_by_role("button", name="Remove").click()
        self.sees("tama is out")
        colleague.goto(self.live_server_url)
        colleague.get_by_label("User name").fill("tama")
        colleague.get_by_label("Password").fill(BETTER)
        colleague.get_by_role("button", name="Log in").tap()
        colleague.get_by_text("Wrong user name or password").wait_for()
        self.assertEqual(User.objects.filter(is_active=True).count(), 1)


class UnsentTest(BrowserCase):
    """Logging out with something that was written without a connection asks what becomes of it."""

    size = PHONE

    # On the outbox of this browser, as static/js/outbox/shelf.js makes it.
    OUTBOX = """([mode, act, given]) => new Promise((resolve, reject) => {
        const asked = indexedDB.open("skavit-outbox", 1);
        asked.onupgradeneeded = () => asked.result.createObjectStore("waiting", { keyPath: "id" });
        asked.onsuccess = () => {
            const done = asked.result.transaction("waiting", mode).objectStore("waiting")[act](...given);
            done.onsuccess = () => { asked.result.close(); resolve(done.result); };
            done.onerror = () => reject(done.error);
        };
    })"""

    def kept(self):
        return self.page.evaluate(self.OUTBOX, ["readonly", "count", []])

    def log_out(self):
        self.page.locator("main").get_by_role("button", name="Log out").click()

    def write_without_signal(self):
        self.go("account")
        person = self.page.locator("form[data-log-out]").first.get_attribute("data-person")
        tick = {"id": f"{person}/1/tick/slot-1", "person": person, "unit": "1", "kind": "tick", "key": "slot-1"}
        self.page.evaluate(self.OUTBOX, ["readwrite", "put", [tick]])

    def test_it_is_kept_or_deleted_as_its_person_says(self):
        self.write_without_signal()
        self.log_out()
        self.sees("has not been sent")
        self.axe("the question")
        self.page.get_by_role("button", name="Stay logged in").click()
        self.log_out()
        self.page.get_by_role("button", name="Log out and keep it").click()
        self.page.get_by_label("User name").wait_for()
        self.assertEqual(self.kept(), 1)
        self.log_in(self.user)
        self.go("account")
        self.log_out()
        self.page.get_by_role("button", name="Delete it and log out").click()
        self.page.get_by_label("User name").wait_for()
        self.assertEqual(self.kept(), 0)
        self.log_in(self.user)
        self.go("account")
        self.log_out()
        self.page.get_by_label("User name").wait_for()


class LongWorkTest(BrowserCase):
    def setUp(self):
        super().setUp()
        # The test does the work itself, and no worker says meanwhile that it lives.
        patient = mock.patch.object(services, "LOST", timedelta(hours=1))
        patient.start()
        self.addCleanup(patient.stop)

    def crowd(self):
        unit = Unit.objects.get(name="Path lights")
        self.go("unit", unit.pk)
        self.page.locator("summary", has_text="Import a plan file").click()
        data = json.dumps(document(weekday_windows(20), [], limits=SIX_PAIRS)).encode()
        file = {"name": "plan.json", "mimeType": "application/json", "buffer": data}
        self.page.get_by_label("Plan file").set_input_files(file)
        self.page.get_by_role("button", name="Import", exact=True).click()
        self.sees("Plan file imported")
        return unit

    def test_a_long_fit_shows_how_far_it_is_and_comes_back_to_the_unit(self):
        unit = self.crowd()
        self.page.get_by_role("button", name="Fit the entries").first.click()
        self.page.wait_for_url("**/jobs/*/")
        self.sees("Waiting")
        self.axe("a job that waits")
        work_off()
        self.page.wait_for_url(self.url("unit", unit.pk))
        self.sees("12 entries made")

    def test_it_is_cancelled_and_nothing_was_changed(self):
        self.crowd()
        self.page.get_by_role("link", name="Other ways to fit").first.click()
        self.page.get_by_role("button", name="Work them out").click()
        self.page.wait_for_url("**/jobs/*/")
        self.page.get_by_role("button", name="Cancel").click()
        self.sees("Cancelled. Nothing was changed.")
        self.assertEqual(work_off(), [])
        self.assertEqual(Job.objects.get().state, "cancelled")

    def test_words_of_a_refusal_stand_on_the_page_and_what_was_typed_stays(self):
        unit = Unit.objects.get(name="Path lights")
        self.go("unit", unit.pk)
        answer = "A character was sent that is no text"
        url = self.url("day", unit.pk)
        self.page.evaluate(f"htmx.ajax('GET', '{url}?x=%00', {{target: '#night'}})")
        self.sees(answer)
        self.assertTrue(self.page.locator("#night").is_visible())
        self.complaints = [c for c in self.complaints if "400" not in c]
