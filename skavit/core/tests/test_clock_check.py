"""Checking a unit's clock and date, its displayed rule against the law, drift, and the dates to know."""

import calendar
import unittest
from datetime import date

from hypothesis import given
from hypothesis import strategies as st

from skavit.core.ground.arrays import DAY_S
from skavit.core.plan.clock_settings import ChangeDay, NamedRule, OwnRule
from skavit.core.plan.times import ClockTime, day_number, day_of
from skavit.core.simulation.dates_to_know import dates_to_know
from skavit.core.site.clock import zone_clock
from skavit.core.site.clock_check import (
    ClockShown,
    check_clock,
    clock_changes,
    dates_against_law,
    drift,
    law_as_rule,
    rule_against_law,
    years_showing,
)
from skavit.core.tests.builders import local_instant, make_plan, window
from skavit.core.text.wording import PLAIN

NOW = day_number(date(2027, 5, 11)) * DAY_S + 9 * 3600 + 20 * 60 + 17  # a Tuesday


def minutes(hour, minute):
    return hour * 3600 + minute * 60


class CheckClockTest(unittest.TestCase):
    def codes(self, **shown):
        return [slip.code for slip in check_clock(ClockShown(**shown), NOW, PLAIN)]

    def test_each_slip_of_the_hand_has_its_name(self):
        right = {"seconds": minutes(9, 20), "day": date(2027, 5, 11), "weekday": 1}
        for change, expected in [
            ({}, []),
            ({"seconds": minutes(9, 21)}, []),
            ({"seconds": minutes(21, 20)}, ["am-pm"]),
            ({"seconds": minutes(21, 23)}, ["am-pm"]),
            ({"seconds": minutes(10, 20)}, ["hour"]),
            ({"seconds": minutes(8, 18)}, ["hour"]),
            ({"seconds": minutes(9, 34)}, ["minutes"]),
            ({"day": date(2026, 5, 11), "weekday": 0}, ["year"]),
            ({"day": date(2027, 11, 5), "weekday": 4}, ["day-month"]),
            ({"day": date(2027, 5, 12), "weekday": 2}, ["date"]),
            ({"weekday": 0}, ["hidden-year"]),
            ({"day": None, "weekday": 0}, ["weekday"]),
            ({"seconds": None, "day": None, "weekday": 1}, []),
        ]:
            with self.subTest(change=change):
                self.assertEqual(self.codes(**{**right, **change}), expected)

    def test_a_minute_before_midnight_is_no_wrong_date(self):
        midnight = day_number(date(2027, 5, 11)) * DAY_S + 10
        shown = ClockShown(seconds=minutes(23, 59), day=date(2027, 5, 10), weekday=0)
        self.assertEqual(check_clock(shown, midnight, PLAIN), ())

    def test_a_wrong_weekday_names_the_years_that_would_give_it(self):
        (slip,) = check_clock(ClockShown(day=date(2027, 5, 11), weekday=0), NOW, PLAIN)
        self.assertIn("11 May is a Monday in 2026", slip.wrong)
        self.assertIn("2027", slip.key_in)

    @given(st.dates(date(1990, 1, 1), date(2099, 12, 31)), st.integers(0, 6))
    def test_years_showing_are_those_of_the_calendar(self, day, weekday):
        # Against the standard library's calendar module.
        found = years_showing(day, weekday)
        for year in range(day.year - 12, day.year + 13):
            exists = (day.month, day.day) != (2, 29) or calendar.isleap(year)
            shows = exists and calendar.weekday(year, day.month, day.day) == weekday
            self.assertEqual(year in found, shows and year != day.year)


