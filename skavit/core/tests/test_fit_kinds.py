"""Whatever is fitted for a kind, its sheet can key."""

import unittest
from datetime import date

from hypothesis import given, settings
from hypothesis import strategies as st

from skavit.core.fitting import fit
from skavit.core.kinds import shipped_kinds
from skavit.core.kinds.place import plan_for_kind
from skavit.core.plan.times import day_number
from skavit.core.sheet import steps
from skavit.core.simulation.handover import handover
from skavit.core.simulation.replay import replay
from skavit.core.tests.builders import local_instant, make_plan, switching_kinds, window
from skavit.core.tests.test_fit_within import windows
from skavit.core.text.wording import PLAIN

NOON = day_number(date(2027, 2, 16)) * 86400 + 43200


def refused(kind, rows, more=()):
    """(entries that were fitted, what of it the kind's sheet refuses)."""
    channels = [rows, list(more), *([] for _ in range(kind.channels - 2))][: kind.channels]
    plan = fit(plan_for_kind(make_plan(channels=channels), kind), 2027).plan
    instant = local_instant(plan, NOON)
    year = replay(plan, date(2027, 1, 1), date(2027, 12, 31))
    found = steps(plan, year, handover(plan, instant), instant, PLAIN, kind)
    return plan.unit.entries, [step.refused for step in found if step.refused]


class KindsTest(unittest.TestCase):
    @settings(max_examples=60)
    @given(st.lists(windows, min_size=1, max_size=2), st.sampled_from(switching_kinds()), st.booleans())
    def test_what_is_fitted_for_a_kind_its_sheet_keys(self, rows, kind, on_two):
        entries, wrong = refused(kind, rows, rows if on_two else ())
        self.assertEqual(wrong, [], [entry.to_json() for entry in entries])

    def test_pairs_of_two_channels_stand_apart_where_a_slot_names_one(self):
        kind = next(kind for kind in shipped_kinds() if kind.name == "Multi-station controller")
        # A minute would be too short to be of use: what is fitted here are pairs of five.
        rows = [window("00:00", "00:00"), window("00:00", "00:05")]
        entries, wrong = refused(kind, rows, rows)
        self.assertEqual((wrong, {len(entry.channels) for entry in entries}), ([], {1}))

    def test_a_correction_leaves_room_for_the_margin_that_it_takes_off(self):
        kind = next(kind for kind in shipped_kinds() if kind.name == "Wall switch, astronomic")
        _, wrong = refused(kind, [window("16:36", "sunset-104", ["fri"], ends="next-day")])
        self.assertEqual(wrong, [])

    def test_a_long_window_is_an_on_and_an_off_where_a_pulse_is_counted_in_seconds(self):
        kind = next(kind for kind in shipped_kinds() if kind.name == "Yearly relay timer")
        entries, wrong = refused(kind, [window("05:30", "07:00")])
        self.assertEqual(([e.action for e in entries], wrong), (["on", "off"], []))
        entries, wrong = refused(kind, [window("08:50", "08:51")])
        self.assertEqual(([(e.action, e.pulse_s) for e in entries], wrong), ([("pulse", 60)], []))
