"""What hangs on the contacts: ratings, the ways that mend a run of lamps, contact logic, hot water, and what is said of them."""

import itertools
import unittest
from dataclasses import replace
from datetime import date

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from skavit.core.findings import audit, read_kept
from skavit.core.ground.spans import EMPTY, Spans
from skavit.core.ground.strict_json import Node
from skavit.core.load.cable import volts
from skavit.core.load.demands import demand, power
from skavit.core.load.doubts import unusual
from skavit.core.load.heaters import hot_water
from skavit.core.load.logic import LOGIC, state_of, tests_of
from skavit.core.load.remedies import copper_kg, in_band, load_remedies, size_up
from skavit.core.plan.contact import Contact
from skavit.core.plan.document import read_plan
from skavit.core.plan.load import SORTS, Cable, Draw, Load, Store
from skavit.core.plan.times import ClockTime, day_number
from skavit.core.sheet import steps
from skavit.core.simulation.handover import handover
from skavit.core.simulation.replay import replay
from skavit.core.site.clock import zone_clock
from skavit.core.tests.builders import document, entry, window
from skavit.core.tests.test_cable import chain, run
from skavit.core.text.wording import PLAIN

YEAR = date(2027, 1, 1), date(2027, 12, 31)
FAR = chain([8] * 7, [40, 6, 6, 6, 6, 6, 6])


def with_load(load, contact=None, **unit):
    rows = [window("18:00", "22:00")], [entry("on", "18:00"), entry("off", "22:00")]
    raw = document(*rows, **unit, **({"contact": contact} if contact else {}))
    raw["channels"][0]["load"] = load
    return read_plan(Node(raw))


def codes(plan):
    return {finding.code: finding for finding in audit(replay(plan, *YEAR))}


class LampsTest(unittest.TestCase):
    LOAD = {"sort": "transformer", "run": FAR, "taps_v": [12, 13], "low_v": 10.8, "high_v": 12.5}

    def test_seven_lamps_at_the_far_end_of_thin_cable(self):
        plan = with_load(self.LOAD)
        found = codes(plan)
        self.assertEqual(set(found), {"volts-low"})
        low = found["volts-low"]
        self.assertIn("7 lamps out of band, worst lamp 7 with 8.0 V", low.message)
        # By hand: 56 VA are 4.667 A through 40 m of 14.82 milliohm a metre, then one lamp less on each 6 m.
        self.assertAlmostEqual(volts(run(FAR)).lamps[0], 12 - 56 / 12 * 40 * 14.82e-3)
        mended = low.remedy.applied(plan)
        self.assertEqual(codes(mended), {})
        self.assertIn("every lamp", low.remedy.label)

    def test_a_tap_alone_comes_first_and_costs_no_copper(self):
        load = with_load(self.LOAD | {"run": chain([5, 5], [30, 10]), "low_v": 11.7, "high_v": 13}).channels[0].load
        first, *_ = load_remedies(load)
        self.assertEqual((first.text, first.copper_kg, first.run.supply_v), ("the 13 V tap", 0, 13))

    @given(
        st.lists(st.tuples(st.integers(1, 12), st.integers(2, 30)), min_size=1, max_size=8),
        st.sampled_from([{"mm2": 1.5}, {"mm2": 4}, {"awg": 14}]),
    )
    @settings(max_examples=40)
    def test_each_way_is_within_the_band_and_the_least_copper_stands_first(self, lamps, cable):
        raw = chain([va for va, _ in lamps], [m for _, m in lamps], cable=cable)
        load = Load(run=run(raw), low_v=10.5, high_v=12.5, taps_v=(12.0, 13.0, 14.0))
        found = load_remedies(load)
        for remedy in found:
            self.assertIsNotNone(in_band(remedy.run, (10.5, 12.5)))
            self.assertAlmostEqual(copper_kg(remedy.run) - copper_kg(load.run), remedy.copper_kg)
        # To the milligram: the same copper added up in another order differs in its last bits.
        weights = [round(remedy.copper_kg, 6) for remedy in found]
        self.assertEqual(weights, sorted(weights))
        self.assertEqual(
            [sum(lamp.va for lamp in remedy.run.lamps) for remedy in found], [sum(va for va, _ in lamps)] * len(found)
        )

    def test_too_near_to_a_high_tap(self):
        high = chain([5, 5], [2, 2], supply_v=14)
        self.assertEqual(set(codes(with_load(self.LOAD | {"run": high, "taps_v": []}))), {"volts-high"})

    def test_sizes(self):
        self.assertEqual(size_up(Cable(mm2=2.5), 1), Cable(mm2=4.0))
        self.assertEqual(size_up(Cable(awg=12), 1), Cable(awg=10))
        self.assertIsNone(size_up(Cable(mm2=630.0), 1))


