"""Volts at lamps: against tables of conductors and of voltage drop, a worked chain, and Kirchhoff's law."""

import json
import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from skavit.core.ground.errors import PlanError, UserError
from skavit.core.ground.strict_json import Node
from skavit.core.load.cable import awg_mm, ohm_km, volts
from skavit.core.plan.load import Cable, LampRun
from skavit.core.tests.commanding import CommandTest


def chain(vas, metres, **more):
    lamps = [{"va": va} for va in vas]
    cables = [{"a": n, "b": n + 1, "m": m} for n, m in enumerate(metres)]
    return {"supply_v": 12, "cable": {"mm2": 2.5}, "lamps": lamps, "cables": cables, **more}


def run(raw):
    return LampRun.read(Node(raw))


class ConductorTest(unittest.TestCase):
    def test_values_of_iec_60228(self):
        # IEC 60228:2004, tables 2 and 3, ohm a km at 20 degrees.
        for mm2, class_2, class_5 in (
            (1.5, 12.1, 13.3),
            (2.5, 7.41, 7.98),
            (4, 4.61, 4.95),
            (6, 3.08, 3.30),
            (16, 1.15, 1.21),
        ):
            self.assertEqual(ohm_km(Cable(mm2=mm2)), class_2)
            self.assertEqual(ohm_km(Cable(mm2=mm2, conductor=5)), class_5)

    def test_diameters_of_astm_b258(self):
        # ASTM B258, nominal diameters in inches.
        for gauge, inch in ((-3, 0.4600), (0, 0.3249), (8, 0.1285), (10, 0.1019), (12, 0.0808), (14, 0.0641), (18, 0.0403), (36, 0.0050)):  # fmt: skip
            self.assertAlmostEqual(awg_mm(gauge) / 25.4, inch, places=4)

    def test_ohm_a_thousand_feet_of_the_handbook(self):
        # NFPA 70 (NEC), chapter 9, table 8: direct current, uncoated copper, solid, 75 degrees, ohm a thousand feet. From memory.
        for gauge, ohm in ((14, 3.07), (12, 1.93), (10, 1.21)):
            self.assertAlmostEqual(ohm_km(Cable(awg=gauge), 75) * 0.3048, ohm, delta=0.005 * ohm)

    def test_millivolts_an_ampere_and_metre_of_the_handbook(self):
        # BS 7671, appendix 4, table 4D1B, two-core cable at 70 degrees, mV/A/m. From memory.
        for mm2, millivolts in ((1.5, 29), (2.5, 18), (4, 11), (6, 7.3), (10, 4.4), (16, 2.8)):
            self.assertAlmostEqual(2 * ohm_km(Cable(mm2=mm2), 70), millivolts, delta=0.02 * millivolts)


class NetworkTest(unittest.TestCase):
    def test_a_chain_worked_by_hand(self):
        # 2.5 mm2, 14.82 milliohm a metre out and back. 3 A over 10 m, then 1 A over 20 m.
        found = volts(run(chain([24, 12], [10, 20])))
        self.assertAlmostEqual(found.lamps[0], 12 - 3 * 0.1482)
        self.assertAlmostEqual(found.lamps[1], 12 - 3 * 0.1482 - 0.2964)
        self.assertAlmostEqual(found.supply_a, 3)
        self.assertAlmostEqual(found.va, 36)

    def test_lamps_of_constant_power_take_what_they_say(self):
        raw = chain([20, 20, 30], [8, 8, 8], load="power")
        found = volts(run(raw))
        amperes = np.array([20, 20, 30]) / found.lamps
        self.assertAlmostEqual(found.supply_a, amperes.sum())
        self.assertAlmostEqual(found.lamps[0], 12 - amperes.sum() * 8 * 2 * 7.41 / 1000)
        self.assertLess(found.lamps[2], volts(run(chain([20, 20, 30], [8, 8, 8]))).lamps[2])

    def test_a_cable_that_cannot_carry_constant_power_is_told(self):
        with self.assertRaisesRegex(UserError, "breaks down"):
            volts(run(chain([100], [80], load="power")))

    @given(
        st.lists(st.tuples(st.integers(0, 60), st.integers(1, 40), st.integers(0, 1000)), min_size=2, max_size=20),
        st.data(),
    )
    def test_kirchhoff_at_each_lamp_of_any_tree_with_a_loop(self, lamps, data):
        cables = [{"a": where % (n + 1), "b": n + 1, "m": m} for n, (_, m, where) in enumerate(lamps)]
        cables.append({"a": len(lamps), "b": 0, "m": data.draw(st.integers(1, 50))})
        raw = chain([], []) | {"lamps": [{"va": va} for va, _, _ in lamps], "cables": cables}
        found = volts(run(raw))
        at = np.concatenate([[12.0], found.lamps])
        into = np.zeros(len(at))
        for cable in cables:
            amperes = (at[cable["a"]] - at[cable["b"]]) / (2 * cable["m"] * 7.41e-3)
            into[cable["b"]] += amperes
            into[cable["a"]] -= amperes
        self.assertTrue(np.allclose(into[1:], [va / 12 for va, _, _ in lamps], atol=1e-6))
        self.assertAlmostEqual(found.supply_a, sum(va for va, _, _ in lamps) / 12, places=6)


class RefusedTest(CommandTest):
    def test_paths(self):
        for change, path in (
            ({"lamps": []}, "lamps"),
            ({"cables": [{"a": 0, "b": 3, "m": 1}]}, "cables[0].b"),
            ({"cables": [{"a": 1, "b": 2, "m": 5}]}, "cables"),
            ({"cables": [{"a": 0, "b": 1, "m": 0}, {"a": 1, "b": 2, "m": 5}]}, "cables[0].m"),
            ({"cables": [{"a": 1, "b": 1, "m": 2}]}, "cables[0].b"),
            ({"cable": {"mm2": 3}}, "cable.mm2"),
            ({"cable": {"mm2": 2.5, "awg": 12}}, "cable"),
            ({"cable": {"awg": 12, "class": 2}}, "cable.class"),
            ({"cable": {"mm2": 2.5, "class": 3}}, "cable.class"),
            ({"load": "lamps"}, "load"),
            ({"lamps": [{"va": 1}] * 1001}, "lamps"),
        ):
            with self.subTest(path=path), self.assertRaises(PlanError) as told:
                run(chain([10, 10], [5, 5]) | change)
            self.assertEqual(told.exception.path, path)
        raw = chain([10], [5])
        del raw["cable"]
        with self.assertRaisesRegex(PlanError, r"^cables\[0\].cable: is missing"):
            run(raw)

    def test_the_call(self):
        found = self.prints("volts", self.file("run.json", json.dumps(chain([12], [10]))))
        self.assertEqual(found["va"], 12)
        self.assertIn("cables", self.refuses("volts", self.file("bad.json", json.dumps(chain([12], [])))))
