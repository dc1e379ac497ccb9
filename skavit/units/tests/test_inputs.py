"""Whatever is sent, the answer is a page with words: what is wrong, and what is accepted."""

import json

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TestCase
from django.urls import reverse

from skavit.background.models import Job
from skavit.background.tests.builders import work_off
from skavit.core.ground.errors import PlanError
from skavit.core.ground.strict_json import Node
from skavit.core.kinds import shipped_kinds
from skavit.core.plan.document import read_plan
from skavit.core.tests.builders import clock_text, document, entry, window
from skavit.crews.tests.builders import make_crew, make_unit, member
from skavit.server import bounds
from skavit.server.now import read_now
from skavit.units.services import units
from skavit.units.services.revisions import edit

PULSES = {**entry("on", "00:00"), "repeat": {"on_s": 8, "off_s": 9, "until": "23:59:59"}}
DAILY = [window("sunset", "22:40")]


class InputTest(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.crew = make_crew()
        cls.unit = make_unit(cls.crew)

    def setUp(self):
        self.client.force_login(member(self.crew).user)

    def url(self, name):
        return reverse(name, args=[self.unit.pk])

    def test_a_character_that_is_no_text(self):
        for answer in (
            self.client.get(reverse("find"), {"q": "a\x00"}),
            self.client.post(self.url("keying-add"), {"from": "1 Oct", "name": "Sum\x00mer", "revision": 2}),
            self.client.post(self.url("channel-add"), {"na\x00me": "x"}),
        ):
            with self.subTest(answer=answer):
                self.assertContains(answer, "A character was sent that is no text", status_code=400)
        self.client.logout()
        self.assertEqual(self.client.post(reverse("login"), {"username": "\x00", "password": "x"}).status_code, 400)

    def test_holidays_of_strange_numbers(self):
        for days in ("²", "9" * 5000, "-1", "1e3"):
            with self.subTest(days=days):
                answer = self.client.post(self.url("holidays"), {"own": f"24 Dec for {days}", "revision": 2})
                self.assertContains(answer, "Accepted", status_code=422)
                self.assertContains(answer, "24 Dec for", status_code=422)

    def test_numbers_of_thousands_of_digits(self):
        long = "9" * 5000
        for name, args, data in (
            ("undo", (), {}),
            ("row-action", ("entry-0", "move"), {"to": long}),
            ("option-take", (), {"option": long}),
            ("remedy", (), {"remedy": long}),
        ):
            with self.subTest(name=name, data=data):
                answer = self.client.post(reverse(name, args=[self.unit.pk, *args]), {"revision": long, **data})
                self.assertIn(answer.status_code, (404, 409, 422), name)
        self.assertEqual(
            self.client.get(self.url("unit"), {"year": long, "day": long, "channel": long}).status_code, 200
        )
        self.assertEqual(self.client.get("/units/99999999999999999999999/").status_code, 404)

    def test_a_year_that_the_units_clock_takes_beyond_the_tables(self):
        clock = {"dst": "zone", "error_s": -31_536_000 * 20}
        plan = read_plan(Node(document(DAILY, [entry("on", "sunset")], clock=clock)))
        edit(self.unit, member(self.crew), self.unit.head.number, lambda _: plan, "a clock far behind", now=read_now())
        statuses = set()
        for year in range(2016, 2037):
            answer = self.client.get(self.url("unit"), {"year": year})
            statuses.add(answer.status_code)
            if answer.status_code != 200:
                self.assertContains(answer, "accepted: years", status_code=422)
        self.assertLessEqual(statuses, {200, 422})
        far = plan.to_json()
        far["unit"]["clock"]["error_s"] = -31_536_000 * 400
        answer = self.import_file(json.dumps(far).encode())
        self.assertContains(answer, "accepted:", status_code=422)

    def import_file(self, data):
        unit = type(self.unit).objects.get(pk=self.unit.pk)
        file = SimpleUploadedFile("plan.json", data)
        return self.client.post(self.url("import"), {"file": file, "revision": unit.head.number})

    def test_as_found_with_a_million_lines(self):
        lines = "on 18:00\n" * 100_000
        answer = self.client.post(self.url("as-found-keep"), {"lines": lines})
        self.assertContains(answer, "Accepted: at most 400 lines", status_code=422)
        answer = self.client.post(self.url("as-found-keep"), {"lines": "on 18:00\n" * 1_000_000})
        self.assertContains(answer, "Accepted: at most 1,000,000", status_code=413)

    def test_a_plan_that_holds_too_much_is_refused_with_what_is_accepted(self):
        rows = [entry(("on", "off")[n % 2], clock_text(n)) for n in range(301)]
        override = {"at": "2027-05-11T06:50", "channel": 1, "set": "on"}

        def watered(times):
            return {"stations": [], "programs": [], "by_hand": [{"at": "2027-05-11T06:50", "off": True}] * times}

        bounds.check_plan(read_plan(Node(document(DAILY) | {"water": watered(400)})))
        for plan, told in (
            (document(DAILY, rows), "301 are too many; accepted: at most 300 entries in all"),
            (document(DAILY * 301), "at most 300 windows in all channels"),
            (document(channels=[[]] * 65), "at most 64 channels"),
            (document(DAILY, [PULSES]), "at most 300,000 pulses a year"),
            (document(DAILY) | {"overrides": [override] * 401}, "at most 400 overrides"),
            (document(DAILY) | {"water": watered(401)}, "at most 400 things done by hand"),
            (document(DAILY, holidays=[{"from": f"{2000 + n}-12-25", "days": 1} for n in range(201)]), "200 holidays"),
            (document(channels=[[]] * 50, entries=[entry("on", "18:00", channels=range(1, 51))] * 21), "each channel"),
        ):
            with self.subTest(plan=plan, told=told), self.assertRaisesMessage(PlanError, told):
                bounds.check_plan(read_plan(Node(plan)))
        self.assertContains(
            self.import_file(json.dumps(document(DAILY, rows)).encode()), "at most 300", status_code=422
        )

    def test_a_large_file_is_read_in_the_background_and_refused_there_in_words(self):
        plan = document(DAILY) | {"overrides": [{"at": "2027-05-11T06:50", "channel": 1, "set": "on"}] * 10_000}
        answer = self.import_file(json.dumps(plan).encode())
        self.assertRedirects(answer, reverse("job", args=[Job.objects.get().pk]))
        (job,) = work_off()
        self.assertIn("10,000 are too many. Accepted: at most 400 overrides", job.told)
        self.assertContains(self.client.get(reverse("job", args=[job.pk])), "at most 400 overrides")
        self.assertIsNone(job.upload)

    def test_the_plan_of_a_unit_that_waters_is_refused_where_the_kind_switches(self):
        kind = next(kind for kind in shipped_kinds() if kind.watering is None)
        units.choose_kind(self.unit, member(self.crew), self.unit.head.number, kind, None, now=read_now())
        plan = document(DAILY, []) | {"water": {"stations": [], "programs": []}}
        self.assertContains(self.import_file(json.dumps(plan).encode()), "another sort of unit", status_code=422)

    def test_a_file_that_is_too_large_is_not_read_at_all(self):
        self.assertContains(self.import_file(b" " * 2_000_001), "Accepted: at most 2 MB", status_code=422)
        self.assertContains(self.import_file(b" " * 2_600_000), "Accepted: at most 2,500,000", status_code=413)

    def test_nobody_sends_much(self):
        self.client.logout()
        answer = self.client.post(reverse("login"), {"username": "x" * 70_000})
        self.assertContains(answer, "Accepted: at most 64,000", status_code=413)

    def test_htmx_gets_the_words_alone_and_the_page_stays(self):
        answer = self.client.get(reverse("find"), {"q": "\x00"}, headers={"HX-Request": "true"})
        self.assertEqual((answer.status_code, answer["HX-Reswap"]), (400, "none"))
        self.assertTrue(answer["Content-Type"].startswith("text/plain"))
