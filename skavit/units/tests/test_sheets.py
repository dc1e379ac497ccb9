"""The sheet is worked out once while it holds, and says the same as one that is worked out anew."""

from datetime import UTC, datetime
from unittest import mock

from django.test import TestCase
from django.urls import reverse

from skavit.core.kinds import shipped_kinds
from skavit.core.kinds.place import plan_for_kind
from skavit.core.plan import edits
from skavit.core.sheet import steps
from skavit.core.tests.builders import entry, make_plan, window
from skavit.core.text.wording import PLAIN
from skavit.crews.tests.builders import make_crew, make_unit, member, stop_clock
from skavit.units import sheets
from skavit.units.computing import unit_year
from skavit.units.models import Unit
from skavit.units.pages.sheet.page import sheet_page
from skavit.units.services.revisions import edit

MORNING = 1_798_056_000  # 24 Dec 2026, 09:00 in Hawke's Bay: outputs are off until sunset


class KeptSheetTest(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.crew = make_crew()
        cls.unit = make_unit(cls.crew)

    def setUp(self):
        stop_clock(self, MORNING)
        sheets._KEPT.clear()
        counted = mock.patch.object(sheets, "steps", side_effect=steps)
        self.steps = counted.start()
        self.addCleanup(counted.stop)

    def sheet(self, now):
        return sheets.sheet_of(self.unit.plan, None, PLAIN, now)

    def anew(self, now):
        year = unit_year(self.unit.plan, 2026)
        return steps(self.unit.plan, year.replay, year.leaving(now), now, PLAIN, None, year.ahead(now))

    def test_twice_costs_once(self):
        self.assertEqual(self.sheet(MORNING), self.sheet(MORNING))
        self.assertNotEqual(self.sheet(MORNING), self.sheet(MORNING + 600))  # the minute that the clock must show
        self.assertEqual(self.steps.call_count, 1)

    def test_at_each_quarter_of_two_days_it_says_what_one_worked_out_anew_says(self):
        for now in range(MORNING, MORNING + 2 * 86_400, 900):
            kept, new = self.sheet(now), self.anew(now)
            self.assertEqual(
                [(step.key, step.say, step.watch, step.display) for step in kept],
                [(step.key, step.say, step.watch, step.display) for step in new],
                now,
            )
        self.assertLess(self.steps.call_count, 2 * 96)

    def test_another_plan_is_another_sheet(self):
        before = self.sheet(MORNING)
        change = edits.remove_entry(self.unit.plan, 0)
        edit(self.unit, member(self.crew), self.unit.head.number, lambda _: change, "cleared", now=MORNING)
        self.assertNotEqual([step.key for step in self.sheet(MORNING)], [step.key for step in before])

    def test_the_hours_of_its_table_begin_now(self):
        self.sheet(MORNING)
        page = sheet_page(self.unit, PLAIN, MORNING + 1800)
        firsts = [row.spells[0].first for row in page.rows]
        self.assertEqual(set(firsts), {MORNING + 1800})
        begin = [row.hours[0].when[:9] for row in page.rows if row.hours]
        self.assertEqual(set(begin), {"Thu 09:30"})


class SeasonSheetTest(TestCase):
    """A plan with a summer and a winter program: the keys for the next one, and what has changed since the last."""

    MAY = MORNING + 140 * 86_400

    @classmethod
    def setUpTestData(cls):
        cls.crew = make_crew()
        summer = [entry("on", "20:30"), entry("off", "23:00")]
        winter = [entry("on", "17:00"), entry("off", "23:00"), entry("on", "06:00"), entry("off", "07:00")]
        keyings = [{"from": "04-04", "name": "Winter", "entries": winter},
                   {"from": "09-26", "name": "Summer", "entries": summer}]  # fmt: skip
        kind = next(kind for kind in shipped_kinds() if kind.slug == "panel-switch-one-channel-by-coordinates")
        plan = plan_for_kind(make_plan([window("20:30", "23:00")], keyings=keyings), kind)
        cls.unit = make_unit(cls.crew, plan=plan.to_json())
        Unit.objects.filter(pk=cls.unit.pk).update(shipped_kind=kind.slug)

    def setUp(self):
        self.client.force_login(member(self.crew).user)
        stop_clock(self, MORNING)

    def page(self, **query):
        return self.client.get(reverse("sheet", args=[self.unit.pk]), query)

    def slots(self, page):
        return [row.step.title for row in page.context["rows"] if row.step.kind == "slot"]

    def test_the_keys_of_the_program_that_comes_next(self):
        self.assertContains(self.page(), "The keys for that day")
        page = self.page(season=1)
        self.assertContains(page, "Winter, from 4 Apr 2027: only what changes.")
        self.assertEqual(self.slots(page), ["Slot 1", "Slot 3", "Slot 4"])
        self.assertNotContains(page, "slots are used")
        slots = [row.step for row in page.context["rows"] if row.step.kind == "slot"]
        self.assertTrue(all(step.presses and not step.unknown for step in slots))
        ticked = self.client.post(
            reverse("tick", args=[self.unit.pk]), {"key": slots[0].key, "done": "1"}, headers={"HX-Request": "true"}
        )
        self.assertEqual(ticked.json(), {"gone": {}})

    def test_after_its_date_it_is_what_has_changed_since_the_visit(self):
        unit = Unit.objects.get(pk=self.unit.pk)
        unit.point(keyed=unit.head_revision, keyed_at=datetime.fromtimestamp(MORNING, UTC))
        self.assertNotContains(self.page(), "Only what has changed")
        stop_clock(self, self.MAY)
        self.assertContains(self.page(), "Only what has changed")
        self.assertEqual(self.slots(self.page(changed=1)), ["Slot 1", "Slot 3", "Slot 4"])
        unit.point(keyed_at=datetime.fromtimestamp(self.MAY, UTC))
        self.assertNotContains(self.page(), "Only what has changed")
