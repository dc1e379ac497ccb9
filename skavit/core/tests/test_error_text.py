"""Errors in the words of a page."""

import pickle
import unittest

from skavit.core.ground.errors import PlanError, RangeError
from skavit.core.text.error_text import error_text, place_words


class ToldTest(unittest.TestCase):
    def test_a_path_is_told_in_the_words_of_the_page(self):
        for path, words in (
            ("channels[0].windows[1].to", "channel 1, window 2"),
            ("channels[2].name", "channel 3"),
            ("unit.entries[13].at", "slot 14"),
            ("unit.keyings[0].entries[2].at", "keying 1, slot 3"),
            ("unit.holidays[1].days", "holiday 2"),
            ("unit.limits.slots[0]", "the memory"),
            ("format", ""),
        ):
            with self.subTest(path):
                self.assertEqual(place_words(path), words)

    def test_what_is_wrong_and_what_is_accepted_follow(self):
        error = PlanError("unit.entries[0].at", "25:00 is no time", "a time of day")
        self.assertEqual(error_text(error), "Slot 1: 25:00 is no time. Accepted: a time of day.")
        self.assertEqual(
            error_text(PlanError("other dates", "'x' is none", "24 Dec")), "Other dates: 'x' is none. Accepted: 24 Dec."
        )
        self.assertEqual(error_text(PlanError("limits.slots[0].count", "wrong", "right")), "Wrong. Accepted: right.")
        self.assertEqual(error_text(RangeError("too long")), "too long")

    def test_an_error_goes_from_one_process_to_another_as_it_is(self):
        error = PlanError("unit.entries", "301 are too many", "at most 300 entries")
        again = pickle.loads(pickle.dumps(error))
        self.assertEqual((type(again), str(again), again.path), (PlanError, str(error), "unit.entries"))
