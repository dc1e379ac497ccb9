"""A kind played through on its keypad; presses as text; an offset taken another way."""

import unittest
from dataclasses import replace

from hypothesis import given
from hypothesis import strategies as st

from skavit.core.ground.errors import PlanError
from skavit.core.ground.strict_json import Node
from skavit.core.kinds import read_kind, shipped_kinds
from skavit.core.kinds.offsets import with_offset
from skavit.core.kinds.parts import OFFSETS, Press
from skavit.core.kinds.spoken import presses_text, read_presses
from skavit.core.sheet.play import played

KINDS = {kind.name: kind for kind in shipped_kinds()}
MENU = KINDS["Panel switch, one channel, by coordinates"]
names = st.text(st.characters(categories=["L"]), min_size=1, max_size=8)
presses = st.builds(
    Press,
    keys=st.lists(names, min_size=1, max_size=3).map(tuple),
    times=st.integers(1, 60),
    hold_s=st.integers(0, 60),
)


class PlayedTest(unittest.TestCase):
    def test_every_shipped_kind_plays_through(self):
        for kind in shipped_kinds():
            with self.subTest(kind.name):
                found = played(kind)
                self.assertEqual((found.wrong, found.is_sound), ((), True))
                self.assertGreater(sum(frame.press is not None for frame in found.frames), 10)

    def test_a_key_that_leads_nowhere_is_told_at_its_step(self):
        broken = replace(MENU, date_dialogue=replace(MENU.date_dialogue, enter=MENU.clock_dialogue.enter))
        found = played(broken)
        self.assertFalse(found.is_sound)
        self.assertEqual(found.frames[-1].wrong, found.wrong[0].partition(": ")[2])
        # What should enter the date enters the clock, which shows no year.
        self.assertIn("Date", found.wrong[0])

    def test_frames_show_the_turned_field_and_the_slot(self):
        frames = played(MENU).frames
        hour = next(frame for frame in frames if frame.turned == "hour")
        self.assertIn(("hour", hour.press.until), hour.shows)
        self.assertEqual({frame.slot for frame in frames}, {0, 1, 2, 3, 4})


class BoundsTest(unittest.TestCase):
    def test_a_memory_of_thousands_is_followed_so_far_and_no_further(self):
        wall = KINDS["Wall switch, weekly"]
        found = played(replace(wall, limits=replace(wall.limits, entries=10_000)))
        self.assertEqual((len(found.frames), found.more, found.wrong), (400, 4_600, ()))

    def test_more_than_any_device_has_is_refused(self):
        for path, change in [
            ("keys", {"keys": [f"k{n}" for n in range(61)]}),
            ("modes.cycle", {"modes": {"key": "mode", "cycle": [{"word": "AUTO", "means": "auto"}] * 21}}),
            ("sun.regions", {"sun": {"regions": [{"name": "A", "latitude": 0, "longitude": 0}] * 401}}),
        ]:
            with self.subTest(path=path), self.assertRaises(PlanError) as refused:
                read_kind(Node(MENU.to_json() | change))
            self.assertEqual(refused.exception.path, path)


class SpokenTest(unittest.TestCase):
    @given(st.lists(presses, max_size=4).map(tuple))
    def test_presses_come_back_from_their_text(self, found):
        self.assertEqual(read_presses(presses_text(found), "enter"), found)

    def test_as_people_write_them(self):
        self.assertEqual(
            read_presses("menu, down  x 2,back + ok held 3 s", "enter"),
            (Press(keys=("menu",)), Press(keys=("down",), times=2), Press(keys=("back", "ok"), hold_s=3)),
        )
        for text in ("menu +", "ok x99", "ok 99 s", "+"):
            with self.subTest(text=text), self.assertRaises(PlanError):
                read_presses(text, "enter")


class OffsetTest(unittest.TestCase):
    def test_another_way_of_offset_brings_its_keys(self):
        """Each kind with a place, in each way: it can be read, keyed through, and holds just that offset."""
        for kind in (k for k in shipped_kinds() if k.sun.place != "none"):
            for offset in OFFSETS:
                with self.subTest(kind=kind.name, offset=offset):
                    found = with_offset(kind, offset)
                    self.assertEqual(read_kind(Node(found.to_json())), found)
                    # A margin that nothing takes off is told.
                    stays = kind.margin_min > 0 and offset == "none"
                    self.assertEqual(bool(played(found).wrong), stays, played(found).wrong)
                    fields = [turned.field for turned in found.slot_dialogue.fields]
                    self.assertEqual("offset" in fields, offset == "entry")
                    keyed = [t.field for t in found.correction_dialogue.fields] if found.correction_dialogue else []
                    self.assertEqual("rise_min" in keyed, offset == "minutes")
                    self.assertEqual("rise_hour" in keyed, offset == "clock-time")
                    self.assertEqual(with_offset(found, offset), found)

    def test_a_way_in_that_is_new_is_no_other_dialogues(self):
        found = with_offset(MENU, "minutes")
        ways = [dialogue.enter for _, dialogue in found.dialogues()]
        self.assertEqual(len(set(ways)), len(ways))
