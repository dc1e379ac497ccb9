"""The year sheet: bands from noon to noon, shapes over nights, and few elements whatever the year holds."""

import itertools
import unittest
import xml.etree.ElementTree as ET
from datetime import date

import numpy as np

from skavit.charts.axes import clock_changes
from skavit.charts.night_strip import Label, lying_strip, night_strip
from skavit.charts.nights import bands, edge, noons, shapes
from skavit.charts.svg import element, text
from skavit.charts.year import Year
from skavit.charts.year_sheet import Mark, straightened, thumbnail, year_sheet
from skavit.core.ground.spans import difference, intersection, union
from skavit.core.simulation.replay import replay
from skavit.core.site.almanac import sun_on
from skavit.core.tests.builders import entry, make_plan, window
from skavit.core.text.wording import PLAIN, Words


def year_of(windows, entries):
    result = replay(make_plan(windows, entries), date(2027, 1, 1), date(2028, 1, 1))
    channel = result.channels[0]
    return Year(
        site=result.plan.site, clock=result.site_clock, first=result.first, count=365,
        wanted=channel.wanted, actual=channel.actual,
    )  # fmt: skip


TRAP = year_of(
    [window("sunset", "22:00"), window("05:50", "sunrise")],
    [entry("on", "sunset"), entry("off", "22:00", "weekdays"), entry("on", "05:50"), entry("off", "sunrise")],
)


class NightsTest(unittest.TestCase):
    def test_a_span_is_cut_at_noon_and_bridged_over_the_skipped_hour(self):
        first = TRAP.first + 267  # 25 September 2027, the night of the change
        noon = int(TRAP.clock.first(np.array([first * 86400 + 43200]))[0])
        spans = union(np.array([noon - 3600, noon + 12 * 3600]), np.array([noon + 7200, noon + 16 * 3600]))
        found = bands(spans, TRAP.clock, first - 1, 2)
        self.assertEqual(found[0], [(23.0, 24.0)])
        # Four hours of elapsed time over the jump reach five hours on the clock.
        self.assertEqual(found[1], [(0.0, 2.0), (12.0, 17.0)])

    def test_neighbours_join_with_a_slope_or_a_step(self):
        (shape,) = shapes([[(8.0, 10.0)], [(8.1, 10.0)], [(9.0, 10.0)]])
        self.assertEqual(
            edge(shape, 0).tolist(), [[0.0, 8.0], [0.5, 8.0], [1.5, 8.1], [2.0, 8.1], [2.0, 9.0], [3.0, 9.0]]
        )
        self.assertEqual(len(shapes([[(1.0, 2.0)], [(3.0, 4.0)], []])), 2)

    def test_straight_lines_lose_their_points_and_curves_stay_near(self):
        self.assertEqual(straightened(np.array([(0, 0), (1, 0), (2, 0), (9, 0)])).tolist(), [[0, 0], [9, 0]])
        curve = [(x / 2, 20 * np.sin(x / 58)) for x in range(365)]
        kept = straightened(np.array(curve))
        near = np.interp([x for x, _ in curve], kept[:, 0], kept[:, 1])
        self.assertLess(np.abs(near - [y for _, y in curve]).max(), 0.3)
        self.assertLess(len(kept), 60)


class YearSheetTest(unittest.TestCase):
    def sheet(self, **more):
        marks = [Mark(number=1, severity="danger", dates=np.array([TRAP.first + 3, TRAP.first + 300]))]
        return year_sheet(TRAP, marks=marks, cursor=10, today=20, words=PLAIN, **more)

    def test_it_is_sound_xml_in_few_paths_for_both_ways(self):
        for turned in (False, True):
            with self.subTest(turned=turned):
                markup = self.sheet(turned=turned)
                root = ET.fromstring(markup)
                paths = [e for e in root.iter("path") if "mark" not in e.get("class", "")]
                self.assertLessEqual(len(paths), 10)
                self.assertLess(len(markup), 60_000)
                classes = {e.get("class") for e in root.iter()}
                self.assertLessEqual({"lamp", "alarm", "alarm-hatch", "sky-night", "today-line", "cursor"}, classes)

    def test_states_are_told_apart_without_colour(self):
        missing = year_of([window("18:00", "22:00")], [])
        markup = year_sheet(missing, marks=[], cursor=0, today=None, words=PLAIN)
        self.assertIn("gap-edge", markup)
        self.assertNotIn('class="lamp"', markup)
        self.assertIn("url(#year-upright-hatch)", self.sheet())

    def test_a_thumbnail_is_small(self):
        self.assertLess(len(thumbnail(TRAP, "t")), 20_000)

    def test_text_is_escaped(self):
        self.assertIn("&lt;b&gt;", text("<b>", 0, 0, "axis"))
        self.assertEqual(element("a", "", href='"x"'), '<a href="&quot;x&quot;"></a>')


