"""The stand-in weather station, and ways of watering beside each other over its weather."""

import unittest
from datetime import date

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from skavit.core.ground.errors import PlanError, RangeError
from skavit.core.plan.water import Climate
from skavit.core.tests.builders import BAY, make_plan
from skavit.core.tests.test_fit_water import CLIMATE, LIMITS, SHRUBS, fitted
from skavit.core.tests.test_soil import station
from skavit.core.tests.test_stack import watering
from skavit.core.water.comparison import by_weather, compare
from skavit.core.water.soil import months_of, season
from skavit.core.water.stand_in import stand_in

MEANS = Climate(**{name: tuple(values) for name, values in CLIMATE.items()})
FIRST, LAST = date(2027, 1, 1), date(2028, 12, 31)


class StandInTest(unittest.TestCase):
    def test_the_same_seed_gives_the_same_weather(self):
        one, same, other = (stand_in(MEANS, FIRST, LAST, seed) for seed in (4, 4, 5))
        self.assertTrue(all(np.array_equal(one.columns[name], same.columns[name]) for name in one.columns))
        self.assertFalse(np.array_equal(one.rain_mm, other.rain_mm))

    def test_over_forty_years_it_has_the_means_of_the_months(self):
        long = stand_in(MEANS, date(1990, 1, 1), date(2029, 12, 31), 1)
        months = months_of(long.days)
        for month in range(12):
            of = months == month
            self.assertAlmostEqual(long.columns["et0_mm"][of].mean() / MEANS.et0_mm_day[month], 1, delta=0.03)
            self.assertAlmostEqual(long.rain_mm[of].mean() / MEANS.rain_mm_day[month], 1, delta=0.2)

    @settings(max_examples=20)
    @given(st.integers(0, 2**31))
    def test_nothing_is_below_nothing(self, seed):
        weather = stand_in(MEANS, FIRST, LAST, seed)
        self.assertTrue((weather.rain_mm >= 0).all() and (weather.columns["et0_mm"] >= 0).all())

    def test_refusals(self):
        with self.assertRaises(RangeError):
            stand_in(MEANS, LAST, FIRST, 1)


class CompareTest(unittest.TestCase):
    def setUp(self):
        self.plan = fitted([station(), SHRUBS]).plan
        self.weather = stand_in(MEANS, FIRST, LAST, 7)
        self.used = {used.way: used for used in compare(self.plan, self.weather, per_m3=3.2)}

    def test_the_less_often_it_is_set_the_more_water_it_takes(self):
        same, seasons, months = (self.used[way].total_l for way in ("same all year", "by seasons", "by months"))
        self.assertGreater(same, seasons * 1.2)
        self.assertGreater(seasons, months * 1.05)
        # The fit has the need of each month, in the unit's steps.
        self.assertAlmostEqual(self.used["as keyed"].total_l / months, 1, delta=0.1)

    def test_money(self):
        same = self.used["same all year"]
        self.assertAlmostEqual(same.cost, same.total_l / 1000 * 3.2)
        self.assertTrue(all(used.cost is None for used in compare(self.plan, self.weather)))

    def test_by_the_weather_nothing_is_ever_dry_and_nothing_is_wasted(self):
        ideal = self.used["by the weather"]
        self.assertEqual(ideal.dry_days, 0)
        water, need = self.plan.water, self.weather.columns["et0_mm"]
        balance = season(water, by_weather(water, self.weather, need), self.weather.days, need, self.weather.rain_mm)
        rain_alone = season(water, np.zeros_like(balance.irrigation), self.weather.days, need, self.weather.rain_mm)
        # What drains beside rain that falls on a soil that was just filled is none of the watering's.
        self.assertLess(balance.drainage.sum() - rain_alone.drainage.sum(), balance.irrigation.sum() * 0.5)
        self.assertLess(ideal.total_l, self.used["same all year"].total_l)

    def test_what_is_not_known_is_named(self):
        with self.assertRaises(PlanError):
            compare(make_plan([]), self.weather)
        bare = watering([], site=BAY, stations=[{"name": "Bed", "flow_l_min": 4}], limits=LIMITS)
        with self.assertRaises(PlanError) as caught:
            compare(bare, self.weather)
        self.assertEqual(caught.exception.path, "water.stations[0].crop")
