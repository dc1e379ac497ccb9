"""Warming a room and a store: against formulas, a stepped room, and published figures of water."""

import math
import unittest

from hypothesis import given
from hypothesis import strategies as st

from skavit.core.heat.room import cooled_c, warm_up_min
from skavit.core.heat.store import reheat
from skavit.core.plan.heat import Room
from skavit.core.tests.commanding import CommandTest


def room(loss=150.0, capacity=3000.0, heater=6000.0):
    return Room(loss_w_k=loss, capacity_wh_k=capacity, heater_w=heater)


class RoomTest(unittest.TestCase):
    @given(
        st.floats(20, 500), st.floats(500, 20_000), st.floats(500, 20_000), st.floats(-10, 12), st.floats(5, 15), st.floats(16, 24)
    )  # fmt: skip
    def test_against_a_room_stepped_by_the_minute(self, loss, capacity, heater, outside, start, aim):
        found = warm_up_min(room(loss, capacity, heater), outside, start, aim)
        inside, minutes, most = start, 0, 20_000
        while inside < aim and minutes < most:
            inside += (heater - loss * (inside - outside)) / capacity / 60
            minutes += 1
        if found is None:
            self.assertGreaterEqual(minutes, most)
        elif minutes < most and found < 5_000:
            self.assertLessEqual(abs(found - minutes), 2 + 0.02 * minutes)

    def test_after_a_time_constant_it_has_cooled_to_a_share_of_one_in_e(self):
        # 3000 Wh/K over 150 W/K are 20 hours.
        self.assertAlmostEqual(cooled_c(room(), 0, 20, 20 * 60), 20 / math.e)

    def test_what_is_warm_needs_nothing_and_what_is_too_cold_never_gets_there(self):
        self.assertEqual(warm_up_min(room(), 0, 20, 20), 0)
        self.assertIsNone(warm_up_min(room(), -25, 10, 20))  # 6000 W over 150 W/K hold 40 K
        self.assertIsNone(warm_up_min(room(), -20, 10, 20))  # just 20 degrees, which it approaches and never reaches

    def test_without_losses_it_is_capacity_over_power(self):
        self.assertEqual(warm_up_min(room(loss=0), 0, 10, 20), 60 * 3000 * 10 / 6000)


class StoreTest(unittest.TestCase):
    def test_a_kilowatt_hour_is_860_litres_and_kelvin(self):
        # The kilocalorie of 15 degrees is 4,185.5 J (CIPM 1950): 1 kWh is 860.1 of them. To the third figure, 860.
        self.assertAlmostEqual(reheat(860, 10, 11, 1000).stored_kwh, 1, places=3)

    def test_a_cylinder_of_180_litres(self):
        # 180 l by 45 K: 180 x 45 / 860 = 9.42 kWh; at 3 kW less 80 W that the cupboard takes, 9.42 / 2.92 = 3.225 h.
        found = reheat(180, 15, 60, 3000, 80)
        self.assertAlmostEqual(found.stored_kwh, 9.42, places=2)
        # The supply also pays for what the cupboard takes: 3 kW for 3.225 h.
        self.assertAlmostEqual(found.kwh, 3 * 3.225, places=2)
        self.assertAlmostEqual(found.minutes / 60, 3.225, places=2)

    def test_warm_already_and_never(self):
        self.assertEqual(reheat(100, 60, 60, 0).minutes, 0)
        never = reheat(100, 15, 60, 60, 60)
        self.assertEqual((never.minutes, never.kwh), (None, None))


class HeatCommandTest(CommandTest):
    ROOM = ("--loss-w-k", "150", "--capacity-wh-k", "3000", "--heater-w", "6000", "--outside-c", "2", "--from-c", "12")

    def test_warmup_and_reheat(self):
        found = self.prints("warmup", *self.ROOM, "--to-c", "20")
        self.assertAlmostEqual(found["minutes"], 1200 * math.log(30 / 22))
        found = self.prints("reheat", "--litres", "180", "--from-c", "15", "--to-c", "60", "--heater-w", "3000")
        self.assertEqual(set(found), {"minutes", "kwh", "stored_kwh"})

    def test_what_is_refused(self):
        self.assertIn("--to-c", self.refuses("warmup", *self.ROOM, "--to-c", "warm"))
        self.assertIn("--capacity-wh-k", self.refuses("warmup", *self.ROOM, "--to-c", "20", "--capacity-wh-k", "0"))
        store = ("reheat", "--from-c", "15", "--to-c", "60", "--heater-w", "3000", "--litres")
        for litres in ("0", "-3", "nan", "1e9"):
            self.assertIn("--litres", self.refuses(*store, litres))
