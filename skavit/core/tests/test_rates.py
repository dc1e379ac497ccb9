"""Rates, cans and quantities: against published constants and by the algebra."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from skavit.core.ground.errors import UserError
from skavit.core.text.quantities import AREA, DEPTH, FLOW, LENGTH, RATE, SPEED, TEMPERATURE, rate_text
from skavit.core.water.rates import can_depth_mm, can_test, rate_by_area, rate_by_spacing


class RateTest(unittest.TestCase):
    def test_the_constant_of_us_handbooks(self):
        """Inches an hour are 96.25 times gallons a minute over square feet (96.3 in some handbooks; from memory)."""
        rate = rate_by_area(FLOW.read("10 gpm"), AREA.read("1000 sq ft"))
        self.assertAlmostEqual(rate / 25.4, 96.25 * 10 / 1000, places=3)

    def test_a_litre_on_a_square_metre_is_a_millimetre(self):
        self.assertAlmostEqual(rate_by_area(38, 120), 19.0)
        self.assertAlmostEqual(rate_by_spacing(FLOW.read("2 l/h"), 0.3, 0.3), 2 / 0.09)


class CansTest(unittest.TestCase):
    def test_a_worked_test(self):
        """Eight cans for 15 min: the lowest two, 4 and 6 mm, over the mean of 8 mm are 62.5 %."""
        found = can_test([4, 6, 8, 8, 9, 9, 10, 10], 15)
        self.assertAlmostEqual(found.du, 0.625)
        self.assertAlmostEqual(found.rate_mm_h, 32)
        self.assertAlmostEqual(found.lower_mm_h, 20)

    def test_a_can_of_known_opening(self):
        """A litre in a can of 1,000 cm2 is 10 mm."""
        across = 2 * (100_000 / 3.141592653589793) ** 0.5
        self.assertAlmostEqual(can_depth_mm(1000, across), 10)

    def test_refusals(self):
        for depths in ([1, 2, 3], [0] * 8, [1] * 401):
            with self.assertRaises(UserError):
                can_test(depths, 10)

    @given(st.lists(st.floats(0.1, 100), min_size=4, max_size=40), st.floats(1, 60))
    def test_uniformity_is_a_share(self, depths, minutes):
        found = can_test(depths, minutes)
        self.assertTrue(0 < found.du <= 1 + 1e-9)
        self.assertAlmostEqual(can_test(depths[::-1], minutes).du, found.du)


class QuantityTest(unittest.TestCase):
    def test_both_systems(self):
        for measure, typed, expected in [
            (FLOW, "38", 38), (FLOW, "10 gpm", 37.85411784), (FLOW, "0,5 l/s", 30), (FLOW, "2 L/h", 2 / 60),
            (LENGTH, "12 ft", 3.6576), (LENGTH, "30cm", 0.3), (AREA, "1300 sq  ft", 120.773952), (AREA, "120 m²", 120),
            (RATE, "0.75 in/h", 19.05), (DEPTH, "½", None), (DEPTH, "0.5 in", 12.7),
            (TEMPERATURE, "50 F", 10), (TEMPERATURE, "−3", -3), (SPEED, "10 mph", 4.4704), (SPEED, "36 km/h", 10),
        ]:  # fmt: skip
            with self.subTest(typed=typed):
                if expected is None:
                    with self.assertRaises(UserError):
                        measure.read(typed)
                else:
                    self.assertAlmostEqual(measure.read(typed), expected)

    def test_refusals_say_what_is_accepted(self):
        for measure, typed, said in [
            (FLOW, "10 furlongs", "accepted: a number, or one with l/min, l/s"),
            (FLOW, "-3", "out of range"),
            (AREA, "large", "is no area"),
        ]:
            with self.subTest(typed=typed), self.assertRaisesRegex(UserError, said):
                measure.read(typed)

    def test_both_are_shown(self):
        self.assertEqual(rate_text(19.0), "19.0 mm/h, 0.75 in/h")
