"""The sheet is worked out once while it holds, and says the same as one that is worked out anew."""

from unittest import mock

from django.test import TestCase

from skavit.core.plan import edits
from skavit.core.sheet import steps
from skavit.core.text.wording import PLAIN
from skavit.crews.tests.builders import make_crew, make_unit, member, stop_clock
from skavit.units import sheets
from skavit.units.computing import unit_year
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
