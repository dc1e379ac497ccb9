"""The steps of an entry sheet: keys in lines to read, and a name for what a step says."""

import unittest

from skavit.core.kinds.parts import Press
from skavit.core.sheet.step import Display, DisplayRow, Step, keyed, press_rows


class PressRowsTest(unittest.TestCase):
    def test_a_value_begins_a_line_and_what_accepts_it_stands_behind(self):
        menu, ok = Press(keys=("MENU",)), Press(keys=("OK",))
        hour = Press(keys=("+",), field="hour", until="20")
        minute = Press(keys=("+",), field="minute", until="30")
        self.assertEqual(press_rows((menu, ok, hour, ok, minute, ok)), ((menu, ok), (hour, ok), (minute, ok)))
        self.assertEqual(press_rows((hour, minute)), ((hour,), (minute,)))
        self.assertEqual(press_rows(()), ())


class KeyTest(unittest.TestCase):
    def setUp(self):
        display = Display(rows=(DisplayRow(word="ON", value="18:00"),), slot=1)
        self.step = Step(kind="slot", title="Slot 1", say="Key it.", display=display)

    def test_the_same_content_has_the_same_key(self):
        self.assertEqual(keyed(self.step, "18:00", 1), keyed(self.step, "18:00", 1))

    def test_other_content_or_another_sort_of_step_has_another(self):
        other = Step(kind="empty", title="Slot 1", say="Key it.")
        keys = {keyed(self.step, "18:00", 1).key, keyed(self.step, "18:01", 1).key, keyed(other, "18:00", 1).key}
        self.assertEqual(len(keys), 3)

    def test_words_and_display_are_no_part_of_it(self):
        self.assertEqual(keyed(self.step, 1).key, keyed(Step(kind="slot", title="Other", say="Else."), 1).key)
