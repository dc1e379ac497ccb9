"""Each finding of watering: where it shows, where it does not, and that its remedy mends it."""

import unittest
from datetime import date

from skavit.core.findings import audit, read_kept
from skavit.core.plan.document import Plan
from skavit.core.simulation.replay import replay
from skavit.core.tests.builders import BAY
from skavit.core.tests.test_fit_water import CLIMATE, LIMITS, SHRUBS
from skavit.core.tests.test_soil import station
from skavit.core.tests.test_stack import STATIONS, program, watering
from skavit.core.text.wording import PLAIN
from skavit.core.water.fitting import fit_water

FIRST, LAST = date(2027, 1, 1), date(2027, 12, 31)


def found_in(plan: Plan):
    return audit(replay(plan, FIRST, LAST))


class FindingCase(unittest.TestCase):
    def found(self, code, programs, **more):
        """The findings of one code in a plan at the bay; each can be kept and read again."""
        self.plan = watering(programs, **({"site": BAY} | more))
        every = found_in(self.plan)
        self.assertEqual([read_kept(f.kept()).message for f in every], [f.message for f in every])
        return [finding for finding in every if finding.code == code]

    def mended(self, finding):
        """That the remedy of a finding takes it away; gives the programs after it."""
        self.assertIsNotNone(finding.remedy)
        after = finding.remedy.applied(self.plan)
        self.assertNotIn(finding.code, [other.code for other in found_in(after)])
        return after.water.programs


class StartsTest(FindingCase):
    RUNS = [(1, 20), (2, 20)]

    def test_a_start_that_stacks_at_140_percent(self):
        calm = [program(["04:00", "04:45"], self.RUNS)]
        self.assertEqual(self.found("starts-stack", calm), [])
        (finding,) = self.found("starts-stack", [program(["04:00", "04:45"], self.RUNS, adjust_pct=140)])
        self.assertEqual(finding.headline, "The 04:45 start of program A waits up to 11 min, 365 times")
        self.assertIn("At 140 %", finding.why)
        self.assertEqual([str(at) for at in self.mended(finding)[0].starts], ["04:00", "04:56"])

    def test_a_start_that_is_lost(self):
        (finding,) = self.found("start-lost", [program(["04:00", "04:30"], self.RUNS)], when_busy="ignore")
        self.assertEqual(finding.days, 365)
        self.assertEqual([str(at) for at in self.mended(finding)[0].starts], ["04:00", "04:40"])

    def test_no_remedy_where_it_would_water_after_the_hours(self):
        hours = [{"from": "04:00", "to": "05:20"}]
        (finding,) = self.found("starts-stack", [program(["04:00", "04:30"], self.RUNS)], allowed=hours)
        self.assertIsNotNone(finding.remedy)
        (finding,) = self.found("starts-stack", [program(["23:00", "23:30"], self.RUNS)])
        self.assertIsNotNone(finding.remedy)
        (finding,) = self.found("starts-stack", [program(["23:20", "23:50"], self.RUNS)])
        # Ten minutes later it would be another day's: the first one moves.
        self.assertEqual([str(at) for at in self.mended(finding)[0].starts], ["23:10", "23:50"])
        (finding,) = self.found(
            "starts-stack", [program(["23:20", "23:50"], self.RUNS)], allowed=[{"from": "23:20", "to": "01:00"}]
        )
        self.assertIsNone(finding.remedy)

    def test_all_that_collide_are_moved_at_once(self):
        three = [program(["04:00", "04:10"], self.RUNS), program(["04:20"], self.RUNS, name="B")]
        found = self.found("starts-stack", three)
        self.assertEqual(len(found), 2)
        programs = self.mended(found[0])
        self.assertEqual([[str(at) for at in p.starts] for p in programs], [["04:00", "04:40"], ["05:20"]])
        self.assertEqual(found[0].remedy.text(PLAIN), "Program A: start at 04:00, 04:40; Program B: start at 05:20")

    def test_programs_of_other_days_stay(self):
        pair = [
            program(["04:00", "04:30"], self.RUNS, ["mon", "wed"]),
            program(["04:20"], self.RUNS, ["tue"], name="B"),
        ]
        (finding,) = self.found("starts-stack", pair)
        self.assertEqual([str(p.starts[0]) for p in self.mended(finding)], ["04:00", "04:20"])

    def test_what_waits_for_a_run_by_hand_is_told_of_the_hand(self):
        done = [{"at": "2027-06-01T03:50", "station": 3, "run_min": 25}]
        (finding,) = self.found("starts-stack", [program(["04:00"], self.RUNS)], by_hand=done)
        self.assertEqual(finding.headline, "What was run by hand holds up 1 start, up to 15 min")
        self.assertIsNone(finding.remedy)
        (finding,) = self.found("start-lost", [program(["04:00"], self.RUNS)], by_hand=done, when_busy="ignore")
        self.assertEqual(finding.headline, "What was run by hand costs 1 start")
        own = [{"at": "2027-06-01T04:05", "program": 1}]
        self.assertEqual(self.found("starts-stack", [program(["04:00"], self.RUNS)], by_hand=own), [])