class RatingTest(unittest.TestCase):
    def test_four_fifths_of_a_transformer(self):
        # 56 VA: at 80 % of 70 none, of 69 a warning, of 50 a danger.
        for rating, severity in ((70, None), (69, "warning"), (50, "danger")):
            found = codes(with_load({"sort": "transformer", "run": chain([8] * 7, [1] * 7), "rating_va": rating}))
            self.assertEqual(found["over-load"].severity if severity else None, severity)

    def test_a_contact_carries_less_of_leds(self):
        load = {"sort": "lamps", "watts": 900, "character": "led"}  # 3.9 A at 230 V
        self.assertIn("over-contact", codes(with_load(load, {"resistive_a": 16})))
        self.assertNotIn("over-contact", codes(with_load(load | {"character": "resistive"}, {"resistive_a": 16})))
        self.assertNotIn("over-contact", codes(with_load(load, {"resistive_a": 16, "led_a": 5})))
        self.assertNotIn("over-contact", codes(with_load(load)))

    def test_one_power_from_lamps_from_the_heater_or_as_typed(self):
        self.assertEqual(power(Load(watts=400.0)), 400)
        self.assertIsNone(power(Load()))
        heater = Store(litres=180.0, heater_w=3000.0)
        self.assertEqual(power(Load(sort="heater", watts=1200.0, store=heater)), 3000)
        lamps = Load.read(Node({"watts": 99, "run": chain([8] * 3, [0.01] * 3)}))
        self.assertAlmostEqual(power(lamps), 24, delta=0.5)

    def test_current(self):
        found = demand(Load(watts=460.0, character="inductive"), Contact(resistive_a=10))
        self.assertEqual((found.amperes, found.carries_a), (2, 4))

    def test_a_pin_from_the_factory(self):
        plan = with_load({}, pin="factory")
        note = codes(plan)["pin-factory"]
        self.assertEqual((note.severity, codes(note.remedy.applied(plan))), ("note", {}))

    def test_what_is_kept_reads_back(self):
        load = LampsTest.LOAD | {"rating_va": 50, "wired": "closed", "character": "led"}
        for finding in audit(replay(with_load(load, {"resistive_a": 0.5}, pin="factory"), *YEAR)):
            self.assertEqual(read_kept(finding.kept()).message, finding.message)


class LogicTest(unittest.TestCase):
    def test_every_sort_of_load_is_told_whole(self):
        self.assertEqual(set(LOGIC), set(SORTS))
        for sort, logic in LOGIC.items():
            with self.subTest(sort=sort):
                self.assertIn(logic.contact, ("open", "closed"))
                for text in (logic.name, logic.on, logic.off, logic.power_lost, logic.timer_dead, logic.caution):
                    self.assertTrue(text)
                tests = tests_of(logic, logic.contact)
                self.assertEqual(tests[:2], (f"Relay off by hand: {logic.off}.", f"Relay on by hand: {logic.on}."))
                self.assertEqual(state_of(logic, logic.contact, relay_on=True), logic.on)
                other = "closed" if logic.contact == "open" else "open"
                self.assertEqual(state_of(logic, other, relay_on=True), logic.off)

    def test_a_lock_that_holds_with_power(self):
        magnet = LOGIC["lock-holds"]
        self.assertEqual(
            (magnet.contact, magnet.power_lost, magnet.on), ("closed", "the door is free", "the door is free")
        )
        plan = with_load({"sort": "lock-holds", "wired": "open", "escape": True})
        wrong = codes(plan)["wrong-contact"]
        self.assertEqual(wrong.severity, "danger")
        self.assertIn("escape route", wrong.message)
        self.assertEqual(wrong.remedy.applied(plan).channels[0].load.wired, "closed")
        self.assertEqual(codes(with_load({"sort": "lock-holds", "wired": "closed", "escape": True})), {})


class WiringTest(unittest.TestCase):
    def test_the_wiring_and_what_is_tried_say_the_same_on_either_contact(self):
        for sort, wired in itertools.product(SORTS, ("open", "closed")):
            with self.subTest(sort=sort, wired=wired):
                logic = LOGIC[sort]
                off, on = (state_of(logic, wired, relay_on=relay) for relay in (False, True))
                plan = with_load({"sort": sort, "wired": wired})
                instant = int(
                    zone_clock("Pacific/Auckland", 2026, 2028).first(np.array([day_number(date(2027, 6, 1)) * 86_400]))[
                        0
                    ]
                )
                sheet = {
                    s.title.split(":")[0]: s
                    for s in steps(plan, replay(plan, *YEAR), handover(plan, instant), instant, PLAIN)
                }
                self.assertIn(f"the normally {wired} contact", sheet["Wiring"].say)
                self.assertEqual(sheet["Wiring"].watch[:2], (f"Relay off: {off}.", f"Relay on: {on}."))
                self.assertEqual(sheet["Try it"].watch[:2], (f"Relay off by hand: {off}.", f"Relay on by hand: {on}."))
                self.assertEqual("the other contact" in sheet["Wiring"].say, wired != logic.contact)


