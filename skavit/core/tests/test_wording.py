"""Times, dates and day rules as people say them."""

import itertools
import unittest
from datetime import date

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from skavit.core.ground.strict_json import Node
from skavit.core.plan.days import read_days
from skavit.core.plan.times import day_number, read_time
from skavit.core.text.wording import (
    PLAIN,
    Words,
    are_pulses,
    capital,
    count,
    dates_text,
    days_text,
    duration_text,
    on_time_text,
    stretches,
)

TWELVE = Words(twelve_hour=True)


def days(*texts):
    return np.array([day_number(date.fromisoformat(text)) for text in texts])


class WordingTest(unittest.TestCase):
    def test_clock_times_in_24_and_12_hours(self):
        for seconds, plain, twelve in [
            (0, "00:00", "12:00 am"),
            (43200, "12:00", "12:00 pm"),
            (80999, "22:29:59", "10:29:59 pm"),
            (60, "00:01", "12:01 am"),
            (86400, "24:00", "midnight"),
        ]:
            with self.subTest(seconds=seconds, plain=plain, twelve=twelve):
                self.assertEqual(PLAIN.clock(seconds), plain)
                self.assertEqual(TWELVE.clock(seconds), twelve)
        self.assertEqual(PLAIN.minute(86399), "00:00")

    def test_times(self):
        for typed, text in [
            ("sunset+10", "sunset + 10 min"),
            ("dawn-45", "dawn − 45 min"),
            ("sunrise", "sunrise"),
            ("06:40", "06:40"),
        ]:
            with self.subTest(typed=typed, text=text):
                self.assertEqual(PLAIN.time(read_time(Node(typed))), text)
        limited = read_time(Node({"at": "sunset", "not_before": "17:00", "not_after": "21:30"}))
        self.assertEqual(PLAIN.time(limited), "sunset, not before 17:00, not after 21:30")
        self.assertEqual(TWELVE.time(limited), "sunset, not before 5:00 pm, not after 9:30 pm")

    def test_day_rules(self):
        for rule, text in [
            ("daily", "every day"),
            ("weekdays", "Mon to Fri"),
            ("weekends", "Sat, Sun"),
            (["mon", "wed"], "Mon, Wed"),
            (["tue", "wed", "thu", "fri", "sat"], "Tue to Sat"),
            ({"parity": "odd"}, "odd dates"),
            ({"every": 3, "from": "2027-01-04"}, "every 3rd day from 4 Jan 2027"),
            ({"every": 12, "from": "2027-01-04"}, "every 12th day from 4 Jan 2027"),
            ({"every": 1, "from": "2027-01-04"}, "every single day from 4 Jan 2027"),
            ({"dates": ["12-25", "2027-02-06"]}, "25 Dec, 6 Feb 2027"),
            ({"days": "weekdays", "between": ["11-01", "03-31"]}, "Mon to Fri, 1 Nov to 31 Mar"),
            (
                {"days": "daily", "except": [{"days": "daily", "between": ["11-13", "01-03"]}, ["fri"]]},
                "every day except 13 Nov to 3 Jan and Fri",
            ),
            (
                {"days": "daily", "except": [{"days": "daily", "between": ["03-30", "03-30"]}]},
                "every day except 30 Mar",
            ),
        ]:
            with self.subTest(rule=rule, text=text):
                self.assertEqual(days_text(read_days(Node(rule))), text)

    def test_dates_are_gathered(self):
        for found, text in [
            (days("2027-01-01", "2027-01-02", "2027-01-13"), "1–2 Jan, 13 Jan"),
            (days("2027-11-04", "2027-12-31", "2028-01-02"), "4 Nov, 31 Dec 2027 to 2 Jan 2028"),
            (days("2027-05-07", "2027-05-10", "2027-05-11"), "7–11 May"),
            (days(*(f"2027-{m:02d}-01" for m in range(1, 8))), "1 Jan–1 Jul"),
        ]:
            with self.subTest(found=found, text=text):
                self.assertEqual(dates_text(found), text)
        self.assertEqual(stretches(np.array([], dtype=np.int64)), [])

    @given(st.sets(st.integers(20_000, 20_400), min_size=1), st.integers(1, 5))
    def test_stretches_hold_just_the_dates_and_their_small_gaps(self, chosen, gap):
        found = stretches(np.array(sorted(chosen)), gap)
        covered = {day for first, last in found for day in range(first, last + 1)}
        self.assertLessEqual(chosen, covered)
        self.assertTrue(all(any(abs(day - other) < gap for other in chosen) for day in covered))
        self.assertTrue(all(b[0] - a[1] > gap for a, b in itertools.pairwise(found)))

    def test_durations_and_counts(self):
        for seconds, text in [
            (43200, "12 h"),
            (3900, "1 h 05 min"),
            (200, "3 min 20 s"),
            (-31536000, "365 d"),
            (90000, "1 d 1 h"),
            (20, "20 s"),
            (600, "10 min"),
        ]:
            with self.subTest(seconds=seconds, text=text):
                self.assertEqual(duration_text(seconds), text)
        self.assertEqual(
            [count(1, "day"), count(2, "day"), count(0, "entry", "entries")], ["1 day", "2 days", "0 entries"]
        )
        self.assertEqual(capital("slot 4 (OFF sunrise)"), "Slot 4 (OFF sunrise)")

    def test_how_long_in_all(self):
        for lengths, text in (
            ([], "0 h"), ([8] * 1560, "1,560 pulses of 8 s"), ([8, 5], "2 pulses of up to 8 s"),
            ([5 * 3600, 7 * 3600], "12 h"), ([1200, 1200], "40 min"),
        ):  # fmt: skip
            with self.subTest(text=text):
                each = np.array(lengths, dtype=np.int64)
                self.assertEqual(on_time_text(each, pulses=are_pulses(each)), text)
