"""The week with most water, by hand."""

import unittest
from datetime import date

from skavit.core.plan.times import day_of
from skavit.core.simulation.replay import replay
from skavit.core.tests.builders import BAY
from skavit.core.tests.test_stack import program, watering
from skavit.core.water.peak_week import peak_week
from skavit.core.water.stack import stack

STATIONS = [
    {"name": "Lawn", "flow_l_min": 20.0, "rate_mm_h": 12.0},
    {"name": "Beds", "flow_l_min": 10.0},
]


def week_of(programs, **more):
    plan = watering(programs, site=BAY, stations=STATIONS, **more)
    return peak_week(stack(replay(plan, date(2027, 1, 1), date(2027, 12, 31))))


class PeakWeekTest(unittest.TestCase):
    def test_by_hand(self):
        """30 and 15 minutes at 22:00 on Mondays, Wednesdays and Fridays; 120 % in February."""
        shares = [100, 120, *[100] * 10]
        found = week_of(
            [program(["22:00"], [(1, 30), (2, 15)], ["mon", "wed", "fri"], monthly_pct=shares)], supply_l_min=40.0
        )
        # The first seven dates with three nights of February, of which 1 is a Monday.
        self.assertEqual(day_of(found.first), date(2027, 1, 30))
        lawn, beds = found.stations
        # Three times 36 minutes: 108 min at 12 mm/h are 21.6 mm, at 20 l/min 2,160 l.
        self.assertEqual((lawn.minutes, lawn.days, lawn.most_minutes), (108, 3, 36))
        self.assertAlmostEqual(lawn.mm, 21.6)
        self.assertEqual((lawn.litres, lawn.supply_share), (2160, 0.5))
        self.assertEqual((beds.minutes, beds.mm, beds.litres), (54, None, 540))
        self.assertEqual(found.litres, 2700)
        # 36 and 18 minutes one after the other.
        self.assertEqual((found.night_s, found.from_s, found.to_s), (54 * 60, 22 * 3600, 22 * 3600 + 54 * 60))

    def test_a_night_over_midnight_is_one(self):
        found = week_of([program(["23:50"], [(1, 30)])])
        self.assertEqual((found.night_s, found.from_s, found.to_s), (1800, 23 * 3600 + 50 * 60, 20 * 60))

    def test_none_where_nothing_runs(self):
        self.assertIsNone(week_of([program(["22:00"], [(1, 30)], monthly_pct=[0] * 12)]))
