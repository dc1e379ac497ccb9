"""The scripts' pure parts, called in the browser as the pages import them; and what is let go of kept sheets."""

from pathlib import Path
from unittest import TestCase
from urllib.parse import urlsplit

from django.contrib.staticfiles import finders
from django.test import tag

from browser_tests.browser import chromium
from browser_tests.test_sheet import SheetCase
from skavit.core.kinds import shipped_kinds

# 2027-03-31 and 2028-02-29, in days from 1970: Python's (date(2027, 3, 31) - date(1970, 1, 1)).days
STATIC = Path(__file__).parent.parent / "skavit" / "static"
MARCH_31, LEAP_DAY = 20908, 21243


@tag("browser")
class PurePartsTest(TestCase):
    """The modules alone, in one page that is served from the folder: no application, no database."""

    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        context = chromium().new_context()
        cls.addClassCleanup(context.close)
        cls.page = context.new_page()
        cls.page.route("**/*", cls.serve)
        cls.page.goto("http://scripts/")
        for library in ("django_htmx/htmx-2.min.js", "vendor/idiomorph/idiomorph-ext.min.js"):
            cls.page.add_script_tag(path=finders.find(library))

    @staticmethod
    def serve(route):
        name = urlsplit(route.request.url).path.removeprefix("/static/")
        if name == "/":
            route.fulfill(body="<!doctype html><title>scripts</title>", content_type="text/html")
        else:
            route.fulfill(path=STATIC / name, content_type="text/javascript")

    def call(self, module, name, *given):
        return self.page.evaluate(
            "async ([module, name, given]) => (await import(module))[name](...given)",
            [f"/static/js/{module}.js", name, list(given)],
        )

    def test_a_month_on_and_back(self):
        for day, direction, days in ((MARCH_31, 1, 31), (MARCH_31, -1, -28), (LEAP_DAY, 1, 29), (LEAP_DAY, -1, -31)):
            with self.subTest(day=day, direction=direction):
                self.assertEqual(self.call("year_sheet", "monthAway", day, direction), days)

    def test_the_night_under_a_finger(self):
        """A picture of 1200 units drawn 600 pixels wide, its nights 3 units wide from 60 on."""
        for along, night in ((30, 0), (31.4, 0), (31.6, 1), (29, -1), (300, 180)):
            with self.subTest(along=along):
                self.assertEqual(self.call("year_sheet", "nightAt", along, 2, 60, 3), night)

    def test_the_face_of_a_clock(self):
        faces = (
            ("1970-01-01T00:05:00Z", True, {"clock": "12:05 am", "hour": "12 AM", "minute": "05"}),
            ("1970-01-01T12:30:00Z", True, {"clock": "12:30 pm", "hour": "12 PM", "minute": "30"}),
            ("1970-01-01T23:59:00Z", True, {"clock": "11:59 pm", "hour": "11 PM", "minute": "59"}),
            ("1970-01-01T23:59:00Z", False, {"clock": "23:59", "hour": "23", "minute": "59"}),
            ("1970-01-01T00:05:00Z", False, {"clock": "00:05", "hour": "00", "minute": "05"}),
        )
        for time, twelve, face in faces:
            with self.subTest(time=time, twelve=twelve):
                got = self.page.evaluate(
                    "async ([time, twelve]) => (await import('/static/js/clock_face.js')).faceOf(new Date(time), twelve)",
                    [time, twelve],
                )
                self.assertEqual(got, face)

    def test_a_clock_runs_on_from_where_it_was_moved_last(self):
        runs = [[1000, 5000], [2000, 9600]]
        for instant, digits in ((999, 4999), (1500, 5500), (1999, 5999), (2000, 9600), (2060, 9660)):
            with self.subTest(instant=instant):
                self.assertEqual(self.call("clock_face", "digitsAt", runs, instant), digits)

    def test_which_of_the_hours_a_step_stands_at(self):
        for instant, place in ((50, 0), (100, 0), (199, 0), (200, 1), (1000, 2)):
            with self.subTest(instant=instant):
                self.assertEqual(self.call("sheet/spells", "placeAt", [100, 200, 300], instant), place)

    def test_how_far_this_device_is_behind_the_server(self):
        for said, ahead in ((1_003_000, 0), (998_500, 0), (1_090_000, 90_000), (float("nan"), 0)):
            with self.subTest(said=said):
                self.assertEqual(self.call("time", "aheadOf", said, 999_000, 1_000_000), ahead)

    def test_an_answer_long_under_way_says_nothing_of_the_time(self):
        for asked in (990_000, 1_000_500):
            with self.subTest(asked=asked):
                self.assertIsNone(self.call("time", "aheadOf", 1_090_000, asked, 1_000_000))

    def test_the_fields_that_a_choice_shows(self):
        for kind, fields in (("dawn", "sun"), ("dusk", "sun"), ("clock", "clock"), ("even", "even"), ("", "")):
            with self.subTest(kind=kind):
                self.assertEqual(self.call("panels", "fieldsOf", kind), fields)

    def test_what_is_said_of_an_answer(self):
        for status, plain, said in (
            (200, "not a fault", ""),
            (503, "Come again in a moment.", "Come again in a moment."),
            (409, None, ""),
            (422, None, ""),
            (500, None, "The server did not answer. What you typed still stands here; try again."),
        ):
            with self.subTest(status=status, plain=plain):
                self.assertEqual(self.call("faults", "faultOf", status, plain), said)

    def test_what_is_said_of_ticks_that_wait(self):
        for waiting, trouble, said in (
            (1, "signal", "No connection. 1 tick kept here, sent when it can be."),
            (3, "login", "Load this page again, and log in if asked. 3 ticks kept here, sent when it can be."),
            (2, "", ""),
        ):
            with self.subTest(waiting=waiting, trouble=trouble):
                self.assertEqual(self.call("sheet/ticks", "waitingText", waiting, trouble), said)


class KeptSheetsTest(SheetCase):
    KEEP = """async ([from, to, days]) => {
        const store = await caches.open("skavit-sheets-1");
        for (let number = from; number < to; number += 1) {
            const made = new Date(Date.now() - (days + number / 1000) * 86400000).toUTCString();
            await store.put(`/units/${number}/sheet/`, new Response("a sheet", { headers: { Date: made } }));
        }
    }"""
    KEPT = """async () => (await (await caches.open("skavit-sheets-1")).keys())
        .map((request) => new URL(request.url).pathname).filter((path) => path.startsWith("/units/"))"""

    def test_old_sheets_and_more_than_thirty_are_let_go(self):
        self.choose(shipped_kinds()[0])
        self.go("sheet", self.unit.pk)
        self.page.locator("[data-sheet][data-kept='1']").wait_for()
        self.page.evaluate(self.KEEP, [9000, 9040, 1])
        self.page.evaluate(self.KEEP, [9900, 9903, 31])
        self.page.reload()
        self.page.locator("[data-sheet]").wait_for()
        self.page.wait_for_function(f"async () => (await ({self.KEPT})()).length === 30")
        kept = self.page.evaluate(self.KEPT)
        mine = f"/units/{self.unit.pk}/sheet/"
        self.assertEqual(sorted(kept), sorted([mine, *(f"/units/{number}/sheet/" for number in range(9000, 9029))]))
