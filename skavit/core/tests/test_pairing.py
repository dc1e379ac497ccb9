"""Which OFF ends an ON: by the nominal clock, by days, in slots that hold both, and by what was replayed."""

import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from skavit.core.memory.pairing import after_s, ends_next_day, mostly_ends, next_off, paired, usual_end
from skavit.core.tests.builders import entry, make_plan


def entries(*rows):
    return make_plan([], list(rows), channels=[[], []]).unit.entries


class PairingTest(unittest.TestCase):
    def test_the_next_off_by_the_nominal_clock(self):
        # The nominal clock of docs/plan-file.md, "Windows": sunrise 06:00, sunset 18:00, dusk 18:30.
        on, dusk, morning, same = entries(entry("on", "sunset"), entry("off", "dusk"), entry("off", "05:30"),
                                          entry("off", "18:00"))  # fmt: skip
        self.assertEqual([after_s(on, off) for off in (dusk, morning, same)], [1800, 41_400, 86_400])
        self.assertEqual([ends_next_day(on, off) for off in (dusk, morning, same)], [False, True, True])
        self.assertIs(next_off(on, [same, morning, dusk]), dusk)
        self.assertIsNone(next_off(on, []))

    def test_an_off_of_the_following_morning_ends_the_days_before_its_own(self):
        friday, saturday, weekdays = entries(entry("on", "22:00", ["fri"]), entry("off", "06:00", ["sat"]),
                                             entry("off", "06:00", "weekdays"))  # fmt: skip
        self.assertTrue(mostly_ends(friday, saturday))
        self.assertFalse(mostly_ends(friday, weekdays))
        self.assertTrue(mostly_ends(friday, *entries(entry("off", "23:00", ["fri", "sun"]))))

    def test_a_slot_takes_an_on_and_the_next_off_of_its_channels_and_days(self):
        rows = entries(
            entry("off", "23:00"),
            entry("on", "18:00"),
            entry("on", "05:00"),
            entry("off", "07:00"),
            entry("off", "06:00", "weekends"),
            entry("on", "04:00", channels=[2]),
        )
        found = paired(rows)
        self.assertEqual((found.pairs, found.alone), (((1, 0), (2, 3)), (5, 4)))

    @given(st.lists(st.tuples(st.booleans(), st.integers(0, 23)), max_size=8))
    def test_every_entry_is_in_one_pair_or_alone(self, rows):
        made = entries(*(entry("on" if on else "off", f"{hour:02d}:00") for on, hour in rows))
        found = paired(made)
        self.assertEqual(
            sorted([place for pair in found.pairs for place in pair] + list(found.alone)), list(range(len(made)))
        )
        self.assertTrue(all(made[on].on and not made[off].on for on, off in found.pairs))
        self.assertEqual(len({made[place].on for place in found.alone}) < 2, True)

    def test_what_most_often_ended_it_and_the_nearest_of_equals(self):
        self.assertEqual(usual_end(np.array([3, 3, 1]), np.array([1, 1, 0])), (3, 1))
        self.assertEqual(usual_end(np.array([3, 1]), np.array([1, 0])), (1, 0))
