"""The entry sheet of a kind on a phone: key by key, walked without a connection in the middle, a conflict shown."""

from browser_tests.browser import PHONE, BrowserCase
from browser_tests.cable import Cable
from skavit.core.ground.strict_json import Node
from skavit.core.kinds import shipped_kinds
from skavit.core.plan.document import read_plan
from skavit.core.tests.builders import clock_text, document, entry, switching_kinds, window
from skavit.crews.models import Membership
from skavit.server.now import read_now, site_digits
from skavit.units.models import Tick, Unit
from skavit.units.services import revisions, units


class SheetCase(BrowserCase):
    size, touch = PHONE, True

    def setUp(self):
        super().setUp()
        self.membership = Membership.objects.get(user__username="kahu")
        self.unit = Unit.objects.select_related("site", "head").get(name="Path lights")

    def choose(self, kind):
        units.choose_kind(self.unit, self.membership, self.unit.head.number, kind, None, now=read_now())

    def plan(self, entries, channels=1):
        self.write(document(channels=[[window("18:00", "22:00")]] * channels, entries=entries))

    def write(self, raw):
        plan = read_plan(Node(raw))
        revisions.edit(
            self.unit, self.membership, self.unit.head.number, lambda _: plan, "another plan", now=read_now()
        )

    def walk(self):
        """Through all steps by the button at the bottom; gives their titles."""
        titles = []
        while True:
            now = self.page.locator(".step-now")
            titles.append(now.locator("h2").inner_text())
            self.fits_the_width(titles[-1])
            self.assertGreater(len(now.locator(".step-say:visible").inner_text()), 10)
            if self.page.locator("[data-step-next]").is_disabled():
                return titles
            self.page.locator("[data-step-next]").tap()


class EveryKindTest(SheetCase):
    def test_the_sheet_of_every_shipped_kind_is_walked(self):
        pair = [entry("on", "18:00"), entry("off", "22:00")]
        for kind in switching_kinds():
            with self.subTest(kind.name):
                self.plan(pair)
                self.choose(kind)
                self.go("sheet", self.unit.pk)
                self.assertEqual(self.page.locator(".said-error:visible").count(), 0)
                titles = self.walk()
                self.assertEqual(titles[-1], "Cover shut, output seen")
                self.assertIn("The empty slots", titles)
                self.assertGreater(self.page.locator(".presses kbd").count(), 8)


