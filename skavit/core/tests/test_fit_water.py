"""Programs fitted to what the plants need: worked figures, and what holds of every fit by its own replay."""

import unittest
from datetime import date
from unittest.mock import patch

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from skavit.core.ground.budget import Budget
from skavit.core.ground.errors import PlanError
from skavit.core.plan.days import EveryNth, Weekdays
from skavit.core.simulation.replay import replay
from skavit.core.tests.builders import BAY
from skavit.core.tests.test_soil import LAWN, station
from skavit.core.tests.test_stack import said, watering
from skavit.core.water import fitting
from skavit.core.water.drafting import run_step_min
from skavit.core.water.fitting import fit_water
from skavit.core.water.need import least_soak_min, longest_run_min, net_need_mm_day, scheduling_multiplier
from skavit.core.water.soil import average_season
from skavit.core.water.stack import stack

CLIMATE = {
    "et0_mm_day": [5.6, 5.0, 3.8, 2.4, 1.5, 1.0, 1.1, 1.6, 2.5, 3.6, 4.6, 5.3],
    "rain_mm_day": [1.6, 1.9, 2.2, 2.3, 2.6, 2.7, 3.0, 2.4, 2.0, 1.8, 1.8, 1.7],
}
LIMITS = {"programs": 3, "starts": 4, "run_max_min": 240, "run_step_min": 1, "monthly_step_pct": 5}
SHRUBS = station(
    name="Shrubs", crop=0.5, rate_mm_h=12.0, du=0.85,
    soil=LAWN | {"available_mm_m": 170, "root_m": 0.4, "depletion": 0.4},
)  # fmt: skip
EVEN_NIGHTS = [{"from": "20:00", "to": "09:00", "days": {"parity": "even"}}]


def fitted(stations, limits=LIMITS, **more):
    return fit_water(watering([], site=BAY, stations=stations, climate=CLIMATE, limits=limits, **more), 2027)


def run_of(fit, first=date(2027, 1, 1), last=date(2028, 12, 31)):
    return stack(replay(fit.plan, first, last))


def over_need(fit, number=0):
    """What reaches the plants of a station over what they need beyond the rain of the average year."""
    found = run_of(fit)
    balance = average_season(found, found.water.climate)
    need = net_need_mm_day(found.water.stations[number], found.water.climate)[balance.months].sum()
    return balance.irrigation[:, number].sum() / need


class NeedTest(unittest.TestCase):
    def test_run_off(self):
        """19 mm an hour on ground that takes 12: 6 mm stand after 60 x 6 / 7 minutes, and are gone after 60 x 6 / 12."""
        lawn = watering([], stations=[station()]).water.stations[0]
        self.assertAlmostEqual(longest_run_min(lawn), 360 / 7)
        self.assertEqual(least_soak_min(lawn), 30)
        gentle = watering([], stations=[station(rate_mm_h=12)]).water.stations[0]
        self.assertEqual((longest_run_min(gentle), least_soak_min(gentle)), (float("inf"), 0))

    def test_two_schools_of_uniformity(self):
        """At DU 0.7 dividing lengthens by 1.43, the multiplier by 1.22."""
        self.assertAlmostEqual(scheduling_multiplier(0.7), 1 / 0.82)
        self.assertLess(scheduling_multiplier(0.7), 1 / 0.7)

    def test_rain_that_wets_nothing_lessens_no_need(self):
        lawn = watering([], stations=[station(crop=1)], climate={"et0_mm_day": [5] * 12, "rain_mm_day": [1] * 12}).water
        self.assertEqual(set(net_need_mm_day(lawn.stations[0], lawn.climate)), {5.0})


