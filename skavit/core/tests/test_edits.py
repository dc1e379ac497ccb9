"""Edits as pure functions: what each leaves as it was, on every keying; and what an edit alters in a year."""

import unittest
from dataclasses import replace
from datetime import date
from itertools import pairwise

from hypothesis import given, settings
from hypothesis import strategies as st

from skavit.core.ground.errors import PlanError
from skavit.core.ground.strict_json import Node
from skavit.core.plan import edits
from skavit.core.plan.days import Once, Yearly
from skavit.core.plan.document import read_plan
from skavit.core.plan.edits import EditError
from skavit.core.plan.seasonal import SeasonalProgram, stretches
from skavit.core.plan.times import day_number, day_of
from skavit.core.simulation.alteration import alterations
from skavit.core.simulation.replay import replay
from skavit.core.tests.builders import DESERT, all_days, document, entry, make_plan, simple_days, times, window

EVENING = [window("18:00", "23:00")]
ROWS = [entry("on", "18:00"), entry("off", "23:00")]


def plan_of(**more):
    return make_plan(EVENING, ROWS, site=DESERT, **more)


def two_channels(**more):
    found = document(entries=[*ROWS, entry("on", "06:00", channels=(2,)), entry("off", "07:00", channels=(1, 2))],
                     channels=[EVENING, EVENING], site=DESERT, **more)  # fmt: skip
    cut = {"at": "2027-05-01T00:00", "set": {"power_cut_h": 1}}
    found["overrides"] = [{"at": "2027-05-03T00:00", "channel": n, "set": "on"} for n in (1, 2)] + [cut]
    return read_plan(Node(found))


class RowsTest(unittest.TestCase):
    @settings(max_examples=60)
    @given(
        st.lists(st.builds(entry, st.sampled_from(["on", "off"]), times, simple_days), min_size=1, max_size=6),
        st.data(),
    )
    def test_moving_a_slot_keeps_all_entries_and_the_order_of_the_rest(self, rows, data):
        plan = make_plan([], rows)
        index, to = (data.draw(st.integers(0, len(rows) - 1)) for _ in range(2))
        moved = edits.move_entry(plan, index, to).unit.entries
        self.assertEqual(moved[to], plan.unit.entries[index])
        rest = [e for i, e in enumerate(plan.unit.entries) if i != index]
        self.assertEqual([e for i, e in enumerate(moved) if i != to], rest)
        self.assertEqual(edits.move_entry(edits.move_entry(plan, index, to), to, index), plan)

    @settings(max_examples=40)
    @given(st.builds(lambda a, b, days: window(a, b, days, ends="next-day"), times, times, all_days))
    def test_a_copied_window_has_no_id_of_its_own(self, row):
        plan = make_plan([row | {"id": "w"}])
        first, second = edits.copy_window(plan, 1, 0).channels[0].windows
        self.assertEqual((first.id, second.id, replace(second, id="w")), ("w", None, first))

    def test_rows_that_are_gone_are_refused(self):
        for change in (
            lambda p: edits.copy_window(p, 1, 1),
            lambda p: edits.copy_window(p, 2, 0),
            lambda p: edits.copy_entry(p, 2),
            lambda p: edits.move_entry(p, -1, 0),
            lambda p: edits.remove_keying(p, 1),
            edits.on_set(1, lambda p: edits.remove_entry(p, 0)),
        ):
            with self.subTest(change=change), self.assertRaises(EditError):
                change(plan_of())


class ChannelsTest(unittest.TestCase):
    def test_a_copy_is_wanted_and_keyed_the_same(self):
        plan = edits.copy_channel(two_channels(keyings=[{"from": "04-05", "entries": ROWS}]), 1, "Copy")
        self.assertEqual(plan.channels[2].windows, plan.channels[0].windows)
        for entries in plan.unit.sets:
            for one in entries:
                self.assertEqual(1 in one.channels, 3 in one.channels)

    def test_taking_one_out_moves_the_others_up_in_every_keying_and_override(self):
        plan = edits.remove_channel(two_channels(keyings=[{"from": "04-05", "entries": ROWS}]), 1)
        self.assertEqual([[e.channels for e in entries] for entries in plan.unit.sets], [[(1,), (1,)], []])
        self.assertEqual([o.channel for o in plan.overrides], [1, None])
        self.assertEqual(read_plan(Node(plan.to_json())), plan)
        with self.assertRaises(EditError):
            edits.remove_channel(plan, 1)


