"""What is done to a controller by hand, its winter, and the lines on which programs are typed."""

import unittest
from datetime import date

from hypothesis import given
from hypothesis import strategies as st

from skavit.core.findings import audit
from skavit.core.ground.errors import PlanError
from skavit.core.simulation.replay import replay
from skavit.core.tests.builders import clock_text
from skavit.core.tests.test_stack import program, said, stacked, watering
from skavit.core.text.program_lines import program_typed
from skavit.core.text.wording import Words
from skavit.core.water.stack import Fate
from skavit.core.water.state import state_at
from skavit.core.water.year import WaterYear, change_lines, water_year

DAILY = program(["04:00"], [(1, 10), (2, 20)])
TODAY = date(2027, 6, 1)


def fates(found):
    return [Fate(int(fate)).name for fate in found.cycles.fate]


class ByHandTest(unittest.TestCase):
    def test_a_station_runs_once_to_the_units_step(self):
        found = stacked([DAILY], by_hand=[{"at": "2027-06-01T12:00", "station": 1, "run_min": 4.6}])
        self.assertEqual(said(found), [("04:00", "04:10"), ("12:00", "12:05")])

    def test_a_program_runs_once_as_keyed(self):
        found = stacked([DAILY | {"adjust_pct": 150}], by_hand=[{"at": "2027-06-01T12:00", "program": 1}])
        self.assertEqual(said(found, 1), [("04:15", "04:45"), ("12:15", "12:45")])

    def test_a_start_waits_for_what_runs_by_hand(self):
        found = stacked([DAILY], by_hand=[{"at": "2027-06-01T03:55", "station": 3, "run_min": 20}])
        self.assertEqual(said(found), [("04:15", "04:25")])

    def test_suspended_without_an_end(self):
        found = stacked([DAILY], last=date(2027, 6, 3), by_hand=[{"at": "2027-06-01T12:00", "off": True}])
        self.assertEqual(fates(found), ["RUNS", "SUSPENDED", "SUSPENDED"])

    def test_suspended_for_days_and_let_go_on(self):
        days = [{"at": "2027-06-01T12:00", "off_days": 2}]
        self.assertEqual(
            fates(stacked([DAILY], last=date(2027, 6, 4), by_hand=days)), ["RUNS", "SUSPENDED", "SUSPENDED", "RUNS"]
        )
        ended = [*days, {"at": "2027-06-02T12:00", "auto": True}]
        self.assertEqual(
            fates(stacked([DAILY], last=date(2027, 6, 4), by_hand=ended)), ["RUNS", "SUSPENDED", "RUNS", "RUNS"]
        )

    def test_whether_a_suspended_unit_runs_anything_by_hand(self):
        done = [{"at": "2027-06-01T03:00", "off": True}, {"at": "2027-06-01T12:00", "station": 1, "run_min": 5}]
        self.assertEqual(said(stacked([DAILY], by_hand=done)), [("12:00", "12:05")])
        self.assertEqual(said(stacked([DAILY], by_hand=done, manual_while_off=False)), [])

    def test_a_winter_is_without_water(self):
        found = stacked([DAILY], last=date(2027, 6, 3), lay_up={"from": "06-02", "days": 30})
        self.assertEqual(fates(found), ["RUNS", "OFF_DATE", "OFF_DATE"])

    def test_one_thing_is_done_at_a_time(self):
        for wrong in (
            {"station": 1, "run_min": 5, "program": 1},
            {"station": 1},
            {"program": 1, "run_min": 5},
            {},
            {"station": 4, "run_min": 5},
            {"program": 2},
        ):
            with self.subTest(wrong=wrong), self.assertRaises(PlanError):
                watering([DAILY], by_hand=[{"at": "2027-06-01T12:00", **wrong}])

    @given(st.integers(0, 1439), st.integers(1, 300))
    def test_a_suspension_and_its_end_leave_the_other_dates_alone(self, minute, days):
        done = [{"at": f"2027-02-01T{clock_text(minute)}", "off_days": days}]
        run = stacked([DAILY], first=date(2027, 1, 1), last=date(2027, 12, 31), by_hand=done)
        kept = (run.cycles.fate == Fate.RUNS).sum()
        self.assertEqual(kept, 365 - days)

    def test_left_off_is_found_and_its_remedy_lets_it_go_on(self):
        plan = watering([DAILY], by_hand=[{"at": "2027-03-01T12:00", "off": True}])
        run = replay(plan, date(2027, 1, 1), date(2027, 12, 31))
        found = next(f for f in audit(run) if f.code == "left-off")
        self.assertIn("suspended since 1 Mar, and 305 starts do nothing", found.facts.headline(Words()))
        mended = found.remedy.applied(plan)
        self.assertEqual(mended.water.by_hand, ())
        ended = watering([DAILY], by_hand=[{"at": "2027-03-01T12:00", "off_days": 9}])
        again = replay(ended, date(2027, 1, 1), date(2027, 12, 31))
        self.assertNotIn("left-off", [f.code for f in audit(again)])


