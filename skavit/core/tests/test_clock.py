"""Clock rules against the pinned zone data, which follow the laws, and the skipped and the repeated hour."""

import unittest
from datetime import UTC, date, datetime
from zoneinfo import ZoneInfo

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from skavit.core.ground.strict_json import Node
from skavit.core.plan.clock_settings import ByHand, ClockSettings, NamedRule
from skavit.core.plan.times import day_number, day_of
from skavit.core.site.clock import nth_weekday, standard_offset_s, unit_clock, zone_clock

HOUR = 3600


def digits(text):
    return np.array([int(datetime.fromisoformat(text).replace(tzinfo=UTC).timestamp())])


def instant(text):
    return int(datetime.fromisoformat(text).timestamp())


def own(month_from, week_from, month_to, week_to, to="03:00", start="02:00", shift_min=60):
    day = {"weekday": "sun"}
    rule = {
        "from": {**day, "month": month_from, "week": week_from, "time": start},
        "to": {**day, "month": month_to, "week": week_to, "time": to},
        "shift_min": shift_min,
    }
    return ClockSettings.read(Node({"dst": rule}))


class RulesTest(unittest.TestCase):
    # The unit's rule, a zone that has it by law, and the years of that law. Outside source: tzdata.
    CASES = [
        (ClockSettings(dst=NamedRule("us")), "America/New_York", 2008, 2040),
        (ClockSettings(dst=NamedRule("us")), "America/Phoenix", 2008, 2008),
        (ClockSettings(dst=NamedRule("us-1987")), "America/Chicago", 1988, 2005),
        (ClockSettings(dst=NamedRule("eu")), "Europe/Berlin", 1997, 2040),
        (ClockSettings(dst=NamedRule("eu")), "Europe/Dublin", 1997, 2040),
        (ClockSettings(dst=NamedRule("eu")), "Europe/Lisbon", 1998, 2040),
        (ClockSettings(dst=NamedRule("none")), "Asia/Kolkata", 2000, 2040),
        (own(9, 5, 4, 1), "Pacific/Auckland", 2009, 2040),
        (own(10, 1, 4, 1), "Australia/Adelaide", 2009, 2040),
        (own(10, 1, 4, 1, to="02:00", shift_min=30), "Australia/Lord_Howe", 2009, 2040),
        (ClockSettings(dst=NamedRule("zone")), "America/St_Johns", 2008, 2040),
        (ClockSettings(dst=NamedRule("none")), "Australia/Brisbane", 2000, 2040),
    ]

    def test_rule_is_the_law(self):
        for given_clock, zone, first, last in self.CASES:
            with self.subTest(f"{given_clock.dst} {zone}"):
                ours = unit_clock(given_clock, zone, first - 1, last + 1).right
                law = zone_clock(zone, first - 1, last + 1)
                hours = np.arange(day_number(date(first, 2, 1)) * 24, day_number(date(last, 12, 1)) * 24) * HOUR
                same = ours.offset(hours) == law.offset(hours)
                self.assertEqual(same.all(), zone != "America/Phoenix")

    def test_us_rule_by_the_statute(self):
        # 15 U.S.C. 260a as amended 2005: second Sunday of March, first Sunday of November; 2027: the 14th and the 7th.
        self.assertEqual(day_of(nth_weekday(2027, 3, 2, 6)), date(2027, 3, 14))
        self.assertEqual(day_of(nth_weekday(2027, 11, 1, 6)), date(2027, 11, 7))
        # Directive 2000/84/EC: the last Sundays of March and October; 2027: the 28th and the 31st.
        self.assertEqual(day_of(nth_weekday(2027, 3, 5, 6)), date(2027, 3, 28))
        self.assertEqual(day_of(nth_weekday(2027, 10, 5, 6)), date(2027, 10, 31))

    def test_zone_clock_is_zoneinfo(self):
        for zone in ("Pacific/Auckland", "Australia/Lord_Howe", "Africa/Casablanca", "America/St_Johns"):
            with self.subTest(zone=zone):
                ours = zone_clock(zone, 2026, 2028)
                for hour in range(day_number(date(2026, 1, 2)) * 24, day_number(date(2028, 12, 30)) * 24, 7):
                    moment = datetime.fromtimestamp(hour * HOUR, ZoneInfo(zone))
                    self.assertEqual(int(ours.offset(np.array([hour * HOUR]))[0]), moment.utcoffset().total_seconds())

    def test_standard_time_is_the_smaller_offset(self):
        for zone, hours in [("Europe/Dublin", 0), ("Pacific/Auckland", 12), ("Asia/Kolkata", 5.5)]:
            with self.subTest(zone=zone, hours=hours):
                self.assertEqual(standard_offset_s(zone, 2027), hours * HOUR)


class JumpTest(unittest.TestCase):
    def test_skipped_time_acts_at_the_jump_and_repeated_time_once(self):
        clock = zone_clock("Pacific/Auckland", 2026, 2028)
        for shown, acts in [
            ("2027-09-26T01:59:59", "2027-09-26T01:59:59+12:00"),
            ("2027-09-26T02:00", "2027-09-26T03:00+13:00"),
            ("2027-09-26T02:30", "2027-09-26T03:00+13:00"),
            ("2027-09-26T03:00", "2027-09-26T03:00+13:00"),
            ("2027-04-04T02:30", "2027-04-04T02:30+13:00"),
            ("2027-04-04T03:00", "2027-04-04T03:00+12:00"),
        ]:
            with self.subTest(shown=shown, acts=acts):
                self.assertEqual(int(clock.first(digits(shown))[0]), instant(acts), shown)

    def test_half_an_hour_at_lord_howe(self):
        clock = zone_clock("Australia/Lord_Howe", 2026, 2028)
        self.assertEqual(int(clock.first(digits("2027-04-04T01:45"))[0]), instant("2027-04-04T01:45+11:00"))
        self.assertEqual(int(clock.first(digits("2027-04-04T02:00"))[0]), instant("2027-04-04T02:00+10:30"))


