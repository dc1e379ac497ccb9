"""The year sheet: bands from noon to noon, shapes over nights, and few elements whatever the year holds."""

import unittest
import xml.etree.ElementTree as ET
from datetime import date

import numpy as np

from skavit.charts.nights import bands, edge, shapes
from skavit.charts.svg import element, text
from skavit.charts.year_sheet import Mark, Year, straightened, thumbnail, year_sheet
from skavit.core.replay import replay
from skavit.core.spans import union
from skavit.core.tests.builders import entry, make_plan, window
from skavit.core.wording import PLAIN


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
        self.assertEqual(edge(shape, 0), [(0.0, 8.0), (0.5, 8.0), (1.5, 8.1), (2.0, 8.1), (2.0, 9.0), (3.0, 9.0)])
        self.assertEqual(len(shapes([[(1.0, 2.0)], [(3.0, 4.0)], []])), 2)

    def test_straight_lines_lose_their_points_and_curves_stay_near(self):
        self.assertEqual(straightened([(0, 0), (1, 0), (2, 0), (9, 0)]), [(0, 0), (9, 0)])
        curve = [(x / 2, 20 * np.sin(x / 58)) for x in range(365)]
        kept = np.array(straightened(curve))
        near = np.interp([x for x, _ in curve], kept[:, 0], kept[:, 1])
        self.assertLess(np.abs(near - [y for _, y in curve]).max(), 0.3)
        self.assertLess(len(kept), 60)


class YearSheetTest(unittest.TestCase):
    def sheet(self, **more):
        marks = [Mark(number=1, severity="danger", dates=np.array([TRAP.first + 3, TRAP.first + 300]))]
        return year_sheet(TRAP, marks=marks, cursor=10, today=20, words=PLAIN, **more)

    def test_it_is_sound_xml_in_few_paths_for_both_ways(self):
        for turned in (False, True):
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
