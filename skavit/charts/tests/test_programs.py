"""Pictures of programs: trains of pulses as one texture, keyings as lines, the week with a lane for each channel."""

import re
import unittest
import xml.etree.ElementTree as ET
from dataclasses import replace
from datetime import date

from skavit.charts.week_strip import GUTTER, WIDTH, lane_of, week_strip
from skavit.charts.year import Frame, Year
from skavit.charts.year_sheet import hatch, layers, year_sheet
from skavit.core.plan.times import day_number
from skavit.core.simulation.replay import replay
from skavit.core.tests.builders import BAY, entry, make_plan, window
from skavit.core.text.wording import PLAIN

FRAME = Frame(left=0.0, top=0.0, per_day=2.5, per_hour=11.25)
MIST = [window("07:10", "16:25", repeat={"on_s": 8, "every_s": 240})]
TRAIN = [entry("on", "07:10") | {"repeat": {"on_s": 8, "off_s": 240, "until": "16:25"}}]
MONDAY = day_number(date(2027, 3, 1))


def years_of(pulsing, *, channels=None, **more):
    plan = make_plan(channels=channels or [MIST], **more)
    result = replay(plan, date(2027, 1, 1), date(2028, 1, 1))
    return [
        Year(site=plan.site, clock=result.site_clock, first=result.first, count=365, wanted=c.wanted, actual=c.actual,
             pulsing=pulsing) for c in result.channels
    ]  # fmt: skip


class PulsesTest(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        (cls.year,) = years_of(True, entries=TRAIN)

    def test_a_year_of_pulses_is_a_few_paths(self):
        self.assertGreater(len(self.year.actual), 49_000)
        drawn = layers(self.year, FRAME, "x")
        self.assertLess(len(drawn), 20_000)
        self.assertIn('fill="url(#x-pulses)"', drawn)
        self.assertIn('id="x-pulses"', hatch("x"))

    def test_trains_of_another_cycle_are_no_gap_and_no_alarm_in_the_picture(self):
        self.assertEqual((self.year.extra, self.year.missing), ([], []))
        (later,) = years_of(True, entries=[TRAIN[0] | {"at": "09:10"}])
        (band,) = {tuple(round(hour, 1) for hour in band) for shape in later.missing for band in shape.bands}
        # Two hours from 07:10 to the next train are wanted and dark: 19.2 to 21.2 hours after noon.
        self.assertEqual(band, (19.2, 21.2))

    def test_what_does_not_pulse_has_no_texture(self):
        (plain,) = years_of(
            False, channels=[[window("18:00", "23:00")]], entries=[entry("on", "18:00"), entry("off", "23:00")]
        )
        self.assertNotIn("pulses)", layers(plain, FRAME, "x"))


class KeyingsTest(unittest.TestCase):
    def test_each_date_is_a_line_with_its_words(self):
        (year,) = years_of(False)
        drawn = year_sheet(replace(year, keyed_anew=(94, 273)), marks=[], cursor=0, today=None, words=PLAIN)
        lines = ET.fromstring(drawn).findall(".//*[@class='keyed-anew']")
        for line, column in zip(lines, (94, 273), strict=True):
            self.assertAlmostEqual(float(line.get("x1")), 55 + 912 / 365 * column, delta=0.06)
        self.assertIn("keyed anew 5 Apr", drawn)
        turned = year_sheet(replace(year, keyed_anew=(94,)), marks=[], cursor=0, today=None, words=PLAIN, turned=True)
        self.assertNotIn("keyed anew", turned)
        self.assertIn('class="keyed-anew"', turned)


class WeekTest(unittest.TestCase):
    def strip(self, years):
        lanes = [lane_of(f"Channel {n}", year) for n, year in enumerate(years, start=1)]
        return week_strip(make_plan([], site=BAY).site, years[0].clock, MONDAY, lanes)

    def test_a_lane_for_each_channel_on_the_weeks_own_axis(self):
        windows = [window("18:00", "24:00", ["mon"])]
        years = years_of(
            False,
            channels=[windows, windows],
            entries=[
                entry("on", "18:00", ["mon"]),
                entry("off", "23:00", ["mon"]),
                entry("off", "00:00", channels=(2,)),
            ],
        )
        drawn = self.strip(years)
        self.assertEqual(drawn.count("sky-day"), 2)
        self.assertIn("Mon 1 Mar", drawn)
        (lamp,) = re.findall(r'd="M([\d.]+) [\d.]+H([\d.]+)V[^"]*" class="lamp"', drawn)
        width = WIDTH - GUTTER
        self.assertAlmostEqual(float(lamp[0]), GUTTER + width * 18 / 168, delta=0.1)
        self.assertAlmostEqual(float(lamp[1]), GUTTER + width * 23 / 168, delta=0.1)
        # An hour of the first channel, six of the second are wanted and dark.
        self.assertEqual(drawn.count('class="gap-edge"'), 2)

    def test_trains_are_drawn_whole(self):
        drawn = self.strip(years_of(True, entries=TRAIN))
        self.assertEqual(drawn.count("alarm"), 0)
        (lamp,) = re.findall(r'd="([^"]*)" class="lamp"', drawn)
        self.assertEqual(lamp.count("M"), 7)
