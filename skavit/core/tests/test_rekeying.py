"""The step for the seasons: which set stands now, which comes, and slot by slot what changes."""

import unittest
from datetime import date

from skavit.core.plan.times import day_number
from skavit.core.sheet.rekeying import changes, rekeying, stretch_at
from skavit.core.simulation.replay import replay
from skavit.core.tests.builders import entry, local_instant, make_plan
from skavit.core.text.wording import PLAIN, Words

SUMMER = [entry("on", "20:30"), entry("off", "23:00")]
WINTER = [entry("on", "17:00"), entry("off", "23:00"), entry("on", "06:00", "weekdays")]


def at_noon(day, plan):
    return local_instant(plan, day_number(day) * 86400 + 12 * 3600)


class RekeyingTest(unittest.TestCase):
    def setUp(self):
        keyings = [{"from": "04-04", "name": "Winter", "entries": WINTER}, {"from": "09-26", "entries": SUMMER}]
        self.plan = make_plan([], SUMMER, keyings=keyings)

    def coming(self, day):
        year = replay(self.plan, date(2027, 1, 1), date(2027, 12, 31))
        return stretch_at(self.plan, year, at_noon(day, self.plan))

    def test_the_set_that_stands_comes_first(self):
        for day, standing in (
            (date(2027, 2, 16), 2),  # September's of the year before
            (date(2027, 4, 3), 2),
            (date(2027, 4, 4), 1),
            (date(2027, 9, 26), 2),
        ):
            with self.subTest(day=day):
                coming = self.coming(day)
                self.assertEqual((coming[0].keying, coming[0].first), (standing, day_number(day)))
                self.assertEqual([a.last + 1 for a in coming[:-1]], [b.first for b in coming[1:]])

    def test_the_step_says_when_and_what(self):
        (step,) = rekeying(self.plan, self.coming(date(2027, 2, 16)), PLAIN)
        self.assertEqual(step.title, "Key anew on 4 Apr 2027: Winter")
        self.assertEqual(step.say, "Slot 1: ON 17:00, every day; Slot 3: ON 06:00, Mon to Fri.")
        (step,) = rekeying(self.plan, self.coming(date(2027, 6, 1)), Words(twelve_hour=True))
        self.assertEqual(step.title, "Key anew on 26 Sep 2027")
        self.assertEqual(step.say, "Slot 1: ON 8:30 pm, every day; Slot 3: cleared.")

    def test_a_step_of_another_date_or_change_is_another_step(self):
        keys = {rekeying(self.plan, self.coming(day), PLAIN)[0].key for day in (date(2027, 2, 16), date(2027, 3, 1))}
        self.assertEqual(len(keys), 1)
        later = rekeying(self.plan, self.coming(date(2027, 6, 1)), PLAIN)[0].key
        self.assertNotIn(later, keys)

    def test_one_set_alone_needs_no_step(self):
        plan = make_plan([], SUMMER)
        year = replay(plan, date(2027, 1, 1), date(2027, 12, 31))
        self.assertEqual(rekeying(plan, stretch_at(plan, year, at_noon(date(2027, 2, 16), plan)), PLAIN), [])

    def test_entries_that_pulse_say_how(self):
        mist = entry("on", "07:10") | {"repeat": {"on_s": 8, "off_s": 240, "until": "16:25"}}
        pulse = entry("pulse", "10:00") | {"seconds": 5}
        new = make_plan([], [mist, pulse]).unit.entries
        self.assertEqual(
            changes((), new, PLAIN),
            (
                "Slot 1: ON 07:10, every day, 8 s on and 4 min pause until 16:25",
                "Slot 2: PULSE 10:00, every day, for 5 s",
            ),
        )

    def test_the_same_set_again_changes_nothing(self):
        plan = make_plan([], SUMMER, keyings=[{"from": "04-04", "entries": SUMMER}])
        year = replay(plan, date(2027, 1, 1), date(2027, 12, 31))
        (step,) = rekeying(plan, stretch_at(plan, year, at_noon(date(2027, 2, 16), plan)), PLAIN)
        self.assertEqual(step.say, "Nothing changes.")
