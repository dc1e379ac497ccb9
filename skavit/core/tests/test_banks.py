"""Entries in the slots of a memory, against every way to place them; and what the audit says of those that find none."""

import unittest
from datetime import date
from functools import cache

from hypothesis import given, settings
from hypothesis import strategies as st

from skavit.core.findings import audit
from skavit.core.memory.banks import buckets, holds_pair, holds_single, place
from skavit.core.simulation.replay import replay
from skavit.core.tests.builders import DESERT, entry, make_plan, window

rows = st.lists(
    st.builds(
        entry,
        st.sampled_from(["on", "off"]),
        st.sampled_from(["06:00", "22:00", "sunset", "sunrise"]),
        st.sampled_from(["daily", "weekdays", "weekends"]),
        st.sampled_from([(1,), (2,), (1, 2)]),
    ),
    max_size=6,
)
banks = st.lists(
    st.builds(
        lambda shape, count, times, per, same, over: (
            {"shape": shape, "count": count, "times": times, "per": per}
            | ({"off_days": "same" if same else "own", "over_midnight": over} if shape == "pair" else {})
        ),
        st.sampled_from(["single", "pair", "on", "off"]),
        st.integers(0, 3),
        st.sampled_from([["clock"], ["sun"], ["clock", "sun"]]),
        st.sampled_from(["unit", "channel", "day-group"]),
        st.booleans(),
        st.booleans(),
    ),
    min_size=1,
    max_size=3,
)


def fewest_left(entries, slots):
    """The fewest entries without a slot, over every way to place them in their order."""

    @cache
    def go(index, used):
        if index == len(entries):
            return 0
        best = 1 + go(index + 1, used)
        counts = dict(used)
        for number, bank in enumerate(slots):
            pair = entries[index : index + 2]
            ways = [1] * holds_single(bank, entries[index]) + [2] * (len(pair) == 2 and holds_pair(bank, *pair))
            for size in ways:
                keys = buckets(number, bank, entries[index])
                if all(counts.get(key, 0) < bank.count for key in keys):
                    then = counts | {key: counts.get(key, 0) + 1 for key in keys}
                    best = min(best, go(index + size, frozenset(then.items())))
        return best

    return go(0, frozenset())


class PlaceTest(unittest.TestCase):
    @settings(max_examples=200)
    @given(rows, banks)
    def test_as_few_as_may_be_are_left(self, entries, slots):
        plan = make_plan([], entries, channels=[[], []], limits={"slots": slots})
        limits, held = plan.unit.limits, plan.unit.entries
        found = place(held, limits)
        self.assertEqual(len(found.left), fewest_left(held, limits.slots))
        placed = [index for slot in found.slots for index in slot.entries]
        self.assertEqual(sorted(placed + list(found.left)), list(range(len(held))))
        counts = {}
        for slot in found.slots:
            for key in buckets(slot.bank, limits.slots[slot.bank], held[slot.entries[0]]):
                counts[key] = counts.get(key, 0) + 1
        self.assertTrue(all(used <= limits.slots[key[0]].count for key, used in counts.items()))

    def test_a_pair_has_one_place_and_days_of_its_own_or_not(self):
        on, off = entry("on", "22:00", "weekdays"), entry("off", "06:00", ["tue", "wed", "thu", "fri", "sat"])
        for bank, fits in [
            ({"shape": "pair"}, True),
            ({"shape": "pair", "off_days": "same"}, False),
            ({"shape": "pair", "over_midnight": False}, False),
            ({"shape": "pair", "times": ["sun"]}, False),
            ({"shape": "single"}, True),
            ({"shape": "on"}, False),
        ]:
            with self.subTest(bank=bank, fits=fits):
                plan = make_plan([], [on, off], limits={"slots": [bank]})
                self.assertEqual(not place(plan.unit.entries, plan.unit.limits).left, fits, bank)

    def test_a_long_list_is_placed_at_once(self):
        plan = make_plan([], [entry("on", "06:00")] * 900, limits={"entries": 700})
        found = place(plan.unit.entries, plan.unit.limits)
        self.assertEqual((len(found.slots), found.left[0]), (700, 700))


class CapacityTest(unittest.TestCase):
    def told(self, entries, slots):
        plan = make_plan([window("18:00", "23:00")], entries, site=DESERT, limits={"slots": slots})
        found = audit(replay(plan, date(2027, 1, 1), date(2027, 12, 31)))
        return [f for f in found if f.code == "over-capacity"]

    def test_half_a_pair_is_told(self):
        (finding,) = self.told(
            [entry("on", "18:00"), entry("off", "23:00"), entry("on", "06:00", ["mon"])], [{"shape": "pair"}]
        )
        self.assertEqual(finding.slots, (3,))
        self.assertIn("half a pair is none", finding.why)
        self.assertIsNotNone(finding.remedy)

    def test_a_bank_that_is_full_is_told(self):
        rows = [entry("on", "18:00"), entry("off", "23:00")]
        slots = [{"shape": "on", "count": 1}, {"shape": "off", "count": 0}]
        (finding,) = self.told(rows, slots)
        self.assertIn("no slot for 1 entry", finding.headline)
        self.assertEqual(self.told(rows, [{"shape": "on", "count": 1}, {"shape": "off", "count": 1}]), [])