class WorkedTest(unittest.TestCase):
    def test_one_lawn(self):
        """RAW 16.25 mm last five days of 2.88 mm: 65 min, more than run-off allows, so two runs with a soak of 30 min."""
        fit = fitted([station()])
        self.assertEqual(fit.losses, ())
        (program,) = fit.plan.water.programs
        self.assertEqual(program.days.interval, 5)
        self.assertEqual([run.run_min for run in program.runs], [33])
        self.assertEqual([str(start) for start in program.starts], ["04:00", "05:03"])
        self.assertEqual(program.monthly_pct[0], 100)
        self.assertEqual(program.monthly_pct[6], 0)
        self.assertLess(over_need(fit), 1.35)

    def test_without_months_it_is_the_same_all_year(self):
        fit = fitted([station()], LIMITS | {"monthly": False})
        self.assertEqual(set(fit.plan.water.programs[0].monthly_pct), {100})
        self.assertGreater(over_need(fit), 2)

    def test_stations_with_starts_of_their_own_have_a_program_each(self):
        fit = fitted([station(), station(), SHRUBS], LIMITS | {"stations": 1})
        self.assertEqual(fit.losses, ())
        self.assertEqual(sorted(program.name for program in fit.plan.water.programs), ["1", "2", "3"])
        self.assertTrue(all(int(p.name) == run.station for p in fit.plan.water.programs for run in p.runs))

    def test_a_station_for_which_no_program_is_left_is_told(self):
        fit = fitted([station(), station(), SHRUBS], LIMITS | {"stations": 1, "programs": 2})
        self.assertEqual(len(fit.plan.water.programs), 2)
        (left,) = (loss for loss in fit.losses if loss.nearest == "not watered")
        watered = {run.station for program in fit.plan.water.programs for run in program.runs}
        self.assertEqual({left.station} | watered, {1, 2, 3})

    def test_water_as_often_as_somebody_asked_for(self):
        asked = fitted([station(per_week=3)], LIMITS | {"days": ["any"]})
        self.assertEqual(asked.losses, ())
        self.assertEqual(asked.plan.water.programs[0].days.mask.bit_count(), 3)
        seldom = fitted([station()], LIMITS | {"days": ["any"]})
        self.assertLess(seldom.plan.water.programs[0].days.mask.bit_count(), 3)

    def test_even_nights(self):
        fit = fitted([station(), SHRUBS], allowed=EVEN_NIGHTS)
        self.assertEqual(fit.losses, ())
        self.assertEqual(run_of(fit).outside.total_s, 0)
        self.assertTrue(all(program.days.matches for program in fit.plan.water.programs))
        self.assertEqual(said(run_of(fit, date(2027, 1, 4), date(2027, 1, 4)))[0][0], "20:00")

    def test_a_soil_that_just_lasts_over_a_months_end(self):
        """Even days leave the 31st and the 1st without water: 2 x 2.88 mm must be within RAW."""
        lasts, fails = (station(soil=LAWN | {"root_m": root}) for root in (0.09, 0.08))  # RAW 5.85 and 5.2 mm
        self.assertEqual(fitted([lasts], allowed=EVEN_NIGHTS).losses, ())
        self.assertIn("more often", fitted([fails], allowed=EVEN_NIGHTS).losses[0].reason)

    def test_weekdays_after_a_window_that_passes_midnight(self):
        """Water may flow from Monday's evening into Tuesday's morning: a program of Tuesdays is one."""
        fit = fitted(
            [station()], LIMITS | {"days": ["any"]}, allowed=[{"from": "22:00", "to": "06:00", "days": ["mon", "wed"]}]
        )
        self.assertEqual(fit.losses, ())
        (program,) = fit.plan.water.programs
        self.assertIsInstance(program.days, Weekdays)
        self.assertEqual(program.days.to_json(), ["tue", "thu"])
        self.assertEqual(run_of(fit).outside.total_s, 0)

    def test_hours_that_open_with_the_sun(self):
        """From sunset to 23:30: the first minute that every evening has is that of the latest sunset."""
        fit = fitted([station()], allowed=[{"from": "sunset", "to": "23:30"}])
        self.assertEqual(fit.losses, ())
        self.assertEqual(run_of(fit).outside.total_s, 0)
        self.assertRegex(str(fit.plan.water.programs[0].starts[0]), "^20:4")

    def test_trees_that_need_water_once_in_months(self):
        """Pauses are tried in a dozen steps, however long the soil lasts."""
        trees = [station(name=f"Tree {n}", crop=0.9, soil=LAWN | {"root_m": 40, "depletion": 1}) for n in range(20)]
        fit = fitted(trees, allowed=[{"from": "04:00", "to": "04:10"}])
        self.assertIn("longer than water may flow", fit.losses[0].reason)

    def test_a_unit_that_keeps_another_time(self):
        """Without summer time the unit waters an hour later by the law's clock from September to April: still in hours."""
        night = [{"from": "04:00", "to": "06:30"}]
        fit = fitted([station()], allowed=night, unit={"clock": {"dst": "none"}})
        self.assertEqual(fit.losses, ())
        self.assertEqual(run_of(fit).outside.total_s, 0)

    def test_a_short_night_makes_it_water_more_often(self):
        night = [{"from": "04:00", "to": "06:00"}]
        many = [station(name=f"Bed {n}", rate_mm_h=9 + 3 * n) for n in range(6)]
        fit = fitted(many, allowed=night)
        self.assertEqual(fit.losses, ())
        gaps = [program.days for program in fit.plan.water.programs]
        self.assertNotIn(5, [days.interval for days in gaps if isinstance(days, EveryNth)])
        self.assertEqual(run_of(fit).outside.total_s, 0)

    def test_the_night_in_which_the_clocks_go_on(self):
        """From 22:00 to 07:00 with hours of runs: at the jump an hour is missing, and still no start waits and all soak."""
        beds = [(0.98, 13.3, 0.42), (0.54, 5.0, 0.41), (0.99, 5.0, 0.6), (0.95, 5.0, 0.56), (0.3, 5.0, 0.23)]
        several = [
            station(crop=crop, rate_mm_h=rate, du=0.55, soil=LAWN | {"root_m": root, "intake_mm_h": 5})
            for crop, rate, root in beds
        ]
        limits = LIMITS | {"programs": 1, "starts": 5, "run_max_min": 30, "days": ["any"], "monthly": False}
        fit = fitted(several, limits, allowed=[{"from": "22:00", "to": "07:00"}])
        self.assertEqual(fit.losses, ())
        found = run_of(fit)
        self.assertTrue(np.array_equal(found.cycles.begin, found.cycles.due))
        first = found.runs.of_station(0)
        self.assertGreaterEqual((first.on[1:] - first.off[:-1]).min() / 60, 72)

    def test_what_does_not_fit_is_told_with_the_nearest(self):
        sand = station(soil=LAWN | {"root_m": 0.04})
        (days, dry) = fitted([sand], LIMITS | {"days": ["parity"]}).losses
        self.assertIn("more often", days.reason)
        self.assertIn("2 days between", days.nearest)
        self.assertIn("is dry on", dry.reason)
        (late, *_) = fitted([station()] * 40, allowed=[{"from": "04:00", "to": "05:00"}]).losses
        self.assertIn("longer than water may flow", late.reason)
        (never,) = fitted(
            [station()], allowed=[{"from": "20:00", "to": "21:00", "days": {"dates": ["2026-01-01"]}}]
        ).losses
        self.assertIn("on none of the days", never.reason)
        (hard, *_) = fitted([station(rate_mm_h=60, soil=LAWN | {"surface_mm": 2})], LIMITS | {"starts": 1}).losses
        self.assertIn("more starts", hard.reason)

    def test_starts_that_a_short_evening_has_no_room_for_are_left_out(self):
        """From 23:30, 5 min each and 10 min of soak: 23:30 and 23:45; each start stands once."""
        clay = station(rate_mm_h=25, du=1, soil=LAWN | {"available_mm_m": 90, "root_m": 0.6, "surface_mm": 2})
        evening = [{"from": "23:30", "to": "06:00", "days": {"parity": "even"}}]
        fit = fitted([clay], {"run_step_min": 5}, allowed=evening)
        self.assertEqual([str(start) for start in fit.plan.water.programs[0].starts], ["23:30", "23:45"])
        self.assertRegex(fit.losses[0].reason, r"^\d of \d starts, each after its soak, would come after midnight$")
        self.assertRegex(fit.losses[0].nearest, r"^2 of \d starts$")

    def test_a_valve_that_lags_for_hours(self):
        pots = station(rate_mm_h=30, du=1, crop=1, soil=LAWN | {"available_mm_m": 60, "root_m": 0.2, "surface_mm": 2})
        late = {"master_valve": {"lead_s": 0, "lag_s": 10_800}, "allowed": [{"from": "22:00", "to": "24:00"}]}
        self.assertEqual(fitted([pots], {"starts": 12, "days": ["any"]}, **late).losses, ())

    def test_the_least_run_of_a_coarse_unit_is_keyed_and_said_to_run_off(self):
        """38 mm an hour on ground that takes 5 with 2 mm on it: 3.6 min, and the unit goes by 5."""
        bank = station(rate_mm_h=38, du=0.65, soil=LAWN | {"intake_mm_h": 5, "surface_mm": 2})
        fit = fitted([bank], LIMITS | {"run_step_min": 5, "starts": 12})
        self.assertEqual([run.run_min for run in fit.plan.water.programs[0].runs], [5])
        (coarse,) = fit.losses
        self.assertIn("takes 3.6 min at a time, and the unit's runs go by 5 min", coarse.reason)
        (none,) = fitted([bank], LIMITS | {"run_step_min": 5, "run_max_min": 3}).losses
        self.assertEqual((none.reason[:26], none.nearest), ("the unit's runs go by 5 mi", "no programs"))

    def test_months_that_are_raised_keep_parallel_stations_apart(self):
        """The soil is small and rules of days are uneven, so months are raised after the first timetable."""
        beds = [
            station(
                name=f"Bed {n}", rate_mm_h=9 + 7 * n, crop=0.6 + 0.1 * n,
                soil=LAWN | {"root_m": 0.12 + 0.02 * n, "intake_mm_h": 25},
            )
            for n in range(4)
        ]  # fmt: skip
        with patch.object(fitting, "timetable", wraps=fitting.timetable) as made:
            fit = fitted(beds, LIMITS | {"programs": 4, "days": ["any"], "monthly_step_pct": 1}, when_busy="parallel")
        whole = made.call_args.args[0]
        self.assertEqual([d.months for d in whole], [p.monthly_pct for p in fit.plan.water.programs])
        runs = run_of(fit).runs
        self.assertTrue((runs.on[1:] >= runs.off[:-1]).all())

    def test_many_stations_of_unlike_months_end_with_the_best_of_those_tried(self):
        crops = [[0.4 + 0.1 * ((n * month) % 6) for month in range(12)] for n in range(12)]
        beds = [station(name=f"Bed {n}", crop=crop) for n, crop in enumerate(crops)]
        night = [{"from": "04:00", "to": "04:30"}]
        ended = self.fit_within(200, beds, night)
        self.assertIn("more ways to combine", ended.losses[-1].reason)
        self.assertTrue(ended.plan.water.programs)
        self.assertNotIn("more ways", self.fit_within(20_000, beds, night).losses[-1].reason)

    @staticmethod
    def fit_within(steps, beds, night):
        plan = watering([], site=BAY, stations=beds, climate=CLIMATE, limits=LIMITS, allowed=night)
        return fit_water(plan, 2027, Budget(steps))

    def test_work_is_bounded(self):
        with self.assertRaisesRegex(PlanError, "at most 200"):
            fitted([station()] * 201)