class ErrorTest(unittest.TestCase):
    def test_error_and_drift_are_undone_by_acting(self):
        for raw in (
            {"error_s": 43200},
            {"error_s": -31536000},
            {"dst": "us", "error_s": 3600},
            {"fast_s_per_day": -5, "set_on": "2026-06-01T10:00"},
            {"error_s": 90, "fast_s_per_day": 20, "set_on": "2027-02-01T10:00"},
        ):
            with self.subTest(raw=raw):
                clock = unit_clock(ClockSettings.read(Node(raw)), "Europe/Berlin", 2024, 2030)
                moments = np.arange(instant("2027-01-01T00:00+00:00"), instant("2028-01-01T00:00+00:00"), 5 * HOUR + 61)
                shown = clock.shows(moments)
                back = clock.acts(shown)
                # In the repeated hour a time acts when it is first shown; else to the second.
                self.assertTrue((np.isin(moments - back, [-1, 0, 1]) | (moments - back > 3000)).all(), raw)
                self.assertGreater((np.abs(moments - back) <= 1).mean(), 0.999)

    def test_by_hand_moves_clock_and_sun_or_clock_alone(self):
        changes = {"changes": [{"on": "2027-04-11T10:00", "shift_min": 0}], "initial_min": 60}
        for follows in (True, False):
            with self.subTest(follows=follows):
                clock = unit_clock(
                    ClockSettings.read(Node({"dst": {**changes, "sun_follows": follows}})),
                    "Pacific/Auckland",
                    2026,
                    2028,
                )
                before = np.array([instant("2027-04-11T09:59+12:00")])
                self.assertEqual(int(clock.right.offset(before)[0]), 13 * HOUR)
                self.assertEqual(int(clock.right.offset(before + 120)[0]), 12 * HOUR)
                self.assertEqual(int(clock.sun.offset(before)[0]), (13 if follows else 12) * HOUR)
        self.assertIsInstance(ClockSettings.read(Node({"dst": changes})).dst, ByHand)


class AnyClockTest(unittest.TestCase):
    """Properties of every clock: digits and first belong together, whatever the zone and the rule."""

    ZONES = st.sampled_from(
        ["Pacific/Auckland", "Europe/Dublin", "Australia/Lord_Howe", "America/Havana", "America/Santiago", "Asia/Kathmandu",
         "Africa/Cairo", "America/St_Johns", "Pacific/Chatham", "Asia/Beirut"]
    )  # fmt: skip
    RULES = st.sampled_from(["zone", "none", "us", "us-1987", "eu"])

    @settings(max_examples=60)
    @given(ZONES, RULES, st.integers(1_767_225_600, 1_893_456_000))
    def test_digits_are_shown_first_at_or_before_now(self, zone, rule, moment):
        clock = unit_clock(ClockSettings(dst=NamedRule(rule)), zone, 2025, 2031).right
        now = np.array([moment])
        first = clock.first(clock.digits(now))
        self.assertLessEqual(int(first[0]), moment)
        # What is shown earlier already is shown a second time: an hour at most lies between.
        self.assertLessEqual(moment - int(first[0]), 3600)
        if first[0] == moment:
            self.assertGreater(int(clock.first(clock.digits(now) + 1)[0]), moment - 1)

    @settings(max_examples=60)
    @given(ZONES, st.integers(1_767_225_600, 1_893_456_000))
    def test_first_is_what_zoneinfo_has_for_fold_0_outside_gaps(self, zone, digit):
        clock = zone_clock(zone, 2025, 2031)
        naive = datetime.fromtimestamp(digit, UTC).replace(tzinfo=ZoneInfo(zone), fold=0)
        theirs = int(naive.timestamp())
        back = datetime.fromtimestamp(theirs, ZoneInfo(zone)).replace(tzinfo=None)
        if back == naive.replace(tzinfo=None):
            self.assertEqual(int(clock.first(np.array([digit]))[0]), theirs)
        else:
            # In a gap the clock acts at the jump: the next moment that the zone shows at all.
            jump = int(clock.first(np.array([digit]))[0])
            shown = datetime.fromtimestamp(jump, ZoneInfo(zone)).replace(tzinfo=None)
            self.assertGreater(shown, naive.replace(tzinfo=None))
            before = datetime.fromtimestamp(jump - 1, ZoneInfo(zone)).replace(tzinfo=None)
            self.assertLess(before, naive.replace(tzinfo=None))

    @given(st.floats(-1e6, 1e6), st.floats(-60, 60), st.integers(0, 2 * 366 * 86400))
    @settings(max_examples=60)
    def test_error_and_drift_are_taken_out_to_the_second(self, error, drift, later):
        settings_of = ClockSettings(error_s=round(error), fast_s_per_day=drift, set_on=1_798_761_600)
        clock = unit_clock(settings_of, "UTC", 2024, 2033)
        moment = np.array([1_798_761_600 - 40 * 86400 + later])
        believed = moment + clock.ahead_s(moment)
        self.assertLessEqual(abs(int(clock.unhurried(believed)[0]) - int(moment[0])), 1)
