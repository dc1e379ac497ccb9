"""What differs between two plans: told slot by slot, nothing where nobody has to key anything, and hashed accordingly."""

import unittest
from dataclasses import replace

from hypothesis import given
from hypothesis import strategies as st

from skavit.core.plan.heat import SetPoint
from skavit.core.plan.keyed import keyed_hash
from skavit.core.plan.times import ClockTime
from skavit.core.sheet.differences import keyed_differences, wanted_differences
from skavit.core.tests.builders import clock_times, entry, make_plan, simple_days, window
from skavit.core.text.wording import PLAIN, Words
from skavit.core.trades.heating import empty_heat

ENTRIES = [entry("on", "sunset+10"), entry("off", "22:40"), entry("on", "05:20", "weekdays"), entry("off", "sunrise")]


def told(old, new, words=PLAIN, of=keyed_differences):
    return [(line.what, line.before, line.after) for line in of(old, new, words)]


class DifferencesTest(unittest.TestCase):
    def test_slots_settings_and_dates(self):
        old = make_plan([], ENTRIES, holidays=[{"from": "12-24", "days": 2}])
        new = make_plan(
            [],
            [ENTRIES[0], entry("off", "21:30"), *ENTRIES[2:], entry("on", "17:00", "weekends")],
            sun={"source": "site", "adjust": {"sunrise_min": 3, "sunset_min": -2}},
            clock={"dst": "none"},
            holidays=[{"from": "12-24", "days": 9}],
        )
        self.assertEqual(
            told(old, new, Words(twelve_hour=True)),
            [
                ("Slot 2", "OFF 10:40 pm, every day", "OFF 9:30 pm, every day"),
                ("Slot 5", "", "ON 5:00 pm, Sat, Sun"),
                ("Daylight saving", "as the law has it at the site", "no daylight saving"),
                ("Correction", "", "sunrise +3, sunset -2 min"),
                ("Holiday", "24 Dec, 2 days", ""),
                ("Holiday", "", "24 Dec, 9 days"),
            ],
        )

    def test_what_is_wanted_or_known_is_not_keyed(self):
        old = make_plan([window("sunset", "22:00")], ENTRIES)
        new = make_plan(
            [window("sunset", "23:00")],
            ENTRIES,
            clock={"dst": "zone", "error_s": 300},
            limits={"entries": 8},
            reserve_h=24,
        )
        self.assertEqual(told(old, new), [])
        self.assertEqual(keyed_hash(old), keyed_hash(new))
        lines = told(old, new, of=wanted_differences)
        self.assertEqual(
            [line[1:] for line in lines],
            [("on from sunset until 22:00, every day", ""), ("", "on from sunset until 23:00, every day")],
        )

    def test_set_points_and_programs(self):
        heat = replace(make_plan(), heat=empty_heat())
        zone = heat.heat.zones[0]
        point = SetPoint(at=ClockTime(25_200), c=20.5)
        warmer = replace(heat, heat=heat.heat.with_zone(0, replace(zone, keyed=(*zone.keyed, point))))
        self.assertEqual(told(heat, warmer), [("Zone 1, every day, 07:00", "", "20.5 °C")])
        self.assertNotEqual(keyed_hash(heat), keyed_hash(warmer))

    @given(st.lists(st.tuples(st.sampled_from(["on", "off"]), clock_times, simple_days), max_size=6), st.data())
    def test_no_difference_is_one_hash_and_each_way_tells_the_same(self, rows, data):
        old = make_plan([], [entry(*row) for row in rows])
        others = data.draw(st.one_of(st.just(rows), st.permutations(rows), st.just(rows[:-1])))
        new = make_plan([], [entry(*row) for row in others])
        there, back = told(old, new), told(new, old)
        self.assertEqual(not there, keyed_hash(old) == keyed_hash(new))
        self.assertEqual([(what, after, before) for what, before, after in there], back)