class HoursTest(FindingCase):
    HOURS = [{"from": "20:00", "to": "09:00"}]

    def test_water_outside_the_hours(self):
        (finding,) = self.found("outside-allowed", [program(["08:30"], [(1, 40)])], allowed=self.HOURS)
        self.assertIn("up to 10 min, on 365 days", finding.headline)
        self.assertEqual(finding.why, "36.5 m³ flow then.")
        self.assertEqual([str(at) for at in self.mended(finding)[0].starts], ["08:20"])
        self.assertEqual(self.found("outside-allowed", [program(["08:20"], [(1, 40)])], allowed=self.HOURS), [])
        noon = [{"at": "2027-06-01T12:00", "station": 2, "run_min": 10}]
        (finding,) = self.found("outside-allowed", [program(["08:20"], [(1, 40)])], allowed=self.HOURS, by_hand=noon)
        self.assertEqual(
            finding.headline, "What was run by hand waters outside the allowed hours, up to 10 min, on 1 day"
        )

    def test_an_interval_that_drifts_onto_a_forbidden_day(self):
        even = [{"from": "20:00", "to": "09:00", "days": {"parity": "even"}}]
        every = program(["21:00"], [(1, 30)], {"every": 2, "from": "2027-01-02"})
        (finding,) = self.found("interval-drifts", [every], allowed=even)
        self.assertIn("comes onto", finding.headline)
        self.assertGreater(finding.days, 100)
        self.assertEqual(finding.first, date(2027, 2, 1))  # from 30 January two days on
        kept = program(["21:00"], [(1, 30)], {"parity": "even"})
        self.assertEqual(self.found("interval-drifts", [kept], allowed=even), [])

    def test_more_than_the_supply_gives(self):
        two = [program(["04:00"], [(2, 30)]), program(["04:20"], [(3, 30)])]
        (finding,) = self.found("over-flow", two, when_busy="parallel", supply_l_min=45)
        self.assertEqual(finding.headline, "Station 2 and Station 3 together need 50 l/min, the supply gives 45 l/min")
        self.assertIn("from 04:20 to 04:30", finding.why)
        self.assertEqual([str(p.starts[0]) for p in self.mended(finding)], ["04:00", "04:30"])
        self.assertEqual(self.found("over-flow", two, when_busy="parallel", supply_l_min=50), [])
        self.assertEqual(self.found("over-flow", two, supply_l_min=45), [])

    def test_a_station_that_needs_more_than_the_supply_gives(self):
        two = [program(["04:00"], [(2, 30)]), program(["05:20"], [(3, 30)])]
        flows = [station.flow_l_min for station in watering(two, site=BAY).water.stations]
        (finding,) = self.found("over-flow", two, supply_l_min=max(flows) - 1)
        self.assertEqual(finding.headline, "Station 3 alone needs 30 l/min, the supply gives 29 l/min")
        self.assertIn("from 05:20 to 05:50", finding.why)
        self.assertIsNone(finding.remedy)

    def test_odd_days_twice(self):
        (finding,) = self.found("odd-twice", [program(["04:00"], [(1, 30)], {"parity": "odd"})])
        self.assertEqual(finding.days, 6)  # six of the months that follow one of 31 days; the seventh is next year's
        self.assertEqual(self.found("odd-twice", [program(["04:00"], [(1, 30)], {"parity": "even"})]), [])

    def test_two_programs_on_days_that_follow_each_other(self):
        pair = [program(["04:00"], [(1, 10)], ["mon"]), program(["05:00"], [(1, 10)], ["tue"], name="B")]
        (finding,) = self.found("two-days-running", pair)
        self.assertIn("Programs A and B", finding.why)
        apart = [pair[0], pair[1] | {"days": ["wed"]}]
        self.assertEqual(self.found("two-days-running", apart), [])