class HotWaterTest(unittest.TestCase):
    CLOCK = zone_clock("Pacific/Auckland", 2026, 2028)
    FIRST, LAST = day_number(date(2027, 6, 1)), day_number(date(2027, 6, 10))

    def store(self, **more):
        draws = (Draw(at=ClockTime(7 * 3600), litres=100.0), Draw(at=ClockTime(19 * 3600), litres=60.0))
        return Store(**{"litres": 180.0, "heater_w": 3000.0, "draws": draws} | more)

    def heated(self, *hours):
        days = np.arange(self.FIRST, self.LAST + 1)
        on, off = (
            np.sort(np.concatenate([self.CLOCK.first(days * 86400 + hour[side] * 3600) for hour in hours]))
            for side in (0, 1)
        )
        return Spans(on, off)

    def test_enough_and_short(self):
        # 160 litres a day by 45 K are 160 x 45 / 860 = 8.37 kWh: 3 kW need 2.8 hours.
        enough = hot_water(self.store(), self.heated((2, 5)), self.CLOCK, self.FIRST, self.LAST)
        self.assertEqual(enough.short.size, 0)
        short = hot_water(self.store(), self.heated((2, 4)), self.CLOCK, self.FIRST, self.LAST)
        self.assertGreater(short.short.size, 0)
        # In the long run two hours give 6 of 8.37 kWh; the evening lacks what is not there.
        self.assertAlmostEqual(short.worst_litres, 160 - 6 * 860 / 45, delta=1)
        self.assertEqual(short.worst_at_s, 19 * 3600)

    def test_a_loss_takes_its_part_and_no_heat_leaves_nothing(self):
        lossy = hot_water(self.store(loss_w=200.0), self.heated((2, 5)), self.CLOCK, self.FIRST, self.LAST)
        self.assertGreater(lossy.short.size, 0)
        none = hot_water(self.store(), EMPTY, self.CLOCK, self.FIRST, self.LAST)
        self.assertEqual((none.heated.size, none.short.size), (0, 9))

    def test_the_heater_takes_what_is_drawn_and_lost_however_long_it_is_on(self):
        # Ten days of 160 litres by 45 K: 1,600 x 4,186 x 45 J, and 50 W for 240 hours; from full to full by midnight.
        wanted = 1600 * 4186 * 45 / 3.6e6 + 0.05 * 240
        for hours in ([(0, 24)], [(2, 5), (19, 23)], [(1, 8), (18, 24)]):
            with self.subTest(hours=hours):
                found = hot_water(self.store(loss_w=50.0), self.heated(*hours), self.CLOCK, self.FIRST, self.LAST)
                self.assertAlmostEqual(found.kwh, wanted, delta=0.2)
        self.assertEqual(hot_water(self.store(), EMPTY, self.CLOCK, self.FIRST, self.LAST).kwh, 0)

    def test_what_is_asked_about(self):
        usual = Load(sort="heater", store=self.store())
        self.assertEqual(unusual(usual, PLAIN), [])
        weak = Load(sort="heater", store=self.store(heater_w=30.0))  # a slip for 3,000
        # 180 litres by 45 K at 30 W are 1,130,220 s: 314 hours.
        ((path, sentence),) = unusual(weak, PLAIN)
        self.assertEqual((path, sentence), ("store.heater_w", "From cold it would take 13 d 1 h."))
        self.assertIn("never", unusual(Load(store=self.store(loss_w=3000.0)), PLAIN)[0][1])
        draws = (Draw(at=ClockTime(0), litres=5000.0),)
        self.assertEqual(unusual(Load(store=self.store(draws=draws)), PLAIN)[0][0], "store.draws")

    def test_the_finding(self):
        store = {"litres": 180, "heater_w": 3000, "draws": [{"at": "07:00", "litres": 250}]}
        found = codes(with_load({"sort": "heater", "store": store}))["store-short"]
        self.assertIn("70 litres of hot water lack at 07:00", found.message)
        enough = {**store, "draws": [{"at": "07:00", "litres": 150}]}
        self.assertNotIn("store-short", codes(with_load({"sort": "heater", "store": enough})))


class PlanTest(unittest.TestCase):
    def test_a_load_reads_back_and_goes_with_its_channel(self):
        plan = with_load(LampsTest.LOAD, {"resistive_a": 16})
        self.assertEqual(read_plan(Node(plan.to_json())), plan)
        self.assertEqual(plan.of_channels([1]).channels[0].load, plan.channels[0].load)
        self.assertNotEqual(
            replace(plan, channels=(replace(plan.channels[0], load=None),)).content_hash(), plan.content_hash()
        )
