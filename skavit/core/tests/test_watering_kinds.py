"""Kinds that water, the tables that stations begin with, and what the sheet says of a controller."""

import unittest
from dataclasses import replace
from datetime import UTC, date, datetime

from hypothesis import given
from hypothesis import strategies as st

from skavit.core.ground.errors import PlanError
from skavit.core.ground.strict_json import Node
from skavit.core.kinds import shipped_kinds
from skavit.core.kinds.kind import read_kind
from skavit.core.kinds.place import plan_for_kind
from skavit.core.kinds.watering import Curve, Watering, displays, read_back
from skavit.core.plan.document import read_plan
from skavit.core.plan.times import day_number
from skavit.core.plan.water import Station
from skavit.core.sheet import steps
from skavit.core.simulation.replay import replay
from skavit.core.tests.builders import BAY, document
from skavit.core.tests.test_stack import program, watering
from skavit.core.text.wording import Words
from skavit.core.water.et0 import extraterrestrial_radiation, hargreaves
from skavit.core.water.tables import (
    DENSITY,
    EXPOSURE,
    HEADS,
    PLANTS,
    SURFACE_MM,
    landscape_coefficient,
    soil_of,
    told_by,
)
from skavit.core.water.usual_climate import usual_climate

WATERING = {kind.name: kind for kind in shipped_kinds() if kind.watering}
GARDEN = WATERING["Garden controller, eight stations"]
WIZARD = WATERING["Wizard controller, six stations"]
BUILT_IN = WATERING["Controller with a built-in year, twelve stations"]
NOON = int(datetime(2027, 1, 20, 23, 0, tzinfo=UTC).timestamp())  # 12:00 on 21 January in New Zealand


def sheet(programs, kind=GARDEN, at=NOON, **more):
    plan = plan_for_kind(watering(programs, site=BAY, **more), kind)
    run = replay(plan, date(2027, 1, 1), date(2028, 1, 1))
    return {step.title: step for step in steps(plan, run, (), at, Words(), kind, run)}


def values(step):
    return {row.word: row.value for row in step.display.rows}


class TableTest(unittest.TestCase):
    def test_crop_coefficients_and_depletions_are_those_of_the_source(self):
        # FAO-56 table 12 (Kc mid: cool-season turf 0.95, warm-season 0.85; small vegetables 1.05; deciduous orchard
        # without cover 0.90) and table 22 (p: cool-season turf 0.40, warm-season 0.50); from memory.
        for name, crop, depletion in (
            ("lawn, cool-season grass", 0.95, 0.4),
            ("lawn, warm-season grass", 0.85, 0.5),
            ("vegetables", 1.05, 0.35),
            ("fruit trees, bare ground", 0.90, 0.5),
        ):
            with self.subTest(name):
                self.assertEqual((PLANTS[name].crop, PLANTS[name].depletion), (crop, depletion))

    def test_a_landscape_coefficient_is_the_product_of_the_guides_example(self):
        # Costello and others (2000): a moderate species (0.5) at low density (0.6) on a hot site (1.3) needs 0.39; from memory.
        self.assertEqual(landscape_coefficient(0.5, "sparse", "hot wall, paving, wind"), 0.39)

    def test_steeper_ground_holds_less_on_its_surface(self):
        for ground, slopes in SURFACE_MM.items():
            with self.subTest(ground):
                self.assertEqual(list(slopes.values()), sorted(slopes.values(), reverse=True))

    @given(
        plant=st.sampled_from(list(PLANTS.values())), ground=st.sampled_from(list(SURFACE_MM)),
        slope=st.integers(0, 3), head=st.sampled_from(list(HEADS.values())), density=st.sampled_from(list(DENSITY)),
        exposure=st.sampled_from(list(EXPOSURE)),
    )  # fmt: skip
    def test_what_the_tables_made_is_found_in_them_again(self, plant, ground, slope, head, density, exposure):
        crop = plant.crop if plant.school == "crop" else landscape_coefficient(plant.crop, density, exposure)
        name = list(SURFACE_MM[ground])[slope]
        station = Station(
            name="x", flow_l_min=10.0, rate_mm_h=head.rate_mm_h, du=head.du, crop=(crop,), soil=soil_of(plant, ground, name)
        )  # fmt: skip
        told = told_by(station)
        again = PLANTS[told.plant]
        found = (
            landscape_coefficient(again.crop, told.density, told.exposure)
            if again.school == "landscape"
            else again.crop
        )
        self.assertEqual((told.head, told.ground, found), (head.name, ground, crop))
        self.assertEqual(soil_of(again, told.ground, told.slope), station.soil)

    def test_the_usual_year_is_hargreaves_of_its_latitude(self):
        # FAO-56 example 8: 32.2 MJ at 20 S on 3 September, the 246th day; from memory.
        self.assertAlmostEqual(float(extraterrestrial_radiation(246.0, -20.0)), 32.2, delta=0.05)
        radiation = float(extraterrestrial_radiation(15.0, -40.0))
        year = usual_climate(-40.0)
        mean = 28.0 - 0.35 * 40 + 0.14 * 40
        self.assertAlmostEqual(year.et0_mm_day[0], float(hargreaves(mean - 5, mean + 5, radiation)), delta=0.06)
        north = usual_climate(40.0)
        self.assertGreater(north.et0_mm_day[6], north.et0_mm_day[0])
        self.assertGreater(year.et0_mm_day[0], year.et0_mm_day[6])


