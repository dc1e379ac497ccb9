"""Programs of water as they run: beside a controller stepped ten seconds at a time, and by worked figures."""

import unittest
from datetime import date, timedelta

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from skavit.core.ground.errors import PlanError, RangeError
from skavit.core.ground.strict_json import Node
from skavit.core.plan.document import read_plan
from skavit.core.simulation.replay import replay
from skavit.core.tests.builders import BAY, DESERT, clock_text
from skavit.core.tests.stepped_water import STEP_S, STEPS_A_DAY, SteppedController
from skavit.core.water.stack import Fate, stack

STATIONS = [{"name": f"Station {n}", "flow_l_min": 10.0 * n} for n in (1, 2, 3)]
EVEN_MONTHS = [100] * 12


def program(starts, runs, days="daily", **more):
    return {
        "name": "A",
        "days": days,
        "starts": starts,
        "runs": [{"station": s, "run_min": m} for s, m in runs],
        "adjust_pct": 100,
        "monthly_pct": EVEN_MONTHS,
        **more,
    }


def watering(programs, *, site=DESERT, stations=STATIONS, unit=None, **more):
    water = {"stations": stations, "programs": programs, **more}
    document = {"format": "skavit-plan/1", "site": site, "channels": [], "water": water}
    return read_plan(Node(document | ({"unit": unit} if unit else {})))


def stacked(programs, first=date(2027, 6, 1), last=date(2027, 6, 1), **more):
    return stack(replay(watering(programs, **more), first, last))


