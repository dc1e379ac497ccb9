"""Windows that pulse, keyed as entries that repeat: what is keyed does what is wanted, what is not says why."""

import unittest
from datetime import date

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from skavit.core.fitting.trains import key_trains, without_trains
from skavit.core.simulation.replay import replay
from skavit.core.tests.builders import DESERT, clock_text, make_plan, weekday_sets, window

REPEATS = {"actions": ["on", "off", "repeat"]}


def mist(start="08:00", to="17:00", days="daily", on_s=8, every_s=240, **more):
    return window(start, to, days, repeat={"on_s": on_s, "every_s": every_s}, **more)


class TrainsTest(unittest.TestCase):
    @settings(max_examples=40)
    @given(
        st.lists(st.integers(0, 1439), min_size=2, max_size=2, unique=True).map(sorted),
        weekday_sets,
        st.integers(1, 59),
        st.integers(1, 600),
        st.sampled_from([{}, {"day_groups": ["single-days"]}]),
    )
    def test_what_is_keyed_is_what_is_wanted(self, ends, days, on_s, pause_s, groups):
        rows = [mist(*map(clock_text, ends), days, on_s, on_s + pause_s)]
        plan = make_plan(rows, site=DESERT, limits=REPEATS | groups)
        made = key_trains(plan)
        self.assertEqual(made.reasons, {})
        self.assertEqual(len(made.entries), len(days) if groups else 1)
        channel = replay(plan.with_entries(made.entries), date(2027, 3, 1), date(2027, 3, 14)).channels[0]
        np.testing.assert_array_equal(channel.actual.on, channel.wanted.on)
        np.testing.assert_array_equal(channel.actual.off, channel.wanted.off)

    def test_what_cannot_be_keyed_says_why(self):
        for rows, limits, why in (
            ([mist()], {}, "holds no entries that repeat"),
            ([mist()], {"actions": ["on", "off"]}, "holds no entries that repeat"),
            ([mist(to="sunset")], REPEATS, "end at a clock time of the same date"),
            ([mist("22:00", "02:00", ends="next-day")], REPEATS, "end at a clock time of the same date"),
            ([mist(days=["mon", "tue"])], REPEATS | {"day_groups": ["daily"]}, "do not hold the days"),
            ([mist(days={"parity": "odd"})], REPEATS | {"day_groups": ["daily"]}, "do not hold the days"),
            ([mist("08:07")], REPEATS | {"clock_step_s": 900}, "cannot hold the times"),
            ([mist(to="17:05")], REPEATS | {"clock_step_s": 900}, "cannot hold the times"),
            ([mist("dawn")], REPEATS | {"sun_events": ["sunrise", "sunset"]}, "cannot hold the times"),
            ([mist("sunrise+90")], REPEATS | {"sun_offset_max_min": 60}, "cannot hold the times"),
            ([mist({"at": "sunrise", "not_before": "06:00"})], REPEATS, "cannot hold the times"),
        ):
            with self.subTest(rows=rows, limits=limits):
                made = key_trains(make_plan(rows, site=DESERT, limits=limits))
                self.assertEqual(made.entries, ())
                self.assertIn(why, made.reasons[0])

    def test_limited_times_go_where_the_unit_holds_them(self):
        row = mist({"at": "sunrise", "not_before": "06:00"})
        made = key_trains(make_plan([row], site=DESERT, limits=REPEATS | {"limited_times": True}))
        self.assertEqual((len(made.entries), made.reasons), (1, {}))

    def test_each_channel_stands_for_itself(self):
        plan = make_plan(
            channels=[[mist(to="sunset")], [window("18:00", "22:00"), mist()]], site=DESERT, limits=REPEATS
        )
        made = key_trains(plan)
        self.assertEqual([entry.channels for entry in made.entries], [(2,)])
        self.assertEqual(list(made.reasons), [0])
        self.assertEqual([len(channel.windows) for channel in without_trains(plan).channels], [0, 1])