class GroundTest(FindingCase):
    KNOWN = {"stations": [station()], "climate": CLIMATE}

    def test_a_run_that_runs_off_is_split(self):
        (finding,) = self.found(
            "runs-off", [program(["04:00"], [(1, 65)], {"every": 5, "from": "2027-01-01"})], **self.KNOWN
        )
        self.assertEqual(finding.headline, "Lawn: 65 min in program A, after 51 min water runs off")
        self.assertEqual(
            finding.remedy.text(PLAIN),
            "Program A: each run in 2 parts, 63 min from start to start, at least 30 min to soak in between",
        )
        (after,) = self.mended(finding)
        self.assertEqual([run.run_min for run in after.runs], [33])
        self.assertEqual([str(at) for at in after.starts], ["04:00", "05:03"])

    def test_a_soak_that_is_too_short(self):
        (finding,) = self.found("runs-off", [program(["04:00", "04:50"], [(1, 33)])], **self.KNOWN)
        self.assertEqual(finding.headline, "Lawn: 17 min between two runs, the ground needs 30")
        self.assertEqual([str(at) for at in self.mended(finding)[0].starts], ["04:00", "05:03"])

    def test_the_share_of_a_month_stands_beside_what_was_keyed(self):
        shares = [100, 130, *[100] * 10]
        every = {"every": 5, "from": "2027-01-01"}
        (finding,) = self.found("runs-off", [program(["04:00"], [(1, 45)], every, monthly_pct=shares)], **self.KNOWN)
        self.assertEqual(finding.headline, "Lawn: 45 min in program A, at 130 % in Feb 59, after 51 min water runs off")

    def test_both_of_two_starts_are_split(self):
        (finding,) = self.found("runs-off", [program(["04:00", "20:00"], [(1, 60)])], **self.KNOWN)
        after = self.mended(finding)[0]
        self.assertEqual([str(at) for at in after.starts], ["04:00", "05:00", "20:00", "21:00"])

    def test_a_run_by_hand_is_not_named_after_a_program(self):
        done = [{"at": "2027-06-01T12:00", "station": 1, "run_min": 65}]
        (finding,) = self.found("runs-off", [program(["04:00"], [(1, 30)])], by_hand=done, **self.KNOWN)
        self.assertEqual(finding.headline, "Lawn: run by hand for 65 min, after 51 min water runs off")
        self.assertIsNone(finding.remedy)

    def test_too_dry_and_the_least_longer_run(self):
        every = {"every": 3, "from": "2027-01-01"}
        (finding,) = self.found("too-dry", [program(["04:00"], [(1, 25)], every)], **self.KNOWN)
        self.assertIn("Dec", finding.why)
        (after,) = self.mended(finding)
        self.assertGreater(after.runs[0].run_min, 25)
        less = watering([program(["04:00"], [(1, after.runs[0].run_min - 1)], every)], site=BAY, **self.KNOWN)
        self.assertIn("too-dry", [f.code for f in found_in(less)])

    def test_no_longer_run_where_that_runs_off(self):
        every = {"every": 5, "from": "2027-01-01"}
        (finding,) = self.found("too-dry", [program(["04:00"], [(1, 30)], every)], **self.KNOWN)
        self.assertIsNone(finding.remedy)

    def test_too_wet(self):
        (finding,) = self.found("too-wet", [program(["04:00"], [(1, 33)])], **self.KNOWN)
        self.assertRegex(finding.headline, r"gets \d+\.\d times the water")

    def test_three_times_the_need_is_told_first_in_litres_and_money_and_mended(self):
        (finding,) = self.found("too-wet", [program(["04:00"], [(1, 45)])], price_m3=3.0, **self.KNOWN)
        litres = finding.facts.litres
        self.assertEqual(finding.facts.cost, litres / 1000 * 3.0)
        self.assertIn("in money", finding.why)
        self.assertEqual(found_in(self.plan)[0].code, "too-wet")
        (after,) = self.mended(finding)
        self.assertLess(after.runs[0].run_min, 45)
        self.assertRegex(finding.remedy.text(PLAIN), r"^Water by need: .* a year less$")
        then = [f.code for f in found_in(finding.remedy.applied(self.plan))]
        self.assertNotIn("too-dry", then)

    def test_a_fit_gives_none_of_them(self):
        plan = watering([], site=BAY, stations=[station(), SHRUBS], climate=CLIMATE, limits=LIMITS)
        fitted = fit_water(plan, 2027)
        self.assertEqual(fitted.losses, ())
        self.assertEqual([f.code for f in found_in(fitted.plan)], [])


class LimitsTest(FindingCase):
    def test_a_run_that_the_unit_cannot_hold(self):
        (finding,) = self.found("run-too-long", [program(["04:00"], [(1, 99)])], limits={"run_max_min": 60})
        self.assertEqual(finding.headline, "Program A, Station 1: 99 min, the unit holds 60")

    def test_a_run_that_rounds_to_nothing(self):
        months = [100] * 6 + [20] + [100] * 5
        (finding,) = self.found("rounded-away", [program(["04:00"], [(1, 2)], monthly_pct=months)])
        self.assertIn("round to nothing in Jul", finding.headline)
        self.assertEqual((finding.first, finding.days), (date(2027, 7, 1), 31))
        off = [100] * 6 + [0] + [100] * 5
        self.assertEqual(self.found("rounded-away", [program(["04:00"], [(1, 2)], monthly_pct=off)]), [])

    def test_a_percentage_that_was_left(self):
        (finding,) = self.found("left-high", [program(["04:00"], [(1, 20)], adjust_pct=140)])
        self.assertEqual(self.mended(finding)[0].adjust_pct, 100)
        self.assertEqual(self.found("left-high", [program(["04:00"], [(1, 20)])]), [])

    def test_stations_that_need_nothing_known(self):
        """Programs of stations of which nothing is known but their flow give no finding of need."""
        self.assertEqual(self.found("too-dry", [program(["04:00"], [(1, 1)])], stations=STATIONS, climate=CLIMATE), [])
