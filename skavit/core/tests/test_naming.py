"""What the places of entries are called: by number, by pair and half, by bank."""

import unittest

from skavit.core.memory.naming import slot_names
from skavit.core.sheet.rekeying import changes
from skavit.core.tests.builders import entry, make_plan
from skavit.core.text.wording import PLAIN

PAIRS = {"slots": [{"shape": "pair", "count": 4, "off_days": "same"}]}
TWO = [entry("on", "05:00"), entry("off", "07:00"), entry("on", "14:00"), entry("off", "16:00")]


def names(entries, **limits):
    unit = make_plan([], entries, limits=limits).unit
    return slot_names(unit.entries, unit.limits)


class NamesTest(unittest.TestCase):
    def test_single_slots_count_as_the_entries_do(self):
        self.assertEqual(names(TWO), ())
        self.assertEqual(names(TWO, slots=[{"shape": "single", "count": 8}]), ())
        self.assertEqual(PLAIN.slot(3), "slot 3")

    def test_pairs_are_counted_as_pairs_wherever_their_halves_stand(self):
        told = ("pair 1, its ON", "pair 1, its OFF", "pair 2, its ON", "pair 2, its OFF")
        self.assertEqual(names(TWO, **PAIRS), told)
        turned = [TWO[0], TWO[2], TWO[1], TWO[3]]
        self.assertEqual(names(turned, **PAIRS), (told[0], told[2], told[1], told[3]))
        self.assertEqual(names([*TWO, entry("off", "23:00", ["thu"])], **PAIRS)[-1], "pair 3")

    def test_banks_of_on_and_off_slots_count_by_themselves(self):
        banks = [{"shape": "on", "count": 7}, {"shape": "off", "count": 7}]
        self.assertEqual(names(TWO, slots=banks), ("ON slot 1", "OFF slot 1", "ON slot 2", "OFF slot 2"))

    def test_words_name_them_whole_by_the_slot_alone_and_two_of_them(self):
        words = PLAIN.of_slots(names(TWO, **PAIRS))
        self.assertEqual((words.slot(4), words.slot_of(4)), ("pair 2, its OFF", "pair 2"))
        self.assertEqual(words.both_slots(1, 4), "pair 1, its ON, and pair 2, its OFF")
        self.assertEqual(PLAIN.both_slots(1, 4), "slots 1 and 4")

    def test_a_keying_names_them_too(self):
        old, new = (make_plan([], rows, limits=PAIRS).unit for rows in (TWO, [*TWO[:3], entry("off", "16:30")]))
        self.assertEqual(
            changes(old.entries, new.entries, PLAIN, new.limits), ("Pair 2, its OFF: OFF 16:30, every day",)
        )