class MomentTest(unittest.TestCase):
    def test_what_runs_and_what_comes(self):
        found = stacked([DAILY], last=date(2027, 6, 3))
        begin = int(found.runs.on[0])
        here = state_at(found, begin + 700)
        self.assertEqual([turn.station for turn in here.running], [1])
        self.assertEqual([coming.begin - begin for coming in here.following], [86_400, 2 * 86_400])
        self.assertEqual(state_at(found, begin - 1).running, ())


class YearTest(unittest.TestCase):
    def year(self, **more):
        months = [100] * 6 + [50] * 6
        run = replay(watering([DAILY | {"monthly_pct": months} | more]), date(2027, 1, 1), date(2027, 12, 31))
        return water_year(run)

    def test_litres_by_the_month_and_what_the_months_save(self):
        year = self.year()
        # Station 1: 10 l/min, 10 min a day in January and 5 in July; station 2: 20 l/min, 20 min and 10.
        self.assertEqual(year.litres_by_month(0)[[0, 6]].tolist(), [31 * 100, 31 * 50])
        self.assertEqual(year.litres, 181 * 500 + 184 * 250)
        self.assertEqual(year.saved_litres, 184 * 250)
        self.assertIsNone(year.cost(1000.0))
        self.assertIsNone(year.season)

    def test_what_an_edit_alters(self):
        lines = change_lines(self.year(), self.year(adjust_pct=200), Words())
        self.assertEqual(lines, ["136.5 m³ a year more, 273.0 m³ in all."])
        self.assertIsInstance(self.year(), WaterYear)


class LineTest(unittest.TestCase):
    def read(self, line, stations=3):
        return program_typed(line, "line 1", stations, TODAY)

    def test_a_program_on_a_line(self):
        found = self.read("A 04:30 05:50 tue thu sat; 1 18, 2 24; 130 %").to_json()
        self.assertEqual(found["days"], ["tue", "thu", "sat"])
        self.assertEqual((found["starts"], found["adjust_pct"]), (["04:30", "05:50"], 130.0))
        self.assertEqual(found["runs"], [{"station": 1, "run_min": 18.0}, {"station": 2, "run_min": 24.0}])

    def test_days_of_every_kind(self):
        for text, days in (
            ("A 4:30 am; 1 5", "daily"),
            ("A 4:30 am mo-fr; 1 5", "weekdays"),
            ("B 10pm even dates; 1 5", {"parity": "even"}),
            ("C 5.30 every 3 days; 1 5", {"every": 3, "from": "2027-06-01"}),
            ("C sunset+30 every 2nd day from 2027-01-02; 1 5", {"every": 2, "from": "2027-01-02"}),
            ("C sunset+30 every 2nd day from 2 Jan 2027; 1 5", {"every": 2, "from": "2027-01-02"}),
        ):
            with self.subTest(text):
                self.assertEqual(self.read(text).to_json()["days"], days)

    def test_what_is_no_program_is_told_with_its_line(self):
        for text in (
            "A; 1 5",
            "A 04:30",
            "A 04:30 tue; 1",
            "A 04:30; 4 5",
            "A 04:30; 1 5; much",
            "A 04:30 someday; 1 5",
        ):
            with self.subTest(text), self.assertRaises(PlanError) as caught:
                self.read(text)
            self.assertEqual(caught.exception.path, "line 1")


if __name__ == "__main__":
    unittest.main()
