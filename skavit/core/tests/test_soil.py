"""The soil-water balance: FAO-56's worked example, and what always holds of it."""

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from skavit.core.ground.errors import PlanError
from skavit.core.tests.test_stack import program, watering
from skavit.core.water.soil import season, season_of
from skavit.core.water.weather import read_weather

LAWN = {"available_mm_m": 130, "root_m": 0.25, "depletion": 0.5, "intake_mm_h": 12, "surface_mm": 6}


def station(**more):
    return {"name": "Lawn", "flow_l_min": 38.0, "rate_mm_h": 19.0, "du": 0.7, "crop": 0.8, "soil": LAWN, **more}


def balanced(of, et0_mm, rain_mm=None, irrigation=None):
    """The balance of one station by itself."""
    water = watering([], stations=[of]).water
    et0_mm = np.asarray(et0_mm, dtype=float)
    rain = np.zeros(et0_mm.shape) if rain_mm is None else np.asarray(rain_mm, dtype=float)
    given_mm = np.zeros((et0_mm.size, 1)) if irrigation is None else np.asarray(irrigation, dtype=float)[:, None]
    return season(water, given_mm, np.arange(20_000, 20_000 + et0_mm.size), et0_mm, rain)


class WorkedTest(unittest.TestCase):
    def test_ten_days_without_rain(self):
        """FAO-56 chapter 8, example 36 (tomatoes on silt, 0.8 m, p 0.40, Kc 1.2, ET0 5 mm); figures quoted from memory.

        The example begins 55 mm below a full soil: one day before it has used that much.
        """
        silt = {"available_mm_m": 200, "root_m": 0.8, "depletion": 0.4, "intake_mm_h": 10, "surface_mm": 5}
        found = balanced(station(crop=1.2, soil=silt), [55 / 1.2] + [5] * 10)
        depletion = [61.0, 67.0, 72.8, 78.2, 83.3, 88.1, 92.6, 96.8, 100.8, 104.5]
        self.assertTrue(np.allclose(found.depletion[1:, 0], depletion, atol=0.1))
        need = [6.0, 6.0, 5.8, 5.4, 5.1, 4.8, 4.5, 4.2, 4.0, 3.7]
        self.assertTrue(np.allclose(found.crop_need[1:, 0], need, atol=0.06))
        self.assertEqual(found.dry[:, 0].sum(), 9)  # RAW is 64 mm

    def test_rain(self):
        """Rain of at most a fifth of the day's ET0 wets nothing; other rain counts whole, and what is too much drains."""
        found = balanced(station(crop=1), [5, 5, 5], [1.0, 1.1, 30])
        self.assertTrue(np.allclose(found.depletion[:, 0], [5, 8.9, 0]))
        self.assertAlmostEqual(found.drainage[2, 0], 30 - 8.9 - 5)
        self.assertEqual(found.rain.tolist(), [0, 1.1, 30])


class SeasonTest(unittest.TestCase):
    def test_a_soil_that_is_used_up_exactly_is_not_dry(self):
        """Fifty times 0.3 mm against 15 mm, whose sum in binary is a little more."""
        soil = LAWN | {"available_mm_m": 100, "root_m": 0.3, "depletion": 0.5}
        self.assertEqual(balanced(station(crop=1, soil=soil), [0.3] * 50).dry.sum(), 0)
        self.assertEqual(balanced(station(crop=1, soil=soil), [0.3] * 51).dry.sum(), 1)

    def test_a_cycle_over_the_first_midnight_counts_what_it_brings_after_it(self):
        """Lawn 22:30, Bed, Lawn to 23:30, Bed from 23:30 to 00:30: of the cycle before the range, half an hour of Bed."""
        cycle = program(["22:30"], [(1, 20), (2, 20), (1, 20), (2, 60)])
        plan = watering([cycle], stations=[station(du=1), station(name="Bed", du=1)])
        found = season_of(plan, read_weather(self.WEATHER.encode()))
        self.assertTrue(np.allclose(found.irrigation[:, 0], 40 / 60 * 19))
        self.assertTrue(np.allclose(found.irrigation[:, 1], [(80 + 30) / 60 * 19, *[80 / 60 * 19] * 3, 50 / 60 * 19]))

    WEATHER = "date,tmin_c,tmax_c,rain_mm,et0_mm\n" + "\n".join(f"2027-06-{d:02d},8,20,0,4" for d in range(1, 6))

    def test_a_run_counts_on_the_date_on_which_it_begins(self):
        """20 minutes at 19 mm/h bring 6.33 mm, of which the driest quarter gets 0.7; of the last only what lies within."""
        plan = watering([program(["23:50"], [(1, 20)])], stations=[station()])
        found = season_of(plan, read_weather(self.WEATHER.encode()))
        whole = 20 / 60 * 19 * 0.7
        # The run that began on the evening before has ten minutes left on the first date.
        self.assertTrue(np.allclose(found.irrigation[:, 0], [whole * 1.5, whole, whole, whole, whole / 2]))

    def test_what_is_not_known_is_named(self):
        for name in ("crop", "soil", "rate_mm_h"):
            bare = {key: value for key, value in station().items() if key != name}
            plan = watering([program(["23:50"], [(1, 20)])], stations=[bare])
            with self.assertRaises(PlanError) as caught:
                season_of(plan, read_weather(self.WEATHER.encode()))
            self.assertEqual(caught.exception.path, f"water.stations[0].{name}")


class AlwaysTest(unittest.TestCase):
    @settings(max_examples=60)
    @given(
        st.lists(st.tuples(st.floats(0, 9), st.floats(0, 40), st.floats(0, 30)), min_size=1, max_size=60),
        st.floats(0.2, 1.3),
        st.sampled_from([0.3, 0.5, 1.0]),
    )
    def test_no_water_is_made_or_lost(self, days, crop, share):
        """What came less what the plants took and what drained is what the store lost; within what it holds."""
        et0_mm, rain, given_mm = (np.array(column) for column in zip(*days, strict=True))
        found = balanced(station(crop=crop, soil=LAWN | {"depletion": share}), et0_mm, rain, given_mm)
        total = 130 * 0.25
        self.assertTrue(((found.depletion >= 0) & (found.depletion <= total + 1e-9)).all())
        at_need = found.crop_need[:, 0] <= et0_mm * crop + 1e-9
        self.assertTrue(at_need.all())
        # Where the store ran quite empty the plants got less than they were told: the rest of it is not booked.
        if found.depletion.max() < total:
            came = found.irrigation.sum() + found.rain.sum()
            went = found.crop_need.sum() + found.drainage.sum()
            self.assertAlmostEqual(found.depletion[-1, 0], went - came, places=6)