stations = st.builds(
    lambda crop, rate, du, root, intake: station(
        crop=crop, rate_mm_h=rate, du=du, soil=LAWN | {"root_m": root, "intake_mm_h": intake}
    ),
    st.floats(0.3, 1.1).map(lambda v: round(v, 2)),
    st.floats(5, 45).map(lambda v: round(v, 1)),
    st.sampled_from([0.55, 0.7, 0.85, 1.0]),
    st.floats(0.1, 0.6).map(lambda v: round(v, 2)),
    st.sampled_from([5, 12, 25]),
)
limits_said = st.builds(
    lambda **parts: LIMITS | parts,
    programs=st.integers(1, 4),
    starts=st.integers(1, 6),
    run_max_min=st.sampled_from([30, 99, 240]),
    run_step_min=st.sampled_from([0.5, 1, 5]),
    days=st.sampled_from([["any"], ["any", "parity"], ["any", "interval", "parity"]]),
    monthly=st.booleans(),
    monthly_step_pct=st.sampled_from([1, 5, 10]),
)
nights = st.sampled_from([None, EVEN_NIGHTS, [{"from": "22:00", "to": "07:00"}], [{"from": "sunset", "to": "sunrise"}]])


class AlwaysTest(unittest.TestCase):
    @settings(max_examples=12)
    @given(st.lists(stations, min_size=1, max_size=5), limits_said, nights, st.sampled_from([0, 60]))
    def test_limits_hours_and_the_ground_hold(self, several, limits, night, pause):
        more = {"allowed": night} if night else {}
        fit = fitted(several, limits, station_delay_s=pause, **more)
        water, found = fit.plan.water, run_of(fit)
        self.assertLessEqual(len(water.programs), limits["programs"])
        for program in water.programs:
            self.assertLessEqual(len(program.starts), limits["starts"])
            for run in program.runs:
                self.assertLessEqual(run.run_min, limits["run_max_min"])
                self.assertAlmostEqual(
                    run.run_min / limits["run_step_min"], round(run.run_min / limits["run_step_min"])
                )
            for share in program.monthly_pct:
                self.assertAlmostEqual(share % limits["monthly_step_pct"], 0)
        for number, of in enumerate(water.stations):
            runs = found.runs.of_station(number)
            longest = ((runs.off - runs.on) / 60).max(initial=0)
            coarse = any(loss.station == number + 1 and "runs go by" in loss.reason for loss in fit.losses)
            self.assertLessEqual(longest, run_step_min(water) if coarse else longest_run_min(of) + 1e-6)
            if not any("longer than water" in loss.reason for loss in fit.losses):
                self.assertGreaterEqual(
                    ((runs.on[1:] - runs.off[:-1]) / 60).min(initial=1e9), least_soak_min(of) - 1e-6
                )
        dry = average_season(found, water.climate).settled_dry
        for program in water.programs:
            self.assertEqual(len(set(program.starts)), len(program.starts))
            self.assertTrue(all(run.run_min > 0 for run in program.runs))
        if not fit.losses:
            self.assertEqual(found.outside.total_s, 0)
            self.assertFalse(dry.any())
            self.assertTrue(np.array_equal(found.cycles.begin, found.cycles.due))
        self.assertEqual(fit, fitted(several, limits, station_delay_s=pause, **more))


DEEP = LAWN | {"root_m": 1.5}  # lasts for weeks


class GapTest(unittest.TestCase):
    def test_days_between_waterings_are_bounded_and_even(self):
        pots = station(name="Pots", soil=DEEP, max_gap_days=2)
        (often,) = fitted([pots]).plan.water.programs
        self.assertEqual(often.days, EveryNth(interval=2, start=often.days.start))
        weekdays = fitted([station(soil=DEEP, max_gap_days=3)], limits=LIMITS | {"days": ["any"]}).plan.water.programs
        # Three days of a week: two days apart twice and three once, never Mon, Tue, Thu.
        (program,) = weekdays
        days = [day for day in range(7) if program.days.mask >> day & 1]
        gaps = sorted((b - a) % 7 for a, b in zip(days, [*days[1:], days[0]], strict=True))
        self.assertEqual(gaps, [2, 2, 3])

    def test_what_no_days_hold_is_told(self):
        found = fitted(
            [station(soil=DEEP, max_gap_days=2)], allowed=[{"from": "20:00", "to": "09:00", "days": ["mon", "thu"]}]
        )
        self.assertIn(
            "no days of a program and of the allowed hours come every 2 days", [loss.reason for loss in found.losses]
        )
