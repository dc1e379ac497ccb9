"""Set points fitted to units: exact where they fit, and where they do not no other choice is nearer."""

import itertools
import unittest
from dataclasses import replace
from datetime import date

from hypothesis import example, given, settings
from hypothesis import strategies as st

from skavit.core.findings import audit
from skavit.core.heat.fitting import best_day, fit_heat, holds_of
from skavit.core.heat.targets import targets
from skavit.core.heat.week import EVEN, Week, Weight
from skavit.core.plan.heat import HeatLimits
from skavit.core.plan.limits import Limits
from skavit.core.simulation.replay import replay
from skavit.core.tests.builders import day_groups_of, simple_days
from skavit.core.tests.test_heat import FROST_C, heating, points

YEAR = date(2027, 1, 1), date(2027, 12, 31)
WORKDAYS_AND_WEEKENDS = day_groups_of("weekdays", "weekends")
CUSTOMER = [
    *points([("06:30", 20.5), ("08:30", 16), ("16:30", 21), ("22:00", 15)], "weekdays"),
    *points([("08:00", 20), ("23:00", 15)], "weekends"),
]
QUARTERS = st.integers(0, 95).map(lambda n: f"{n // 4:02d}:{n % 4 * 15:02d}")


def unit_for(wanted, groups=WORKDAYS_AND_WEEKENDS, step_s=60, **limits):
    plan = heating(wanted, [])
    unit = replace(plan.unit, limits=Limits(day_groups=groups, clock_step_s=step_s))
    return replace(plan, unit=unit, heat=replace(plan.heat, limits=HeatLimits(**limits)))


def keyed(plan):
    return plan.heat.zones[0].keyed


class FitTest(unittest.TestCase):
    def test_a_customers_week_is_keyed_as_it_is_and_keeps_the_unit_quiet(self):
        found = fit_heat(unit_for(CUSTOMER, periods=4), 2027)
        self.assertEqual(found.losses, ())
        self.assertEqual([p.to_json() for p in keyed(found.plan)], CUSTOMER)
        run = replay(found.plan, *YEAR)
        self.assertEqual(audit(run), ())
        (zone,) = targets(run).zones
        self.assertEqual((zone.too_warm_kh, zone.too_cold_kh), (0, 0))

    def test_one_program_for_all_days_takes_what_is_nearest(self):
        found = fit_heat(unit_for(points([("07:00", 20), ("22:00", 15)], "weekdays") + points([("09:00", 20), ("22:00", 15)], "weekends"), day_groups_of("daily"), periods=4), 2027)  # fmt: skip
        self.assertEqual([(str(p.at), p.c) for p in keyed(found.plan)], [("07:00", 20), ("22:00", 15)])
        (loss,) = found.losses
        # Two hours of five kelvin on each of the 104 days of weekends of a year.
        self.assertAlmostEqual(loss.too_warm_kh, 2 * 5 * 104.5, delta=10)
        self.assertEqual(loss.too_cold_kh, 0)
        self.assertEqual(loss.reason, "Mon to Fri share a day group with Sat, Sun")

    def test_weights_choose_the_other_side(self):
        wanted = points([("07:00", 20), ("22:00", 15)], "weekdays") + points([("09:00", 20), ("22:00", 15)], "weekends")
        plan = unit_for(wanted, day_groups_of("daily"), periods=4)
        found = fit_heat(plan, 2027, Weight(cold=1, warm=100))
        self.assertEqual([str(p.at) for p in keyed(found.plan)], ["09:00", "22:00"])

    def test_reasons(self):
        six = points([("06:00", 20), ("08:00", 16), ("11:30", 20), ("13:00", 16), ("17:00", 21), ("22:00", 14)])
        for plan, reason in (
            (unit_for(six, periods=4), "6 set points on a day"),
            (unit_for(points([("06:07", 20), ("22:00", 15)]), step_s=600, periods=4), "between its steps"),
            (unit_for(points([("06:00", 20.5), ("22:00", 15)]), c_step=1.0), "degrees"),
            (unit_for(points([("06:00", 20)], {"parity": "odd"})), "on some dates only"),
        ):
            with self.subTest(reason=reason):
                (loss,) = fit_heat(plan, 2027).losses
                self.assertIn(reason, loss.reason)

    @example([("daily", "02:15", 14), ("daily", "02:00", 15)])  # on one date the clock jumps over both
    @given(st.lists(st.tuples(simple_days, QUARTERS, st.integers(14, 22)), min_size=1, max_size=6))
    @settings(max_examples=25)
    def test_what_is_fitted_is_what_its_own_limits_hold_and_what_fits_is_exact(self, rows):
        wanted = [{"days": d, "at": at, "c": c} for d, at, c in rows]
        for groups, periods in ((WORKDAYS_AND_WEEKENDS, 3), (None, 24)):
            found = fit_heat(unit_for(wanted, groups, periods=periods), 2027)
            codes = {f.code for f in audit(replay(found.plan, *YEAR))}
            self.assertFalse(codes & {"over-capacity", "no-such-days", "too-fine"})
            if groups is None:
                self.assertEqual(found.losses, ())
            self.assertEqual("too-warm" in codes or "too-cold" in codes, bool(found.losses))

    @given(
        st.lists(
            st.lists(st.tuples(st.integers(1, 23), st.integers(15, 21)), min_size=1, max_size=3, unique_by=lambda p: p[0]),
            min_size=1, max_size=3,
        ),
        st.integers(1, 3),
    )  # fmt: skip
    @settings(max_examples=60)
    def test_the_best_day_against_every_choice(self, raw, periods):
        days = tuple(((0, 14.0), *((hour * 3600, float(c)) for hour, c in sorted(day))) for day in raw)
        holds = holds_of(unit_for([], periods=periods, c_step=1.0))
        found = best_day(days, holds, EVEN)
        self.assertLessEqual(len(found), periods)
        self.assertAlmostEqual(_costs(found, days), _least(days, periods), places=6)


def _costs(day, days):
    """Kelvin hours between a day, told as a circle, and each of the days."""
    total = 0.0
    for hour in range(24):
        at = [c for seconds, c in day if seconds <= hour * 3600]
        c = at[-1] if at else day[-1][1]
        total += sum(abs(c - [v for seconds, v in own if seconds <= hour * 3600][-1]) for own in days)
    return total


def _least(days, periods):
    hours = sorted({seconds for day in days for seconds, _ in day if seconds})
    degrees = sorted({c for day in days for _, c in day})
    return min(
        _costs(tuple(zip(times, values, strict=True)), days)
        for number in range(1, min(periods, len(hours)) + 1)
        for times in itertools.combinations(hours, number)
        for values in itertools.product(degrees, repeat=number)
    )


class WeekTest(unittest.TestCase):
    def test_sundays_last_holds_into_monday(self):
        plan = heating(points([("07:00", 20), ("22:00", 15)], "weekdays") + points([("09:00", 18)], "weekends"))
        week = Week.of(plan.heat.zones[0].wanted, FROST_C)
        self.assertEqual([week.at_midnight(day) for day in range(7)], [18, 15, 15, 15, 15, 15, 18])
        self.assertEqual(week.apart(week), 0)
        self.assertEqual(Week((((0, 20.0),),) * 7, 5).apart(Week(((),) * 7, 5)), 15 * 168)