class KindTest(unittest.TestCase):
    def test_every_kind_that_waters_is_read_again_from_its_file(self):
        self.assertEqual(len(WATERING), 10)
        for kind in WATERING.values():
            with self.subTest(kind.name):
                self.assertEqual(read_kind(Node(kind.to_json())), kind)

    def test_a_kind_bounds_the_plan(self):
        plan = plan_for_kind(watering([program(["04:30"], [(1, 18)])], when_busy="ignore"), GARDEN)
        self.assertEqual((plan.water.limits.programs, plan.water.limits.starts, plan.water.when_busy), (3, 4, "queue"))
        outlets = plan_for_kind(watering([]), replace(GARDEN, watering=replace(GARDEN.watering, starts_for="station")))
        self.assertEqual((outlets.water.limits.stations, outlets.water.limits.programs), (1, 8))

    def test_water_and_switching_do_not_mix(self):
        switching = read_plan(Node(document([{"from": "18:00", "to": "22:00", "days": "daily"}])))
        weekly = next(kind for kind in shipped_kinds() if not kind.watering)
        hose = next(kind for name, kind in WATERING.items() if name.startswith("Hose"))
        for plan, kind in ((switching, GARDEN), (watering([]), weekly), (watering([]), hose)):
            with self.subTest(kind.name), self.assertRaises(PlanError):
                plan_for_kind(plan, kind)
        empty = read_plan(Node(document()))
        self.assertIsNotNone(plan_for_kind(empty, GARDEN).water)
        self.assertEqual(plan_for_kind(empty, GARDEN).channels, ())

    def test_a_run_by_both_percentages(self):
        exact, runs = Watering().shown(22, 130, 65)
        self.assertAlmostEqual(exact, 18.59)
        self.assertEqual(runs, 19)

    @given(st.lists(st.integers(0, 100), min_size=12, max_size=12))
    def test_a_curve_read_back_from_its_displays_is_that_curve(self, pct):
        curve = Curve(name="-", pct=tuple(map(float, pct)))
        self.assertEqual(read_back(100, displays(curve, 100)).pct, curve.pct)
        self.assertEqual(displays(curve, 60, 150)[0], int(0.9 * pct[0] + 0.5 + 1e-9))

    def test_twelve_displays_are_needed(self):
        with self.assertRaises(ValueError):
            read_back(20, (1.0, 2.0))