class HoursTest(SheetCase):
    """A sheet kept open while the hours go on, without signal: what it says follows them."""

    def test_the_mode_follows_the_hours_and_is_ticked_once(self):
        self.choose(next(kind for kind in shipped_kinds() if kind.slug == "plug-in-weekly-switch"))
        digits = site_digits(self.unit.site.place, read_now())
        begins, ends = (clock_text((digits // 60 + minutes) % 1440) for minutes in (60, 180))
        raw = document([window(begins, ends)], [entry("on", begins), entry("off", ends)])
        raw["unit"] |= {"on_return_to_auto": "waits"}
        self.write(raw)
        self.page.clock.install()
        with self.page.expect_response("**/health/"):
            self.go("sheet", self.unit.pk)
        mode, output = self.page.locator(".step-mode"), self.page.locator(".step-output")
        mode.get_by_text("OFF first, then AUTO").first.wait_for(state="attached")
        self.context.set_offline(True)
        self.page.clock.fast_forward("01:30:00")
        self.page.locator("[data-step-go]").last.wait_for(state="attached")
        while not mode.is_visible():
            self.page.locator("[data-step-next]").tap()
        self.assertIn("ON first, then AUTO", mode.locator(".step-say:visible").inner_text())
        self.assertEqual(mode.locator("kbd:visible").all_inner_texts(), ["mode", "mode"])
        mode.locator(".tick-box:visible").tap()
        self.assertTrue(output.is_visible())
        self.page.locator("[data-step-back]").tap()
        self.page.clock.fast_forward("02:00:00")
        self.assertIn("OFF first, then AUTO", mode.locator(".step-say:visible").inner_text())
        self.assertEqual(mode.locator(".tick-box:visible").get_attribute("aria-pressed"), "true")
        mode.get_by_text("By the hour").tap()
        self.assertIn("OFF first, then AUTO", mode.locator(".hour-here").inner_text())
        self.fits_the_width("modes by the hour")
        self.page.locator("[data-step-next]").tap()
        self.assertIn("Channel 1 must be OFF", output.locator(".step-say:visible").inner_text())
        self.page.clock.fast_forward("47:00:00")
        self.page.get_by_text("This sheet is of").wait_for()
        self.complaints = [c for c in self.complaints if "net::ERR_" not in c]


class WithoutSignalTest(SheetCase):
    def setUp(self):
        self.cable = Cable(int(self.live_server_url.rsplit(":", 1)[1]))
        self.addCleanup(self.cable.close)
        self.live_server_url = f"http://127.0.0.1:{self.cable.port}"
        super().setUp()
        self.choose(next(kind for kind in shipped_kinds() if kind.slug == "panel-switch-one-channel-by-coordinates"))
        self.go("sheet", self.unit.pk)
        self.sheet_kept()

    def tearDown(self):
        self.complaints = [c for c in self.complaints if "net::ERR_" not in c]
        super().tearDown()

    def sheet_kept(self):
        """Wait until the worker has the page: what it still fetches would bring back cookies that are taken away."""
        self.page.locator("[data-sheet][data-kept='1']").wait_for()

    def tick_here(self):
        title = self.page.locator(".step-now h2").inner_text()
        self.page.locator(".step-now .tick-box:visible").tap()
        return title

    def reconnect(self):
        self.cable.mend()
        self.page.evaluate("dispatchEvent(new Event('online'))")

    def test_steps_and_ticks_live_on_and_are_sent_later(self):
        self.tick_here()
        self.ticks_sent()
        self.assertEqual(Tick.objects.count(), 1)
        self.sheet_kept()
        self.cable.cut()
        self.tick_here()
        self.tick_here()
        self.page.get_by_text("No connection. 2 ticks kept here").wait_for()
        here = self.page.locator(".step-now h2").inner_text()
        self.page.reload()
        self.page.get_by_text("No connection. 2 ticks kept here").wait_for()
        self.assertEqual(self.page.locator(".step-now h2").inner_text(), here)
        self.assertEqual(self.page.locator(".progress .bit-done").count(), 3)
        self.page.locator("[data-step-next]").tap()
        self.assertEqual(Tick.objects.count(), 1)
        self.reconnect()
        self.ticks_sent()
        self.assertEqual(Tick.objects.count(), 3)
        self.page.reload()
        self.assertEqual(self.page.locator(".progress .bit-done").count(), 3)

    def test_ticks_of_one_person_are_not_sent_by_the_next(self):
        self.cable.cut()
        self.tick_here()
        self.page.get_by_text("No connection. 1 tick kept here").wait_for()
        self.context.clear_cookies()
        self.cable.mend()
        self.log_in("owner")
        self.go("sheet", self.unit.pk)
        self.ticks_sent()
        self.assertEqual(self.page.locator(".progress .bit-done").count(), 0)
        self.assertEqual(Tick.objects.count(), 0)
        self.sheet_kept()
        self.context.clear_cookies()
        self.log_in("kahu")
        self.go("sheet", self.unit.pk)
        self.ticks_sent()
        self.assertEqual(Tick.objects.get().by.username, "kahu")

    def test_a_page_of_somebody_who_is_out_sends_nothing_as_the_next(self):
        self.cable.cut()
        self.tick_here()
        self.page.get_by_text("No connection. 1 tick kept here").wait_for()
        # Another tab of this browser logs in as somebody else; this page is still the first one's.
        self.context.clear_cookies()
        self.cable.mend()
        with self.context.expect_page() as opened:
            self.page.evaluate("window.open('about:blank')")
        first, self.page = self.page, opened.value
        self.log_in("owner")
        first.evaluate("dispatchEvent(new Event('online'))")
        first.get_by_text("Load this page again, and log in if asked. 1 tick kept here").wait_for()
        self.assertEqual(Tick.objects.count(), 0)
        self.page = first
        self.complaints = [c for c in self.complaints if "403" not in c]

    def test_a_step_that_has_changed_meanwhile_is_shown_and_not_lost(self):
        self.cable.cut()
        while not self.page.locator(".step-now.step-slot").count():
            self.page.locator("[data-step-next]").tap()
        title = self.tick_here()
        self.plan([entry("on", "sunset+20"), entry("off", "22:00")])
        self.reconnect()
        self.page.get_by_text("These ticks are not kept").wait_for()
        self.assertIn(
            f"{title}: kahu changed the plan since (another plan)", self.page.locator("[data-conflicts]").inner_text()
        )
        self.assertEqual(Tick.objects.count(), 0)
        self.page.get_by_role("button", name="Seen").tap()
        self.page.get_by_text("sunset + 20 min").first.wait_for(state="attached")
        self.assertFalse(self.page.locator("[data-conflicts]").is_visible())