class UnitTest(unittest.TestCase):
    def test_a_setting_that_an_entry_cannot_go_with_is_refused(self):
        train = [entry("on", "18:00") | {"repeat": {"on_s": 1, "off_s": 1, "until": "19:00"}}]
        with self.assertRaisesRegex(PlanError, r"unit.entries\[0\].repeat"):
            edits.set_unit(make_plan([], train), channel_mode="pulse")
        self.assertEqual(edits.set_unit(plan_of(), reserve_h=4.5).unit.reserve_h, 4.5)

    def test_holidays_and_keyings_are_set(self):
        plan = edits.add_keying(
            plan_of(), SeasonalProgram(start=Yearly(405), name="Winter", entries=plan_of().unit.entries)
        )
        changed = edits.on_set(1, lambda p: edits.remove_entry(p, 0))(plan)
        self.assertEqual([len(entries) for entries in changed.unit.sets], [2, 1])
        with self.assertRaises(PlanError):
            edits.add_keying(plan, SeasonalProgram(start=Yearly(405), entries=()))
        self.assertEqual(edits.remove_keying(changed, 1), plan_of())


class StretchesTest(unittest.TestCase):
    @settings(max_examples=80)
    @given(
        st.lists(st.tuples(st.integers(1, 12), st.integers(1, 28)), max_size=3, unique=True),
        st.lists(st.integers(20_000, 22_000), max_size=3, unique=True),
        st.integers(20_100, 21_500),
        st.integers(0, 700),
    )
    def test_on_each_date_the_latest_begun_stands(self, yearly, once, first, days):
        keyings = [
            SeasonalProgram(start=start, entries=())
            for start in (*(Yearly(m * 100 + d) for m, d in yearly), *map(Once, once))
        ]
        found = stretches(keyings, first, first + days)
        self.assertEqual((found[0].first, found[-1].last), (first, first + days))
        for a, b in pairwise(found):
            self.assertEqual(a.last + 1, b.first)
        for stretch in found:
            self.assertEqual(stretch.keying, _standing(keyings, stretch.first))
            self.assertEqual(stretch.keying, _standing(keyings, stretch.last))


def _standing(keyings, day):
    """Which keying stands on a date: the one begun last, counted back day by day for at most a year and a leap day."""
    for back in range(day, day - 367, -1):
        here = day_of(back)
        named = [n for n, k in enumerate(keyings, start=1) if k.start == Once(back)]
        named += [n for n, k in enumerate(keyings, start=1) if k.start == Yearly(here.month * 100 + here.day)]
        if named:
            return named[0]
    earlier = [
        (k.start.day, n) for n, k in enumerate(keyings, start=1) if isinstance(k.start, Once) and k.start.day <= day
    ]
    return max(earlier)[1] if earlier else 0


def altered(before, after):
    """What an edit alters in 2027."""
    return alterations(*(replay(plan, date(2027, 1, 1), date(2027, 12, 31)) for plan in (before, after)))


class AlterationTest(unittest.TestCase):
    def test_hours_and_dates_of_both_sides(self):
        plan = plan_of()
        later = edits.change_entry(plan, 1, make_plan([], [entry("off", "23:30")]).unit.entries[0])
        (found,) = altered(plan, later)
        self.assertEqual(
            (found.done_more.total_s, found.done_less.total_s, found.wanted_more.total_s), (365 * 1800, 0, 0)
        )
        self.assertEqual(found.text, "182 h more on, on 365 days, 1 Jan–31 Dec. "
                         "Differing from what is wanted: 0 h, then 182 h.")  # fmt: skip
        (found,) = altered(plan, plan)
        self.assertFalse(found.alters)
        self.assertEqual(found.text, "Alters nothing this year.")

    def test_a_channel_that_was_not_there_did_nothing(self):
        plan = plan_of()
        old, new = altered(plan, edits.copy_channel(plan, 1, "Copy"))
        self.assertFalse(old.alters)
        self.assertEqual(new.wanted_more.total_s, 365 * 5 * 3600)
        self.assertEqual(new.dates[0], day_number(day_of(int(new.dates[0]))))