class PlaceTest(unittest.TestCase):
    """Where things lie on the sheet, against what the calendar and the clock say."""

    def marks(self, *found, turned=False):
        markup = year_sheet(TRAP, marks=found, cursor=0, today=None, words=PLAIN, turned=turned)
        return list(ET.fromstring(markup).iter("a"))

    def mark(self, number, *columns, severity="danger"):
        return Mark(number=number, severity=severity, dates=np.array([TRAP.first + c for c in columns]))

    def test_a_mark_stands_at_each_stretch_and_says_its_column(self):
        found = self.marks(self.mark(1, 3, 4, 5, 200), self.mark(2, 100, severity="note"))
        self.assertEqual(
            [(a.get("data-finding"), a.get("data-column")) for a in found], [("1", "3"), ("1", "200"), ("2", "100")]
        )

    def test_marks_of_the_same_dates_are_drawn_once_and_near_ones_do_not_cover_each_other(self):
        found = self.marks(self.mark(1, 3), self.mark(2, 3), self.mark(3, 5, severity="warning"))
        self.assertEqual([a.get("data-finding") for a in found], ["1", "3"])
        xs = [float(a.find("text").get("x")) for a in found]
        self.assertGreaterEqual(xs[1] - xs[0], 16)

    def test_many_stretches_have_one_mark_and_dates_of_other_years_none(self):
        self.assertEqual(len(self.marks(self.mark(1, *range(0, 300, 20)))), 1)
        self.assertEqual(self.marks(self.mark(1, -40, 400)), [])

    def test_a_turned_sheet_runs_down(self):
        upright, turned = self.marks(self.mark(1, 200)), self.marks(self.mark(1, 200), turned=True)
        self.assertAlmostEqual(float(upright[0].find("text").get("x")), 55 + 200 * 912 / 365 + 8, delta=0.2)
        self.assertAlmostEqual(float(turned[0].find("text").get("y")), 24 + 200 + 8 + 4, delta=0.2)

    def test_months_hours_and_clock_changes_are_written(self):
        words = ET.fromstring(year_sheet(TRAP, marks=[], cursor=0, today=None, words=PLAIN))
        told = [e.text for e in words.iter("text")]
        for expected in ("noon", "18:00", "00:00", "Jan", "Dec", "clocks back 4 Apr", "clocks on 26 Sep"):
            with self.subTest(expected=expected):
                self.assertIn(expected, told)
        twelve = year_sheet(TRAP, marks=[], cursor=0, today=None, words=Words(twelve_hour=True))
        self.assertIn("12 am", twelve)
        self.assertIn("6 pm", twelve)
        self.assertEqual(clock_changes(TRAP), [(93, "clocks back 4 Apr"), (268, "clocks on 26 Sep")])

    def test_the_night_begins_with_the_sun(self):
        # The band of a night runs from the sunset of its date to the sunrise of the next, on the local clock.
        for column in (0, 93, 171, 268, 364):
            with self.subTest(column=column):
                start, end = TRAP.twilight[0].bands[column] if len(TRAP.twilight) == 1 else (0, 0)
                sunset = sun_on(TRAP.site, TRAP.first + column)["sunset"]
                sunrise = sun_on(TRAP.site, TRAP.first + column + 1)["sunrise"]
                noon = (TRAP.first + column) * 86400 + 43200
                digits = TRAP.clock.digits(np.array([sunset, sunrise]))
                self.assertAlmostEqual(start, (digits[0] - noon) / 3600, 6)
                self.assertAlmostEqual(end, (digits[1] - noon) / 3600, 6)

    def test_bands_add_up_to_the_hours(self):
        for shapes_of, spans in (
            (TRAP.lit, intersection(TRAP.actual, TRAP.wanted)),
            (TRAP.extra, difference(TRAP.actual, TRAP.wanted)),
        ):
            with self.subTest(shapes_of=shapes_of, spans=spans):
                drawn = sum(end - start for shape in shapes_of for start, end in shape.bands)
                turns = noons(TRAP.clock, TRAP.first, TRAP.count)
                inside = spans.cut(int(turns[0]), int(turns[-1])).total_s / 3600
                self.assertAlmostEqual(drawn, inside, delta=1.01)  # the nights of the clock changes are an hour off


class NightStripTest(unittest.TestCase):
    def labels(self, *hours):
        return [Label(hour=h, time="22:40", action="OFF", why="slot 2", alarm=False) for h in hours]

    def test_labels_keep_apart_and_within_the_strip(self):
        for hours in ([0, 0.1, 0.2], [23.5, 23.6, 23.9], [6, 12, 18], [10, 10, 10, 10, 10, 10]):
            with self.subTest(hours=hours):
                root = ET.fromstring(night_strip(TRAP, 10, self.labels(*hours)))
                ys = [float(e.get("y")) for e in root.iter("text") if "night-time" in e.get("class")]
                self.assertTrue(all(b - a >= 35.9 for a, b in itertools.pairwise(ys)), hours)
                self.assertLessEqual(max(ys), 290)

    def test_both_strips_are_sound(self):
        for markup in (night_strip(TRAP, 364, []), lying_strip(TRAP, 0)):
            with self.subTest(markup=markup):
                self.assertEqual(ET.fromstring(markup).tag, "svg")
