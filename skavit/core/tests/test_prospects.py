"""What each mode means now, against the replay of the plan with that override; hand-over's warnings and trials."""

import unittest
from dataclasses import replace
from datetime import date

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from skavit.core.ground.strict_json import Node
from skavit.core.plan.document import read_plan
from skavit.core.plan.overrides import MODES, Boost, Mode, Override
from skavit.core.plan.times import day_number
from skavit.core.simulation.handover import CHOICES, handover, prospects, warnings
from skavit.core.simulation.handover import test_sequence as sequence
from skavit.core.simulation.replay import replay
from skavit.core.tests.builders import DESERT, clock_text, document, entry, local_instant, make_plan, window

DAY = day_number(date(2027, 3, 3)) * 86400
switchings = st.lists(
    st.tuples(st.sampled_from(["on", "off"]), st.integers(0, 1439)), min_size=1, max_size=4, unique_by=lambda s: s[1]
)


class ProspectTest(unittest.TestCase):
    @settings(max_examples=40, deadline=None)
    @given(switchings, st.integers(0, 1439), st.booleans(), st.sampled_from([None, "on", "off"]))
    def test_each_choice_is_what_the_replay_does_with_it(self, rows, minute, waits, before):
        plan = make_plan([], [entry(action, clock_text(at)) for action, at in rows], site=DESERT,
                         on_return_to_auto="waits" if waits else "computes")  # fmt: skip
        digits = DAY + minute * 60 + 30
        instant = local_instant(plan, digits)
        held = Mode(word=before) if before else None
        (found,) = prospects(plan, instant, before=held)
        self.assertEqual([p.setting for p in found], list(CHOICES))
        for prospect in found:
            made = [Override(at=digits - 1, channel=1, setting=held)] if held else []
            made.append(Override(at=digits, channel=1, setting=prospect.setting))
            result = replay(replace(plan, overrides=tuple(made)), date(2027, 3, 3), date(2027, 3, 20))
            spans = result.channels[0].actual
            self.assertEqual(bool(spans.at(np.array([instant]))[0]), prospect.on)
            edges = np.sort(np.concatenate([spans.on, spans.off]))
            later = edges[(edges > instant) & (edges < result.end)]
            self.assertEqual(int(later[0]) if later.size else None, prospect.until)


class WarningsTest(unittest.TestCase):
    def leaving(self, overrides=(), **more):
        found = document([window("18:00", "23:00")], [entry("on", "18:00"), entry("off", "23:00")], site=DESERT, **more)
        plan = read_plan(Node({**found, "overrides": list(overrides)}))
        return plan, handover(plan, local_instant(plan, DAY + 20 * 3600))

    def test_a_channel_held_by_hand_is_told(self):
        on = {"at": "2027-03-02T09:00", "channel": 1, "set": "on"}
        back = {"at": "2027-03-02T10:00", "channel": 1, "set": "auto"}
        for overrides, held in [([], False), ([on], True), ([on, back], False)]:
            plan, leaving = self.leaving(overrides)
            told = warnings(plan, leaving, cover_switches=False)
            self.assertEqual(any("held by hand" in line for line in told), held)

    def test_what_else_may_go_wrong(self):
        plan, leaving = self.leaving(on_return_to_auto="waits", operating="manual")
        told = " ".join(warnings(plan, leaving, cover_switches=True, has_random=True))
        for text in ("operating mode is manual", "as it is until its next entry", "wanted on now, and its program has it off",
                     "no entry changes it", "at random", "cover can press a key"):  # fmt: skip
            self.assertIn(text, told)

    def test_outputs_are_tried_in_order(self):
        plan, leaving = self.leaving()
        self.assertEqual(len(sequence(plan, leaving)), 3)
        self.assertIn("must be on at once", sequence(plan, leaving)[-1])
        plan, leaving = self.leaving(on_return_to_auto="waits")
        self.assertIn("Bring Channel 1 to on by hand", sequence(plan, leaving)[-1])


class OverrideFormTest(unittest.TestCase):
    @settings(max_examples=60, deadline=None)
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
