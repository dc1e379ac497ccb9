"""What is said of zones, and whether each remedy does what it says."""

import unittest
from dataclasses import replace
from datetime import date

from skavit.core.findings import audit, read_kept
from skavit.core.heat.room import cooled_c, warm_up_min
from skavit.core.heat.targets import targets
from skavit.core.heat.warming import Rise, late_min, lead_s, outside_of, rises, year_heat
from skavit.core.heat.week import Week
from skavit.core.plan.heat import HeatLimits, Outside, Room
from skavit.core.plan.limits import Limits
from skavit.core.simulation.replay import replay
from skavit.core.tests.builders import day_groups_of
from skavit.core.tests.test_heat import heating, points

DAY = [("07:00", 20), ("22:00", 15)]
YEAR = date(2027, 1, 1), date(2027, 12, 31)
FROSTY = {"outside": {"coldest_c": -3, "usual_c": 4, "frost_months": [6, 7, 8]}}


def found(plan, code):
    return [finding for finding in audit(replay(plan, *YEAR)) if finding.code == code]


def after(finding, plan):
    return {f.code for f in audit(replay(finding.remedy.applied(plan), *YEAR))}


class ApartTest(unittest.TestCase):
    def test_weekends_that_nobody_keyed(self):
        wanted = points(DAY, "weekdays") + points([("09:00", 19), ("22:00", 15)], "weekends")
        plan = heating(wanted, points(DAY, "weekdays"))
        (cold,) = found(plan, "too-cold")
        self.assertEqual((cold.severity, cold.days), ("warning", 104))
        self.assertEqual(cold.hours, 104 * 13)
        self.assertIn("Hall is held up to 4 °C colder than wanted", cold.message)
        self.assertIn("5,408 degree hours", cold.message)  # 104 days of 13 hours and 4 kelvin
        self.assertNotIn("too-cold", after(cold, plan))

    def test_a_set_point_too_many_is_too_warm(self):
        (warm,) = found(heating(points(DAY), points([*DAY, ("23:00", 21)])), "too-warm")
        self.assertIn("6 °C warmer", warm.message)

    def test_days_away_and_a_step_of_degrees_are_two(self):
        away = {"dates": ["2027-07-05", "2027-07-06", "2027-07-07"]}
        wanted = [
            *points([("07:00", 20.3), ("22:00", 15)]),
            *points([("00:00", 8)], away),
            *points([("07:00", 8)], away),
        ]
        keyed = [("07:00", 20.5), ("22:00", 15)]
        plan = heating(wanted, points(keyed), limits={"c_step": 0.5})
        steps, away = sorted(found(plan, "too-warm"), key=lambda finding: finding.days, reverse=True)
        self.assertIn("up to 0.2 °C warmer", steps.message)
        self.assertIn("the unit's steps come no nearer", steps.message)
        self.assertEqual((steps.severity, steps.remedy, steps.days), ("note", None, 362))
        self.assertIn("up to 12.5 °C warmer than wanted, 5–7 Jul", away.message)
        self.assertEqual((away.severity, away.days), ("warning", 3))
        self.assertNotEqual(steps.identity, away.identity)

    def test_an_hour_out_is_the_clocks_and_not_the_set_points(self):
        codes = {f.code: f for f in audit(replay(heating(points(DAY), dst="none"), *YEAR))}
        self.assertEqual(set(codes), {"dst-differs"})
        told = codes["dst-differs"]
        self.assertEqual(told.severity, "warning")
        # 190 days of summer time in 2027, each with an hour of five kelvin either way.
        self.assertIn("Hall: 950 degree hours too warm and 950 degree hours too cold", told.message)

    def test_what_is_kept_reads_back(self):
        plan = heating(points(DAY), points([("07:00", 19)]), [("2027-07-01T12:00", {"off": True})], **FROSTY)
        for finding in audit(replay(plan, *YEAR)):
            self.assertEqual(read_kept(finding.kept()).message, finding.message)