def said(found, station=0):
    """The runs of a station as clock times."""
    clock, spans = found.run.site_clock, found.stations[station]
    return [
        tuple(clock_text(int(digits) % 86400 // 60) for digits in pair)
        for pair in zip(clock.digits(spans.on), clock.digits(spans.off), strict=True)
    ]


programs = st.builds(
    lambda minutes, runs, days, adjust, month: program(
        [clock_text(m) for m in minutes],
        runs,
        days,
        adjust_pct=adjust,
        monthly_pct=[100] * 5 + [month] + [100] * 6,
    ),
    st.lists(st.integers(0, 1439), min_size=1, max_size=3),
    st.lists(st.tuples(st.integers(1, 3), st.integers(1, 90).map(lambda n: n / 2)), min_size=1, max_size=4),
    st.sampled_from(["daily", {"parity": "odd"}, {"parity": "even"}]),
    st.integers(0, 200),
    st.sampled_from([0, 50, 85, 100, 137.5]),
)


class SteppedTest(unittest.TestCase):
    """FIRST to LAST after a run-up of three days: no cycles that these programs make wait so long."""

    FIRST, LAST = date(2027, 5, 31), date(2027, 6, 1)

    @settings(max_examples=40)
    @given(
        st.lists(programs, min_size=1, max_size=3),
        st.sampled_from(["queue", "ignore", "parallel"]),
        st.sampled_from([30, 60, 300]),
        st.sampled_from([0, 10, 90]),
        st.tuples(st.sampled_from([0, 20]), st.sampled_from([0, 40, 600])),
    )
    def test_valves_and_master_valve(self, programs, busy, grain, pause, master):
        more = {
            "when_busy": busy,
            "run_step_s": grain,
            "station_delay_s": pause,
            "master_valve": {"lead_s": master[0], "lag_s": master[1]},
        }
        run_up = 3
        dates = [self.FIRST + timedelta(days=n) for n in range(-run_up, 2)]
        stepped = SteppedController({"programs": programs, **more}, dates).run()
        found = stack(replay(watering(programs, **more), self.FIRST, self.LAST))
        low = run_up * STEPS_A_DAY
        instants = found.run.start + np.arange(len(stepped.open) - low) * STEP_S
        for number, spans in enumerate(found.stations, start=1):
            is_open = np.array([number in each for each in stepped.open[low:]])
            self.assertTrue(np.array_equal(spans.at(instants), is_open), number)
        # A cycle that begins after the range is none of the stepped controller's: the last lead is left out.
        reach = len(instants) - 2
        master_open = np.array(stepped.master_open()[low:])[:reach]
        self.assertTrue(np.array_equal(found.master_valve.at(instants[:reach]), master_open))


class WorkedTest(unittest.TestCase):
    """The figures that the trade's own arithmetic gives; common practice, no source."""

    def test_two_stations_of_18_and_24_minutes(self):
        for percent, step, total in ((100, 60, 42 * 60), (130, 60, (23 + 31) * 60), (130, 1, 3276)):
            with self.subTest(percent=percent, step=step):
                found = stacked([program(["04:00"], [(1, 18), (2, 24)], adjust_pct=percent)], run_step_s=step)
                self.assertEqual(sum(s.total_s for s in found.stations), total)
        self.assertEqual(3276 / 60, 54.6)

    def test_a_month_and_a_season_multiply_and_round_once(self):
        months = [65] * 12
        found = stacked([program(["04:00"], [(1, 22)], adjust_pct=130, monthly_pct=months)], run_step_s=1)
        self.assertEqual(found.stations[0].total_s, 1115)  # 22 min at 65 % of 130 % is 18.59 min, 1,115.4 s
        found = stacked([program(["04:00"], [(1, 22)], adjust_pct=130, monthly_pct=months)])
        self.assertEqual(found.stations[0].total_s, 19 * 60)

    def test_a_default_started_twice_gives_what_is_wanted_and_a_third_start_waits(self):
        runs = [(n, 12) for n in (1, 2, 3)]
        twice = stacked([program(["04:00", "05:00"], runs)])
        self.assertEqual([s.total_s for s in twice.stations], [24 * 60] * 3)
        self.assertTrue((twice.cycles.begin == twice.cycles.due).all())
        thrice = stacked([program(["04:00", "05:00", "05:20"], runs)])
        self.assertEqual(said(thrice), [("04:00", "04:12"), ("05:00", "05:12"), ("05:36", "05:48")])

    def test_what_becomes_of_starts(self):
        found = stacked(
            [program(["04:00", "04:10"], [(1, 30)]), program(["06:00"], [(1, 1)], adjust_pct=10)],
            last=date(2027, 6, 3),
            when_busy="ignore",
            off_dates=[{"from": "06-02", "days": 1}],
            rain_delays=[{"at": "2027-06-02T04:05", "days": 1}],
        )
        fates = [Fate(fate) for fate in found.cycles.fate]
        self.assertEqual(fates[:3], [Fate.RUNS, Fate.BUSY, Fate.NOTHING])
        # The delay is told before the off date; at 04:10 on the third it has ended.
        self.assertEqual(fates[3:6], [Fate.OFF_DATE, Fate.RAIN_DELAY, Fate.NOTHING])
        self.assertEqual(fates[6:8], [Fate.RAIN_DELAY, Fate.RUNS])
        self.assertEqual(found.litres(0), 600.0)

    def test_a_start_in_the_hour_that_the_clocks_skip_comes_at_the_jump(self):
        found = stacked([program(["02:30"], [(1, 10)])], date(2027, 9, 26), date(2027, 9, 26), site=BAY)
        self.assertEqual(said(found), [("03:00", "03:10")])

    def test_a_start_by_the_sun(self):
        found = stacked([program(["sunrise-60"], [(1, 10)])], site=BAY)
        ((on, _),) = said(found)
        self.assertRegex(on, "^06:[23]")  # the sun rises about 07:25 there in early June


class RefusedTest(unittest.TestCase):
    def refused(self, path, programs=(), **more):
        with self.assertRaises(PlanError) as caught:
            watering(list(programs), **more)
        self.assertEqual(caught.exception.path, path)

    def test_what_a_watering_plan_may_not_say(self):
        self.refused("water.programs[0].runs[0].station", [program(["04:00"], [(4, 10)])])
        self.refused("water.programs[0].monthly_pct", [program([], [], monthly_pct=[100] * 11)])
        self.refused("water.programs[0].starts[0]", [program(["24:00"], [])])
        self.refused("water.programs[0].starts[0]", [program(["sunrise"], [])], unit={"sun": {"source": "none"}})
        self.refused("water.stations[0].flow_l_min", stations=[{"name": "Bed", "flow_l_min": 0}])
        self.refused("water.stations[0].du", stations=[{"name": "Bed", "flow_l_min": 1, "du": 1.2}])
        self.refused("water.stations[0].soil.root_m", stations=[{"name": "Bed", "flow_l_min": 1, "soil": {
            "available_mm_m": 1, "depletion": 1, "intake_mm_h": 1, "surface_mm": 1}}])  # fmt: skip
        self.refused("water.when_busy", when_busy="wait")
        twice = [{"name": "Bed", "flow_l_min": 1, "id": "one"}] * 2
        self.refused("water.stations[1].id", stations=twice)

    def test_a_plan_without_channels_has_water(self):
        with self.assertRaises(PlanError) as caught:
            read_plan(Node({"format": "skavit-plan/1", "site": BAY, "channels": []}))
        self.assertEqual(caught.exception.path, "channels")

    def test_work_is_bounded(self):
        many = [program(["04:00"] * 100, [(1, 1)]) for _ in range(3)]
        with self.assertRaisesRegex(RangeError, "starts over this range"):
            stacked(many, last=date(2047, 6, 1))

    def test_a_plan_is_written_as_it_was_read(self):
        plan = watering(
            [program(["04:00"], [(1, 7.5)], {"parity": "even"}, id="a")],
            allowed=[{"from": "20:00", "to": "09:00", "days": {"parity": "even"}}],
            climate={"et0_mm_day": [1.5] * 12, "rain_mm_day": [2] * 12},
            limits={"programs": 3, "days": ["any", "parity"]},
        )
        self.assertEqual(read_plan(Node(plan.to_json())), plan)