class RuleAgainstLawTest(unittest.TestCase):
    def test_the_us_rule_in_new_zealand(self):
        # NZ Daylight Time Order 2007: last Sunday in September to first Sunday in April. US: 15 U.S.C. 260a.
        found = rule_against_law(NamedRule("us"), "Pacific/Auckland", range(2027, 2028))
        told = [(a.first, a.last, a.ahead_s) for a in found]
        self.assertEqual(
            told,
            [
                (date(2027, 1, 1), date(2027, 3, 14), -3600),
                (date(2027, 4, 4), date(2027, 9, 26), 3600),
                (date(2027, 11, 7), date(2027, 12, 31), -3600),
            ],
        )

    def test_a_displayed_rule_that_is_the_law(self):
        sunday, two, three = 6, ClockTime(7200), ClockTime(10800)
        rule = OwnRule(ChangeDay(9, 5, sunday, two), ChangeDay(4, 1, sunday, three), 60)
        self.assertEqual(rule_against_law(rule, "Pacific/Auckland", range(2026, 2041)), ())

    def test_a_week_wrong_shows_in_the_years_in_which_it_is_one(self):
        # "Fourth Sunday" for "last Sunday" in September differs just in the years with five Sundays.
        sunday = 6
        rule = OwnRule(ChangeDay(9, 4, sunday, ClockTime(7200)), ChangeDay(4, 1, sunday, ClockTime(10800)), 60)
        years = {apart.first.year for apart in rule_against_law(rule, "Pacific/Auckland", range(2026, 2041))}
        five = {y for y in range(2026, 2041) if sum(w[calendar.SUNDAY] > 0 for w in calendar.monthcalendar(y, 9)) == 5}
        self.assertEqual(years, five)

    def test_displayed_dates_against_the_law(self):
        # NZ Daylight Time Order 2007: 26 September 2027 and 2 April 2028; 15 U.S.C. 260a: 14 March and 7 November 2027.
        zone = "Pacific/Auckland"
        self.assertEqual(dates_against_law(date(2027, 9, 26), date(2028, 4, 2), zone), ())
        told = dates_against_law(date(2027, 10, 3), date(2028, 3, 26), zone)
        self.assertEqual(
            [(a.first, a.last, a.ahead_s) for a in told],
            [(date(2027, 9, 26), date(2027, 10, 2), -3600), (date(2028, 3, 26), date(2028, 4, 1), -3600)],
        )
        (early,) = dates_against_law(date(2027, 9, 19), date(2028, 4, 2), zone)
        self.assertEqual((early.first, early.last, early.ahead_s), (date(2027, 9, 19), date(2027, 9, 25), 3600))
        self.assertTrue(dates_against_law(date(2027, 3, 28), date(2027, 10, 31), "Asia/Kolkata"))

    def test_changes_of_a_half_hour_and_of_a_winter_saving_zone(self):
        for zone, by in (("Australia/Lord_Howe", 1800), ("Europe/Dublin", 3600)):
            with self.subTest(zone=zone, by=by):
                start, end = (day_number(date(y, 1, 1)) * DAY_S for y in (2027, 2028))
                found = clock_changes(zone_clock(zone, 2026, 2028), start, end)
                self.assertEqual(sorted(change.by_s for change in found), [-by, by])

    def test_the_law_as_a_rule_that_a_unit_takes(self):
        # The same laws as above, and the zone data for those that are no such rule.
        for zone, expected in [
            ("Pacific/Auckland", (9, 5, 4, 1, 60)),
            ("Australia/Lord_Howe", (10, 1, 4, 1, 30)),
            ("Europe/Dublin", (3, 5, 10, 5, 60)),
            ("America/New_York", (3, 2, 11, 1, 60)),
        ]:
            with self.subTest(zone=zone, expected=expected):
                rule = law_as_rule(zone, range(2026, 2041))
                found = (rule.start.month, rule.start.week, rule.end.month, rule.end.week, rule.shift_min)
                self.assertEqual(found, expected, zone)
                self.assertEqual(rule_against_law(rule, zone, range(2026, 2041)), (), zone)
        for zone in ("Asia/Kolkata", "Africa/Casablanca"):
            with self.subTest(zone=zone):
                self.assertIsNone(law_as_rule(zone, range(2026, 2041)))


class DriftTest(unittest.TestCase):
    def test_drift_and_when_it_is_out(self):
        # Ten seconds in five days: two a day, a minute from nought in thirty days.
        found = drift((0, 0), (5 * DAY_S, 10), resolution_s=1)
        self.assertEqual((found.fast_s_per_day, found.pm_s_per_day), (2, 0.2))
        self.assertEqual(found.out_at(60), 30 * DAY_S)
        self.assertEqual(found.out_at(300), 150 * DAY_S)

    def test_a_slow_clock_that_is_ahead_first_comes_right(self):
        found = drift((0, 40), (10 * DAY_S, 30), resolution_s=1)
        self.assertEqual(found.out_at(60), (10 + 90) * DAY_S)

    def test_no_drift_is_never_out_and_readings_must_be_apart(self):
        self.assertIsNone(drift((0, 3), (DAY_S, 3), 1).out_at(60))
        with self.assertRaises(ValueError):
            drift((0, 0), (30, 1), 1)


class DatesToKnowTest(unittest.TestCase):
    def setUp(self):
        self.plan = make_plan([window("05:50", "sunrise"), window("sunset", "22:40")], clock={"dst": "us"})
        self.found = dates_to_know(self.plan, local_instant(self.plan, NOW), PLAIN)

    def named(self, name):
        return [day_of(d.day) for d in self.found if d.name == name]

    def test_clock_changes_by_law_and_by_the_unit(self):
        self.assertEqual(
            self.named("clock change"),
            [date(2027, 9, 26), date(2027, 11, 7), date(2028, 3, 12), date(2028, 4, 2)],
        )
        self.assertEqual([d.day for d in self.found], sorted(d.day for d in self.found))

    def test_nights_at_the_solstices_and_fastest_sun_at_the_equinoxes(self):
        # The solstices of 2027: 21 June and 22 december (USNO Earth's Seasons, from memory).
        self.assertLess(abs((self.named("longest night")[0] - date(2027, 6, 21)).days), 3)
        self.assertLess(abs((self.named("shortest night")[0] - date(2027, 12, 22)).days), 3)
        for name in ("fastest sunrise", "fastest sunset"):
            with self.subTest(name=name):
                day = self.named(name)[0]
                equinox = min((date(2027, 9, 23), date(2028, 3, 20)), key=lambda e: abs((day - e).days))
                self.assertLess(abs((day - equinox).days), 30)
                what = next(d.what for d in self.found if d.name == name)
                # Common practice, no source: one and a half to two minutes a day at middle latitudes.
                self.assertRegex(what, r"^It comes (1\.[4-9]|2\.0) min")

    def test_first_and_last_date_of_an_empty_window(self):
        # From November to early January, and from 11 May on that is a stretch with a first and a last date.
        (first,), (last,) = self.named("window first empty"), self.named("window last empty")
        self.assertEqual((first.month, last.month), (11, 1))
        sentence = next(d.what for d in self.found if d.name == "window first empty")
        self.assertIn("05:50 until sunrise is empty from here to", sentence)
        morning = make_plan([window("05:50", "sunrise")])
        december = local_instant(morning, day_number(date(2027, 12, 10)) * DAY_S)
        names = [d.name for d in dates_to_know(morning, december, PLAIN) if "window" in d.name]
        self.assertEqual(names, ["window last empty", "window first empty"])