class ByHandTest(unittest.TestCase):
    def plan(self, *done):
        return heating(points(DAY), done=done, **FROSTY)

    def test_off_in_a_frost_month_is_a_danger_and_frost_protection_is_none(self):
        plan = self.plan(("2027-05-30T12:00", {"off": True}), ("2027-06-03T12:00", {"auto": True}))
        (danger,) = found(plan, "frost-off")
        self.assertEqual((danger.severity, danger.first, danger.last), ("danger", date(2027, 6, 1), date(2027, 6, 3)))
        self.assertNotIn("frost-off", after(danger, plan))
        summer = self.plan(("2027-01-30T12:00", {"off": True}), ("2027-02-03T12:00", {"auto": True}))
        self.assertEqual(found(summer, "frost-off"), [])

    def test_a_zone_left_at_frost_protection(self):
        plan = self.plan(("2027-09-01T08:00", {"frost": True}))
        (left,) = found(plan, "not-in-auto")
        self.assertEqual((left.severity, left.first), ("warning", date(2027, 9, 1)))
        self.assertEqual(after(left, plan), set())

    def test_a_hold_of_three_days_and_one_of_two_hours(self):
        plan = self.plan(("2027-09-01T08:00", {"hold_min": 4320, "c": 23}))
        (held,) = found(plan, "held-long")
        self.assertIn("Hall is held at 23 °C for 3 d", held.message)
        self.assertEqual(after(held, plan), set())
        self.assertEqual(found(self.plan(("2027-09-01T08:00", {"hold_min": 120, "c": 23})), "held-long"), [])

    def test_a_holiday_with_today_counted_is_a_day_short(self):
        plan = self.plan(("2027-07-05T08:00", {"holiday_days": 7, "from": "today"}))
        (short,) = found(plan, "holiday-ends-wrong")
        self.assertIn("6 nights", short.message)
        self.assertIn("as Mon 12 Jul", short.message)
        (longer,) = found(short.remedy.applied(plan), "holiday-ends-wrong")
        self.assertIn("as Tue 13 Jul", longer.message)
        counted = self.plan(("2027-07-05T08:00", {"holiday_days": 7, "from": "tomorrow"}))
        self.assertEqual(found(counted, "holiday-ends-wrong"), [])

    def test_a_holiday_that_ends_in_the_night(self):
        for until, wrong in (("2027-07-10T03:00", True), ("2027-07-10T16:00", False)):
            plan = self.plan(("2027-07-05T08:00", {"holiday_until": until}))
            self.assertEqual(bool(found(plan, "holiday-ends-wrong")), wrong)


class LimitsTest(unittest.TestCase):
    def test_what_cannot_be_keyed(self):
        plan = heating(points(DAY), points([("06:03", 20), ("09:00", 16.2), ("12:00", 18)], ["mon"]))
        unit = replace(plan.unit, limits=Limits(day_groups=day_groups_of("weekdays", "weekends"), clock_step_s=600))
        plan = replace(plan, unit=unit, heat=replace(plan.heat, limits=HeatLimits(periods=2, c_step=0.5)))
        told = {f.code: f for f in audit(replay(plan, *YEAR))}
        self.assertLessEqual({"over-capacity", "no-such-days", "too-fine"}, set(told))
        self.assertFalse({"over-capacity", "no-such-days", "too-fine"} & after(told["over-capacity"], plan))


class RoomTest(unittest.TestCase):
    ROOM = Room(loss_w_k=150, capacity_wh_k=3000, heater_w=6000)

    def plan(self, wanted=None):
        plan = heating(wanted or points(DAY))
        zone = replace(plan.heat.zones[0], room=self.ROOM)
        outside = Outside(coldest_c=-3, usual_c=4)
        return replace(plan, heat=replace(plan.heat, zones=(zone,), outside=outside))

    def test_the_start_that_is_needed_is_the_start_that_just_suffices(self):
        (rise, *_) = rises(Week.of(self.plan().heat.zones[0].wanted, 5))
        self.assertEqual((rise.seconds, rise.from_c, rise.to_c, rise.lower_s, rise.higher_s), (25_200, 15, 20, 9 * 3600, 15 * 3600))  # fmt: skip
        for outside in (-3, 4):
            lead = lead_s(self.ROOM, rise, outside)
            cooled = max(15.0, cooled_c(self.ROOM, outside, 20, (9 * 3600 - lead) / 60))
            self.assertAlmostEqual(warm_up_min(self.ROOM, outside, cooled, 20), lead / 60, delta=1)
        self.assertGreater(lead_s(self.ROOM, rise, -3), lead_s(self.ROOM, rise, 4))
        self.assertIsNone(lead_s(self.ROOM, rise, -30))

    def test_a_short_period_is_not_reached(self):
        plan = self.plan(points([("07:00", 20), ("08:00", 15)]))
        (told,) = found(plan, "period-unreached")
        self.assertEqual(told.severity, "warning")
        self.assertIn("7:00", told.message)
        self.assertEqual(found(self.plan(), "period-unreached"), [])

    def test_a_year_saves_what_it_is_lower(self):
        plan = self.plan()
        year = year_heat(targets(replay(plan, *YEAR)), 0)
        self.assertEqual(year.degree_hours, 365 * 9 * 5)
        self.assertGreater(year.saved_kwh, 0)
        # It cannot save more than the loss through so many kelvin hours.
        self.assertLess(year.saved_kwh, year.degree_hours * 150 / 1000)
        self.assertEqual(outside_of(plan).coldest_c, -3)

    def test_a_step_up_all_night_long(self):
        self.assertEqual(rises(Week.of((), 5)), ())
        self.assertGreater(
            late_min(self.ROOM, Rise(day=0, seconds=0, from_c=5, to_c=20, lower_s=10**6, higher_s=1), 0), 0
        )
