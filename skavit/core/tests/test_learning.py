"""What a record made by hand teaches: drift from two readings, batteries from one change to the next or until one is low."""

import unittest

from skavit.core.due import FoundFault, Known, Learned, Seen, Sort, due_of, learned
from skavit.core.ground.arrays import DAY_S
from skavit.core.tests.builders import entry, make_plan

SPRING = 20_000  # a day number


def seen(days, **more):
    return Seen(at=(SPRING + days) * DAY_S, **more)


class DriftTest(unittest.TestCase):
    def test_two_readings_are_enough(self):
        # 60 s in half a year of 182.625 days is two minutes a year.
        found = learned([[seen(0, ahead_s=12.0), seen(182.625, ahead_s=72.0)]])
        self.assertAlmostEqual(found.fast_s_a_year, 120)
        self.assertEqual((found.units, found.drifts), (1, 1))
        self.assertEqual(found.lines(), ["1 unit: after a year a clock is 2 min ahead (1 reading)"])

    def test_a_clock_that_was_set_begins_at_nought(self):
        set_right = [seen(0, ahead_s=300.0, was_set=True), seen(365.25, ahead_s=-90.0)]
        self.assertAlmostEqual(learned([set_right]).fast_s_a_year, -90)

    def test_an_hour_is_no_drift_and_a_day_is_too_short(self):
        hour = learned([[seen(0, was_set=True), seen(200, ahead_s=3600.0)]])
        self.assertEqual(hour, Learned(units=1, visits=2, faults=((FoundFault.CLOCK, 1),)))
        self.assertEqual(learned([[seen(0, was_set=True), seen(2, ahead_s=30.0)]]), Learned(units=1, visits=2))

    def test_of_many_the_middle_one_is_believed(self):
        units = [[seen(0, was_set=True), seen(365.25, ahead_s=s)] for s in (10.0, 240.0, 250.0)]
        found = learned(units)
        self.assertEqual((round(found.fast_s_a_year), found.units, found.drifts), (240, 3, 3))


class BatteryTest(unittest.TestCase):
    def test_from_one_to_the_next_and_until_it_is_low(self):
        # 426 days are 14.0 months of 30.4375 days.
        changed = [seen(0, battery_new=SPRING), seen(426, battery_new=SPRING + 426)]
        low = [seen(0, battery_new=SPRING), seen(304, battery_low=True)]
        self.assertEqual(learned([changed]).battery_months, 14)
        self.assertEqual(learned([low]).battery_months, 10)
        found = learned([changed, low])
        self.assertEqual((found.battery_months, found.batteries), (12, 2))
        self.assertEqual(
            found.lines(), ["Batteries last 12 months (2 batteries)", "Found at 4 visits: a low battery 1 time"]
        )

    def test_the_next_is_due_by_what_the_record_says(self):
        plan = make_plan([], [entry("on", "18:00")])
        known = Known(today=SPRING, battery=SPRING, battery_months=14, batteries=5)
        (due,) = due_of(plan, None, (), known)
        self.assertEqual((due.sort, due.count), (Sort.BATTERY, 5))
        self.assertAlmostEqual(due.day, SPRING + 426, delta=2)