class SheetTest(unittest.TestCase):
    A = program(["04:30", "05:50"], [(1, 18), (2, 24)], days=["tue", "thu", "sat"])

    def test_the_total_by_the_season_and_as_the_unit_runs_it(self):
        self.assertIn("42 min in all", sheet([self.A])["Program A: run times"].say)
        say = sheet([self.A | {"adjust_pct": 130}])["Program A: season"].say
        self.assertIn("42 min become 54.6 min; this unit runs them as 54 min", say)
        self.assertIn("At 100 the % sign is off", sheet([self.A])["Program A: season"].say)

    def test_parts_stand_in_the_kinds_own_order(self):
        parts = [title.split(": ")[1] for title in sheet([self.A]) if title.startswith("Program A")]
        self.assertEqual(parts, ["starts", "run times", "days", "season"])
        wizard = [title.split(": ")[1] for title in sheet([self.A], WIZARD) if title.startswith("Program A")]
        self.assertEqual(wizard, ["days", "starts", "run times", "season"])

    def test_a_default_run_is_asked_first_and_is_that_of_most(self):
        runs = program(["04:30"], [(1, 12), (2, 12), (3, 24)])
        step = sheet([runs], WIZARD)["Run time for all"]
        self.assertEqual(values(step), {"all stations": "12 min"})

    def test_weekdays_are_emptied_before_dates_or_an_interval_act(self):
        even = sheet([program(["04:30"], [(1, 10)], days={"parity": "even"})])["Program A: days"]
        self.assertIn("Take every weekday out first", even.say)
        self.assertNotIn("weekday", sheet([self.A])["Program A: days"].say)

    def test_an_interval_says_from_when_it_counts(self):
        third = program(["04:30"], [(1, 10)], days={"every": 3, "from": "2027-01-01"})
        asked, keyed = (sheet([third], kind)["Program A: days"].say for kind in (GARDEN, WIZARD))
        # 21 January is no day of it; 22 January is the seventh after the first.
        self.assertIn("days are left until the next watering: Fri 22 Jan", asked)
        self.assertIn("key the interval on Fri 22 Jan", keyed)

    def test_months_show_what_each_makes_of_the_longest_run(self):
        months = self.A | {"monthly_pct": [100, 95, 80, 60, 0, 0, 0, 0, 50, 70, 85, 95]}
        rows = {row.word: row.detail for row in sheet([months])["Program A: months"].display.rows}
        self.assertEqual((rows["Jan"], rows["May"], rows["Feb"]), ("24 min", "off", "23 min (22.8)"))

    def test_a_unit_without_months_is_turned_by_hand(self):
        soil = {"available_mm_m": 130, "root_m": 0.25, "depletion": 0.5, "intake_mm_h": 12, "surface_mm": 6}
        lawn = {"name": "Lawn", "flow_l_min": 38.0, "rate_mm_h": 19.0, "crop": 1.0, "soil": soil}
        climate = {"et0_mm_day": [5.0] * 6 + [2.5] * 6, "rain_mm_day": [0.0] * 12}
        only = program(["04:30"], [(1, 18)])
        say = sheet([only], WIZARD, stations=[lawn], climate=climate)["Program A: season"].say
        self.assertIn("turn it by hand as they go, Jan 100, Feb 100", say)
        self.assertIn("Jul 50", say)
        self.assertNotIn("by hand", sheet([only], GARDEN, stations=[lawn], climate=climate)["Program A: season"].say)

    def test_marks_that_must_show_and_must_not(self):
        months = [0] + [100] * 11
        found = sheet(
            [self.A | {"adjust_pct": 130, "monthly_pct": months}], rain_delays=[{"at": "2027-01-01T08:00", "days": 3}]
        )
        watch = " ".join(found["All read back"].watch)
        for told in (
            "% shows: the season stands away from 100",
            "OFF does not show",
            "Jan is off for program A",
            "rain delay",
        ):
            self.assertIn(told, watch)
        self.assertIn("% does not show", " ".join(sheet([self.A])["All read back"].watch))

    def test_each_part_says_what_the_unit_does_so_far(self):
        found = sheet([self.A])
        told = [found[f"Program A: {part}"].watch[0] for part in ("starts", "run times", "days")]
        self.assertEqual(told[0], "So far it starts at 4:30 am, 5:50 am and runs nothing.")
        self.assertIn("on every day, 42 min each time", told[1])
        self.assertIn("on Tue, Thu, Sat", told[2])

    def test_the_display_of_a_built_in_year_is_warned_of(self):
        found = sheet([self.A], BUILT_IN)
        self.assertIn("its own curve", found["Program A: run times"].say)
        self.assertIn("nothing by hand while it is suspended", found["Walk the stations"].say)

    def test_other_programs_must_be_empty(self):
        self.assertIn("The other 2 programs: no start time", sheet([self.A])["The empty programs"].say)
        three = [self.A | {"name": name} for name in "ABC"]
        self.assertNotIn("The empty programs", sheet(three))

    def test_the_last_step_follows_the_runs(self):
        step = sheet([self.A])["Cover shut, valves seen"]  # Thursday noon: Saturday is next
        self.assertIn("Nothing must be running", step.say)
        self.assertEqual(step.watch[0], "Program A: 4:30 am, Sat 23 Jan, 42 min.")
        running = sheet([self.A], at=NOON + 40 * 3600 + 35 * 60)["Cover shut, valves seen"]
        self.assertIn("Station 1 must be running", running.say)
        self.assertGreater(len(running.spells), 3)

    def test_another_season_is_keyed_on_its_date(self):
        def seasonal(starts, between):
            return program(starts, [(1, 18)], days={"days": "daily", "between": between})

        found = sheet([seasonal(["04:30", "05:50"], ["10-01", "04-04"]), seasonal(["04:30"], ["04-05", "09-30"])])
        self.assertEqual(values(found["Program A: starts"]), {"start 1": "4:30 am", "start 2": "5:50 am"})
        titles = [title for title in found if title.startswith("Key anew")]
        self.assertEqual(len(titles), 1, titles)
        step = found[titles[0]]
        self.assertEqual(step.watch, ("Program A: 4:30 am on every day; station 1 18 min",))

    def test_a_winter_is_laid_up_and_started_up(self):
        winter = {"from": "05-15", "days": 119}
        at = {month: NOON + (day_number(date(2027, month, 1)) - NOON // 86_400) * 86_400 for month in (1, 5, 6, 9)}
        for month, down, up in ((1, False, False), (5, True, False), (6, True, False), (9, False, True)):
            found = sheet([self.A], lay_up=winter, at=at[month])
            with self.subTest(month=month):
                self.assertEqual(("Laying up for the winter" in found, "Starting up again" in found), (down, up))
        self.assertTrue(sheet([self.A], lay_up=winter, at=at[5])["Laying up for the winter"].caution)

    def test_every_kind_has_a_whole_sheet(self):
        for kind in WATERING.values():
            with self.subTest(kind.name):
                found = sheet([program(["04:30"], [(1, 10)])], kind, stations=[{"name": "One", "flow_l_min": 10}])
                self.assertEqual([s.title for s in found.values() if s.refused], [])
                self.assertTrue(all(step.key for step in found.values()))
                for title in (
                    "The stations",
                    "Program A: starts",
                    "All read back",
                    "The mode",
                    "Cover shut, valves seen",
                ):
                    self.assertIn(title, found)


if __name__ == "__main__":
    unittest.main()
