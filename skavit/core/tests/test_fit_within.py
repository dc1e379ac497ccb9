"""After any fit, whatever is wanted and whatever the unit holds, its plan keeps the unit's limits."""

import unittest
from datetime import date

from hypothesis import given, settings
from hypothesis import strategies as st

from skavit.core.findings import audit
from skavit.core.findings.case import Budgets
from skavit.core.fitting import fit
from skavit.core.ground.strict_json import Node
from skavit.core.plan.document import read_plan
from skavit.core.simulation.replay import replay
from skavit.core.tests.builders import clock_times, make_plan, simple_days, sun_times, window

BEYOND = {"over-capacity", "no-such-days", "too-fine", "offset-too-large"}
EVENTS = ["dawn", "sunrise", "sunset", "dusk"]
GROUPS = [["daily"], ["daily", "weekdays", "weekends"], ["single-days", "daily"], ["any"]]
BANKS = [
    [{"shape": "pair", "count": 2, "off_days": "same"}],
    [{"shape": "pair", "count": 1, "off_days": "own", "over_midnight": False}],
    [{"shape": "on", "count": 2}, {"shape": "off", "count": 2}],
    [{"shape": "single", "count": 3, "times": ["clock"]}],
    [{"shape": "pair", "count": 3, "repeats": True}],
]
times = st.one_of(clock_times, sun_times)
limited = st.builds(lambda at, low: {"at": at, "not_before": low}, sun_times, clock_times)
cycles = st.sampled_from([None, None, None, {"on_s": 10, "every_s": 240}])
windows = st.builds(
    lambda start, to, days, ends, cycle: window(start, to, days, ends=ends, **({"repeat": cycle} if cycle else {})),
    st.one_of(times, limited), times, simple_days, st.sampled_from(["same-day", "next-day"]), cycles,
)  # fmt: skip
limits = st.fixed_dictionaries(
    {},
    optional={
        "entries": st.integers(0, 6),
        "slots": st.sampled_from(BANKS),
        "day_groups": st.sampled_from(GROUPS),
        "clock_step_s": st.sampled_from([60, 300, 900]),
        "sun_offset_max_min": st.sampled_from([0, 30, 120]),
        "sun_events": st.lists(st.sampled_from(EVENTS), unique=True),
        "actions": st.sampled_from([["on", "off"], ["on", "off", "repeat"], ["on", "off", "pulse"]]),
        "limited_times": st.booleans(),
        "offset_by": st.sampled_from(["entry", "correction"]),
    },
)
REPEATS, MIST = ["on", "off", "repeat"], {"on_s": 10, "every_s": 240}
PULSED = window("sunset+10", "23:00", ends="same-day", repeat=MIST)
suns = st.sampled_from([{}, {"source": "none"}, {"source": "photocell", "altitude_deg": -3, "delay_min": 1},
                        {"source": "table", "latitude": -40}])  # fmt: skip


class WithinTest(unittest.TestCase):
    def held(self, rows, **unit):
        plan = make_plan(rows, [], **unit)
        made = fit(plan, 2027).plan
        # What it writes its own reader takes.
        self.assertEqual(read_plan(Node(made.to_json())), made)
        result = replay(made, date(2027, 1, 1), date(2027, 12, 31))
        found = audit(result, budgets=Budgets.while_waited_for(remedies=False))
        self.assertEqual([f.message for f in found if f.code in BEYOND], [], made.unit.to_json())
        return made

    def test_what_was_written_beyond_them_once(self):
        for name, row, unit in (
            ("steps of five minutes", window("dusk+75", "21:24", ends="same-day"), {"limits": {"clock_step_s": 300}}),
            ("no limited times", window({"at": "sunset", "not_before": "17:00"}, "22:00"), {"limits": {}}),
            ("one entry, two slots", window("18:00", "22:00"),
             {"limits": {"entries": 1, "slots": [{"shape": "on", "count": 1}, {"shape": "off", "count": 1}]}}),
            ("pulses at a sun that it does not know", PULSED, {"limits": {"actions": REPEATS, "sun_events": ["dawn"]}}),
            ("pulses at an offset beyond its own", PULSED, {"limits": {"actions": REPEATS, "sun_offset_max_min": 0}}),
            ("pulses by the sun, and it has none", PULSED, {"limits": {"actions": REPEATS}, "sun": {"source": "none"}}),
            ("pulses by the sun, and a photocell", PULSED,
             {"limits": {"actions": REPEATS}, "sun": {"source": "photocell", "altitude_deg": -3, "delay_min": 1}}),
            ("pulses that never come", window("18:00", "17:00", ends="same-day", repeat=MIST),
             {"limits": {"actions": REPEATS}}),
        ):  # fmt: skip
            with self.subTest(name):
                self.held([row], **unit)

    def test_each_channel_stands_once_in_an_entry(self):
        # Four entries on one channel, at Lisbon: once two entries of one time and days were joined as channels 1 and 1.
        lisbon = {"name": "Lisbon", "latitude": 38.72, "longitude": -9.14, "timezone": "Europe/Lisbon"}
        rows = [window("08:00", "16:00", "weekdays", ends="same-day"), window("23:00", "06:45", ends="next-day")]
        limits = {"entries": 4, "day_groups": ["daily", "single-days"]}
        made = self.held(rows, site=lisbon, limits=limits)
        self.assertTrue(all(len(set(e.channels)) == len(e.channels) for e in made.unit.entries))

    @settings(max_examples=60)
    @given(st.lists(windows, min_size=1, max_size=3), limits, suns)
    def test_any_windows_in_any_unit(self, rows, limits, sun):
        self.held(rows, limits=limits, **({"sun": sun} if sun else {}))
