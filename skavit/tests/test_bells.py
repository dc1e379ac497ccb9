"""The wall between trades holds: a fourth one is two objects and two lines, and every page knows it."""

from copy import deepcopy
from pathlib import Path
from unittest import mock

from django.conf import settings
from django.test import TestCase, override_settings
from django.urls import reverse

from skavit.background.tests.builders import work_off
from skavit.core import trades
from skavit.core.findings import described
from skavit.core.ground.strict_json import Node
from skavit.core.plan.document import read_plan
from skavit.crews.tests.builders import make_crew, make_unit, member
from skavit.due.models import Due
from skavit.tests.bells.trade import BELLS
from skavit.units.models import Unit
from skavit.units.trades import all_pages

TEMPLATES = deepcopy(settings.TEMPLATES)
TEMPLATES[0]["DIRS"].append(Path(__file__).parent / "bells" / "templates")


def forget():
    """What was asked of the lists before they had another line."""
    all_pages.cache_clear()
    described.cache_clear()


@override_settings(TRADES=[*settings.TRADES, "skavit.tests.bells.pages.PAGES"], TEMPLATES=TEMPLATES)
class BellsTest(TestCase):
    def setUp(self):
        listed = mock.patch.object(trades, "TRADES", (BELLS, *trades.TRADES))
        listed.start()
        self.addCleanup(forget)
        self.addCleanup(listed.stop)
        forget()
        self.crew = make_crew()
        self.site = make_unit(self.crew).site
        self.client.force_login(member(self.crew).user)
        added = self.client.post(
            reverse("unit-new", args=[self.site.pk]), {"kind": "unknown-rings", "name": "School bell"}
        )
        self.unit = Unit.objects.get(name="School bell")
        self.assertRedirects(added, reverse("unit", args=[self.unit.pk]))

    def get(self, name, *args):
        return self.client.get(reverse(name, args=[self.unit.pk, *args]))

    def post(self, name, *args, **data):
        head = Unit.objects.get(pk=self.unit.pk).head.number
        return self.client.post(reverse(name, args=[self.unit.pk, *args]), {"revision": head, **data}, follow=True)

    @property
    def bells(self):
        return Unit.objects.get(pk=self.unit.pk).plan.part("bells")

    def test_from_an_empty_page_to_the_customers_sheet(self):
        self.assertContains(self.get("unit"), "Add a ring")
        self.assertEqual(self.post("row", "ring-new", at="25:00", seconds="5").status_code, 422)
        told = self.post("preview", "ring-new", at="08:30", seconds="5")
        self.assertContains(told, "1 ring a day, 0 before.")
        self.assertContains(told, "No bell rings at 08:30.")
        page = self.post("row", "ring-new", at="08:30", seconds="5")
        self.assertContains(page, "08:30 for 5 s")
        self.assertContains(page, "No bell rings at 08:30")
        self.assertContains(self.client.get(reverse("round")), "No bell rings at 08:30")
        self.assertTrue(Due.objects.filter(unit=self.unit).exists())
        self.assertContains(self.client.get(reverse("due")), "School bell")
        self.assertContains(self.get("options"), "As wanted")
        self.assertContains(self.post("fit"), "1 ring keyed.")
        self.assertEqual(len(self.bells.keyed), 1)
        self.assertNotContains(self.get("unit"), "No bell rings")
        self.assertContains(self.client.get(reverse("round")), "School bell")
        self.assertContains(self.get("day"), "08:30, 5 s")
        self.assertContains(self.get("sheet"), "Key 08:30, 5 s.")
        self.assertContains(self.get("handover"), "It is loud beside the ear.")
        self.assertEqual(self.get("visit").status_code, 200)
        self.assertEqual(self.get("record").status_code, 200)
        self.assertContains(self.get("customer"), "Bell")
        self.assertEqual(self.get("unit-kind").status_code, 200)

    def test_its_plan_file_goes_out_and_comes_in(self):
        self.post("row", "ring-new", at="08:30", seconds="5")
        raw = self.get("export").json()
        self.assertEqual(raw["bells"]["wanted"], [{"at_min": 510, "for_s": 5}])
        self.assertEqual(read_plan(Node(raw)).to_json(), raw)

    def test_rows_stale_edits_undo_and_rights(self):
        self.post("row", "ring-new", at="08:30", seconds="5")
        self.assertEqual(self.post("row", "ring-0", revision=1, at="09:00", seconds="5").status_code, 409)
        self.post("row", "ring-0", at="09:00", seconds="7")
        self.assertEqual([(r.time, r.for_s) for r in self.bells.wanted], [("09:00", 7)])
        self.post("row-action", "ring-0", "remove")
        self.assertEqual(self.bells.wanted, ())
        self.post("undo")
        self.assertEqual(len(self.bells.wanted), 1)
        self.assertEqual(self.get("row", "ring-7").status_code, 404)
        self.client.force_login(member(make_crew("Other")).user)
        self.assertEqual(self.get("unit").status_code, 404)
        self.assertEqual(work_off(), [])
