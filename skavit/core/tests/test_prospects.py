"""What each mode means now, against the replay of the plan with that override; hand-over's warnings and trials."""

import unittest
from datetime import date

from hypothesis import given, settings
from hypothesis import strategies as st

from skavit.core.ground.strict_json import Node
from skavit.core.plan.document import read_plan
from skavit.core.plan.overrides import MODES, Boost, Mode, Override
from skavit.core.plan.times import day_number
from skavit.core.simulation.handover import CHOICES, handover, prospects, warnings
from skavit.core.simulation.handover import test_sequence as sequence
from skavit.core.tests.builders import DESERT, clock_text, document, entry, local_instant, make_plan, window
from skavit.core.tests.stepped import SteppedUnit, switchings

DAY = day_number(date(2027, 3, 3)) * 86400
DAYS_AHEAD = 9  # the longest timer of the choices is seven days


class ProspectTest(unittest.TestCase):
    @settings(max_examples=40)
    @given(switchings, st.integers(0, 1439), st.booleans(), st.sampled_from([None, "on", "off"]))
    def test_each_choice_is_what_a_stepped_unit_does_with_it(self, rows, minute, waits, before):
        plan = make_plan([], [entry("on" if on else "off", clock_text(at)) for on, at in rows], site=DESERT,
                         on_return_to_auto="waits" if waits else "computes")  # fmt: skip
        step = 2 * minute + 1
        instant = local_instant(plan, DAY + 30 * step)
        (found,) = prospects(plan, instant, before=Mode(word=before) if before else None)
        self.assertEqual([prospect.setting for prospect in found], list(CHOICES))
        held = [(step, before)] if before else []
        for prospect in found:
            made = [*held, (step, prospect.setting.to_json())]
            outputs = SteppedUnit(rows, made, waits=waits).outputs(DAYS_AHEAD)
            self.assertEqual(outputs[step], prospect.on, prospect)
            turn = next((n for n in range(step, len(outputs)) if outputs[n] != prospect.on), None)
            self.assertEqual(turn and instant + 30 * (turn - step), prospect.until, prospect)


class WarningsTest(unittest.TestCase):
    def leaving(self, overrides=(), **more):
        found = document([window("18:00", "23:00")], [entry("on", "18:00"), entry("off", "23:00")], site=DESERT, **more)
        plan = read_plan(Node({**found, "overrides": list(overrides)}))
        return plan, handover(plan, local_instant(plan, DAY + 20 * 3600))

    def test_a_channel_held_by_hand_is_told(self):
        on = {"at": "2027-03-02T09:00", "channel": 1, "set": "on"}
        back = {"at": "2027-03-02T10:00", "channel": 1, "set": "auto"}
        for overrides, held in [([], False), ([on], True), ([on, back], False)]:
            with self.subTest(overrides=overrides, held=held):
                plan, leaving = self.leaving(overrides)
                told = warnings(plan, leaving, cover_switches=False)
                self.assertEqual(any("held by hand" in line for line in told), held)

    def test_what_else_may_go_wrong(self):
        plan, leaving = self.leaving(on_return_to_auto="waits", operating="manual")
        told = " ".join(warnings(plan, leaving, cover_switches=True, has_random=True))
        for text in ("operating mode is manual", "as it is until its next entry", "wanted on now, and its program has it off",
                     "no entry changes it", "at random", "cover can press a key"):  # fmt: skip
            with self.subTest(text=text):
                self.assertIn(text, told)

    def test_outputs_are_tried_in_order(self):
        plan, leaving = self.leaving()
        self.assertEqual(len(sequence(plan, leaving)), 3)
        self.assertIn("must be on at once", sequence(plan, leaving)[-1])
        plan, leaving = self.leaving(on_return_to_auto="waits")
        self.assertIn("Bring Channel 1 to on by hand", sequence(plan, leaving)[-1])


class OverrideFormTest(unittest.TestCase):
    @settings(max_examples=60)
    @given(
        st.one_of(
            st.sampled_from(MODES),
            st.builds(lambda m: {"boost_min": m}, st.integers(1, 900)),
            st.builds(
                lambda m, then: {"countdown_min": m, "then": then}, st.integers(1, 900), st.sampled_from(["on", "off"])
            ),
            st.builds(lambda d: {"holiday_days": d}, st.integers(1, 366)),
            st.builds(lambda h: {"power_cut_h": h}, st.floats(0.5, 800)),
            st.just({"clock_set": True}),
        ),
        st.integers(0, 1439),
    )
    def test_it_reads_and_writes_itself(self, setting, minute):
        whole = isinstance(setting, dict) and ("power_cut_h" in setting or "clock_set" in setting)
        raw = {"at": f"2027-05-11T{clock_text(minute)}", "set": setting} | ({} if whole else {"channel": 2})
        self.assertEqual(Override.read(Node(raw)).to_json(), raw)

    def test_a_boost_lasts_at_least_a_second(self):
        self.assertEqual(Boost(minutes=45).to_json(), {"boost_min": 45})
