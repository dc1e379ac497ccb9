"""Entry sheets of many units as one file: those of a site, those of a day, so many at once, in the units' order."""

from io import BytesIO
from unittest import mock

from django.test import TestCase, TransactionTestCase
from django.urls import reverse
from pypdf import PdfReader

from skavit.background import run
from skavit.background.models import Job, State
from skavit.background.tests.builders import work_off
from skavit.crews.tests.builders import make_crew, make_unit, member
from skavit.tests.runner import may_have_children
from skavit.units.pages.sheet import printing


def pages(job):
    return [page.extract_text() for page in PdfReader(BytesIO(bytes(job.answer))).pages]


class SheetsTest(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.crew = make_crew()
        cls.units = [make_unit(cls.crew, plan=None, name=f"Unit {name}") for name in "BCA"]
        cls.other = make_unit(make_crew("Other crew"), plan=None, name="Another crew's")

    def setUp(self):
        self.client.force_login(member(self.crew, "viewer").user)

    def sheets(self, **sent):
        answer = self.client.post(reverse("sheets-pdf"), sent, follow=True)
        return answer, (work_off() or [None])[0]

    def test_those_of_a_site_by_name(self):
        _, job = self.sheets(site=self.units[0].site_id)
        self.assertEqual((job.state, job.told), (State.DONE, "3 entry sheets in one file."))
        found = pages(job)
        self.assertEqual(len(found), 3)
        for page, name in zip(found, "ABC", strict=True):
            self.assertIn(f"Unit {name}", page)
        self.assertEqual(job.answer_name, "entry-sheets-of-harbour-walk.pdf")

    def test_those_that_are_named_and_no_other_crews(self):
        _, job = self.sheets(unit=[self.units[1].pk, self.other.pk, "x", 2**70])
        (page,) = pages(job)
        self.assertIn("Unit C", page)

    def test_none_and_too_many_are_refused_in_words(self):
        for sent in ({"unit": [self.other.pk]}, {}):
            answer, job = self.sheets(**sent)
            self.assertIsNone(job)
            self.assertContains(answer, "Accepted: 1 to 100")
        with mock.patch.object(printing, "MOST_SHEETS", 2):
            answer, job = self.sheets(site=self.units[0].site_id)
        self.assertIsNone(job)
        self.assertContains(answer, "3 entry sheets at once. Accepted: 1 to 2.")

    def test_another_crews_site_is_not_found(self):
        self.assertEqual(self.client.post(reverse("sheets-pdf"), {"site": self.other.site_id}).status_code, 404)


class LimitTest(TestCase):
    def test_a_hundred_sheets_have_the_time_that_a_hundred_sheets_take(self):
        one, hundred = (printing._limit_s({"units": [0] * count}) for count in (1, 100))
        self.assertEqual((one, hundred), (126, 720))

    def test_what_is_finished_in_time_is_kept_and_the_rest_is_named(self):
        crew = make_crew()
        for number in range(6):
            make_unit(crew, plan=None, name=f"Unit {number}")
        self.client.force_login(member(crew).user)
        self.client.post(reverse("sheets-pdf"), {"site": crew.sites.get().pk})

        def too_late(keys, work, done, a_turn, within_s):
            return [work(keys[:a_turn]), None]

        with mock.patch.object(printing, "shared_out", too_late):
            (job,) = work_off()
        self.assertEqual(job.state, State.DONE, job.told)
        self.assertEqual(
            job.told, "4 entry sheets in one file. Not drawn in time: Harbour walk, Unit 4; Harbour walk, Unit 5."
        )
        self.assertEqual(len(pages(job)), 4)


class ManySheetsTest(TransactionTestCase):
    def test_more_than_a_turn_by_the_workers_processes(self):
        may_have_children(self)
        unhurried = mock.patch.object(printing, "USUAL_LIMIT_S", 3_600)  # a busy machine draws none of them in time
        unhurried.start()
        self.addCleanup(unhurried.stop)
        crew = make_crew()
        names = [f"Unit {number:02}" for number in range(printing.A_TURN + 2)]
        for name in names:
            make_unit(crew, plan=None, name=name)
        self.client.force_login(member(crew).user)
        self.client.post(reverse("sheets-pdf"), {"site": crew.sites.get().pk})
        job = Job.objects.get()
        run.run(job.pk)
        job.refresh_from_db()
        self.assertEqual(job.state, State.DONE, job.told)
        self.assertEqual(job.told, f"{len(names)} entry sheets in one file.")
        self.assertEqual([name for name, page in zip(names, pages(job), strict=True) if name not in page], [])
