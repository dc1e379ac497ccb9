"""On which day a window ends: decided by what the sun of the site does, asked where the year changes it."""

import unittest

from skavit.core.plan.document import Site
from skavit.core.plan.times import ClockTime, SunTime
from skavit.core.plan.window import Window
from skavit.core.simulation.window_ends import window_ends
from skavit.core.sun import SunEvent
from skavit.units.tests.test_units import UnitCase

BAY = Site(name="Bay", latitude=-39.49, longitude=176.91, timezone="Pacific/Auckland")
LATITUDES = (-55.0, -46.0, -39.5, -25.0, 0.0, 20.0, 35.0, 47.0, 55.0, 64.0)


class WindowEndsTest(unittest.TestCase):
    def test_at_ten_latitudes_no_window_is_on_for_more_than_20_hours_a_day_unless_asked(self):
        sun = [SunTime(event, offset) for event in (SunEvent.SUNRISE, SunEvent.SUNSET) for offset in (-30, 0, 45)]
        clock = [ClockTime(hour * 3600) for hour in (0, 5, 6, 12, 17, 21)]
        decided = 0
        for latitude in LATITUDES:
            site = Site(name="x", latitude=latitude, longitude=10.0, timezone="UTC")
            for start in (*sun, *clock):
                for to in (*sun, *clock):
                    if start == to:
                        continue
                    ends = window_ends(Window(start=start, to=to), site, 2027)
                    if ends.decided is not None:
                        decided += 1
                        longest = ends.longest_next_s if ends.decided else ends.longest_same_s
                        self.assertLessEqual(longest, 20 * 3600, (latitude, start, to))
        self.assertGreater(decided, 500)

    def test_what_has_no_day_to_end_on(self):
        self.assertIsNone(window_ends(Window(start=ClockTime(0), for_min=30), BAY, 2027))
        self.assertIsNone(window_ends(Window(start=ClockTime(0), to=ClockTime(86_400)), BAY, 2027))


class TypedWindowTest(UnitCase):
    """The five windows of a morning and a night, typed in Hawke's Bay."""

    def type(self, **typed):
        return self.post("row", "window-1-new", days_kind="daily", **typed)

    def last(self):
        return self.unit.plan.channels[0].windows[-1].to_json()

    def clock_to_sunrise(self, clock, **more):
        return self.type(from_kind="clock", from_clock=clock, to_kind="sunrise", **more)

    def test_before_any_sunrise_it_ends_the_same_day(self):
        # The earliest sunrise of 2027 here is at 05:44 (NOAA's solar calculator, from memory: some 5:43 to 5:45).
        answer = self.clock_to_sunrise("5")
        self.assertEqual(self.last(), {"from": "05:00", "to": "sunrise", "days": "daily", "ends": "same-day"})
        self.assertNotContains(answer, "sunrise, the next day")

    def test_where_the_year_changes_it_the_page_asks(self):
        windows = len(self.unit.plan.channels[0].windows)
        for clock in ("6:00", "5.55"):
            with self.subTest(clock):
                answer = self.clock_to_sunrise(clock)
                self.assertContains(answer, "Choose the day on which it ends", status_code=422)
                self.assertContains(answer, "Sunrise comes before", status_code=422)
                self.assertEqual(len(self.unit.plan.channels[0].windows), windows)
        self.clock_to_sunrise("6:00", ends="same-day")
        self.assertEqual(self.last()["ends"], "same-day")

    def test_after_every_sunrise_it_would_be_on_all_day_and_is_asked(self):
        answer = self.clock_to_sunrise("9 am")
        self.assertContains(answer, "It would be on for up to 23 h", status_code=422)
        self.clock_to_sunrise("9 am", ends="next-day")
        self.assertEqual(self.last()["ends"], "next-day")

    def test_a_night_ends_the_next_day_and_says_so(self):
        answer = self.type(from_kind="sunset", to_kind="sunrise")
        self.assertEqual(self.last()["ends"], "next-day")
        self.assertContains(answer, "sunrise, the next day")
        self.type(from_kind="clock", from_clock="16.30", to_kind="clock", to_clock="11pm")
        self.assertEqual(self.last()["ends"], "same-day")

    def test_a_window_that_is_there_already_is_told(self):
        self.type(from_kind="clock", from_clock="16.30", to_kind="clock", to_clock="11pm")
        answer = self.type(from_kind="clock", from_clock="4:30 pm", to_kind="clock", to_clock="23:00:00")
        self.assertContains(answer, "This window is there already", status_code=422)

    def test_a_clock_field_speaks_of_clock_times(self):
        answer = self.type(from_kind="clock", from_clock="noonish", to_kind="sunset")
        self.assertContains(answer, "Accepted: a clock time such as 06:40, 16.30 or 4:30 pm.", status_code=422)
        self.assertNotContains(answer, "sunset-720", status_code=422)


if __name__ == "__main__":
    unittest.main()
