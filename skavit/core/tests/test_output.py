"""What the output does: pulses, channel modes, overrides and keyings; modes against a unit stepped by the half minute."""

import unittest
from datetime import date

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from skavit.core.ground.errors import PlanError, RangeError
from skavit.core.ground.strict_json import Node
from skavit.core.plan.document import read_plan
from skavit.core.simulation.replay import replay
from skavit.core.tests.builders import DESERT, clock_text, document, entry, make_plan, window
from skavit.core.tests.stepped import STEPS_A_DAY, SteppedUnit, settings_said, switchings

FIRST, LAST = date(2027, 3, 1), date(2027, 3, 4)
DAYS = 4


def at(step):
    """The half minute of so many, from the first midnight on."""
    day, half = divmod(step, STEPS_A_DAY)
    return f"2027-03-{1 + day:02d}T{clock_text(half // 2)}" + (":30" if half % 2 else "")


def plan_with(overrides, entries, windows=(), channels=None, **unit):
    found = document(windows, entries, site=DESERT, channels=channels, **unit)
    return read_plan(Node({**found, "overrides": overrides}))


def halves_on(plan, channel=0):
    """Whether the output is on, each half minute of the range."""
    result = replay(plan, FIRST, LAST)
    return result.channels[channel].actual.at(result.start + 30 * np.arange(DAYS * STEPS_A_DAY)).tolist()


def local(plan, first, last, channel=0):
    """On and off in seconds after the first midnight."""
    result = replay(plan, first, last)
    actual = result.channels[channel].actual
    return list(zip((actual.on - result.start).tolist(), (actual.off - result.start).tolist(), strict=True))


class PulsesTest(unittest.TestCase):
    MIST = [entry("on", "07:10") | {"repeat": {"on_s": 8, "off_s": 240, "until": "16:25"}}]

    def test_the_pause_is_not_the_cycle(self):
        # 07:10 to 16:25 is 33,300 s: 33,300 / 248 = 134.3 and 33,300 / 240 = 138.75, so 135 and 139 begin in it.
        wanted = [window("07:10", "16:25", repeat={"on_s": 8, "every_s": 240})]
        result = replay(make_plan(wanted, self.MIST, site=DESERT), FIRST, FIRST)
        self.assertEqual(len(result.channels[0].actual), 135)
        self.assertEqual(len(result.channels[0].wanted), 139)

    def test_the_last_pulse_is_cut_and_a_pulse_ends_itself(self):
        train = [entry("on", "10:00") | {"repeat": {"on_s": 40, "off_s": 20, "until": "10:01:30"}}]
        self.assertEqual(local(make_plan([], train, site=DESERT), FIRST, FIRST), [(36000, 36040), (36060, 36090)])
        pulse = [entry("pulse", "10:00") | {"seconds": 5}]
        self.assertEqual(local(make_plan([], pulse, site=DESERT), FIRST, FIRST), [(36000, 36005)])

    def test_a_window_over_midnight_pulses_on(self):
        wanted = [window("23:59:30", "00:01", ends="next-day", repeat={"on_s": 10, "every_s": 60})]
        result = replay(make_plan(wanted, site=DESERT), FIRST, LAST)
        spans = result.channels[0].wanted
        found = [(int(on) - result.start, int(off) - result.start) for on, off in zip(spans.on, spans.off, strict=True)]
        self.assertEqual(found[:4], [(30, 40), (86370, 86380), (86430, 86440), (172770, 172780)])

    def test_in_pulse_mode_each_on_is_a_pulse_and_off_does_nothing(self):
        rows = [entry("on", "10:00"), entry("off", "10:00:02"), entry("pulse", "11:00") | {"seconds": 7}]
        plan = make_plan([], rows, site=DESERT, channel_mode="pulse", pulse_s=4)
        self.assertEqual(local(plan, FIRST, FIRST), [(36000, 36004), (39600, 39607)])

    def test_too_many_pulses_are_refused_before_they_are_made(self):
        all_day = [entry("on", "00:00") | {"repeat": {"on_s": 1, "off_s": 1, "until": "23:59"}}]
        with self.assertRaisesRegex(RangeError, "at most 2000000"):
            replay(make_plan([], all_day, site=DESERT), date(2027, 1, 1), date(2027, 12, 31))

    def test_what_the_format_refuses(self):
        for rows, unit, path in [
            (
                [entry("off", "10:00") | {"repeat": {"on_s": 1, "off_s": 1, "until": "11:00"}}],
                {},
                r"entries\[0\].repeat",
            ),
            ([entry("on", "10:00") | {"repeat": {"on_s": 1, "off_s": 1, "until": "10:00"}}], {}, "repeat.until"),
            ([entry("pulse", "10:00")], {}, "seconds: is missing"),
            ([entry("on", "10:00") | {"seconds": 5}], {}, "seconds"),
            ([entry("pulse", "10:00") | {"seconds": 6000}], {}, "seconds"),
            (self.MIST, {"channel_mode": "pulse"}, r"unit.entries\[0\].repeat"),
            ([], {"keyings": [{"from": "04-01", "entries": []}, {"from": "04-01", "entries": []}]}, "from"),
        ]:
            with self.subTest(rows=rows, unit=unit, path=path), self.assertRaisesRegex(PlanError, path):
                make_plan([], rows, site=DESERT, **unit)
        for override, path in [
            ({"at": "2027-03-01T07:00", "set": "on"}, "channel"),
            ({"at": "2027-03-01T07:00", "channel": 1, "set": {"power_cut_h": 3}}, "channel"),
            ({"at": "2027-03-01T07:00", "channel": 1, "set": {"boost_min": 0}}, "boost_min"),
            ({"at": "2027-03-01T07:00", "channel": 1, "set": "sideways"}, "set"),
            ({"at": "2027-03-01T07:00", "channel": 3, "set": "on"}, "channel"),
        ]:
            with (
                self.subTest(override=override, path=path),
                self.assertRaisesRegex(PlanError, rf"overrides\[0\].*{path}"),
            ):
                plan_with([override], [])


choices = st.lists(st.tuples(st.integers(0, DAYS * STEPS_A_DAY - 1), settings_said), max_size=6)


class OverridesTest(unittest.TestCase):
    @settings(max_examples=100)
    @given(switchings, choices, st.booleans())
    def test_modes_and_timers_agree_with_a_stepped_unit(self, rows, chosen, waits):
        """A timer runs from a half minute, entries act on whole ones: what acts first at one instant is another test's."""
        chosen = [(step | 1 if isinstance(said, dict) else step, said) for step, said in chosen]
        chosen.sort(key=lambda made: made[0])
        plan = plan_with(
            [{"at": at(step), "channel": 1, "set": said} for step, said in chosen],
            [entry("on" if on else "off", clock_text(minute)) for on, minute in rows],
            on_return_to_auto="waits" if waits else "computes",
        )
        self.assertEqual(halves_on(plan), SteppedUnit(rows, chosen, waits=waits).outputs(DAYS))

    EVENING = [entry("on", "18:00"), entry("off", "23:00")]

    def on_hours(self, *overrides, **unit):
        """The first two days' spans, in hours after the first midnight."""
        plan = plan_with(list(overrides), self.EVENING, **unit)
        return [(on / 3600, off / 3600) for on, off in local(plan, FIRST, date(2027, 3, 2))]

    def test_timers(self):
        def set_at(minute, setting):
            return {"at": at(2 * minute), "channel": 1, "set": setting}

        usual = [(18, 23), (42, 47)]
        for setting, expected in [
            (set_at(600, {"boost_min": 90}), [(10, 11.5), *usual]),
            (set_at(22 * 60, {"boost_min": 120}), [(18, 24), (42, 47)]),
            (set_at(22 * 60, {"countdown_min": 120, "then": "off"}), [(18, 24), (42, 47)]),
            (set_at(17 * 60, {"countdown_min": 120, "then": "on"}), [(19, 23), (42, 47)]),
            (set_at(17 * 60, {"countdown_min": 420, "then": "on"}), [(24, 47)]),
            (set_at(12 * 60, {"holiday_days": 1}), [(42, 47)]),
            (set_at(12 * 60, {"holiday_days": 2}), []),
            (set_at(20 * 60, "off"), [(18, 20)]),
        ]:
            with self.subTest(setting=setting, expected=expected):
                self.assertEqual(self.on_hours(setting), expected, setting)

    def test_power_cuts_and_the_reserve(self):
        cut = {"at": at(2 * 19 * 60), "set": {"power_cut_h": 2}}
        later = {"at": at(2 * 22 * 60), "set": {"clock_set": True}}
        self.assertEqual(self.on_hours(cut), [(18, 19), (21, 23), (42, 47)])
        self.assertEqual(self.on_hours(cut, reserve_h=2), [(18, 19), (21, 23), (42, 47)])
        self.assertEqual(self.on_hours(cut, reserve_h=1), [(18, 19)])
        self.assertEqual(self.on_hours(cut, later, reserve_h=1), [(18, 19), (22, 23), (42, 47)])
        by_hand = {"at": at(2 * (18 * 60 + 30)), "channel": 1, "set": "on"}
        self.assertEqual(self.on_hours(by_hand, cut), [(18, 19), (21, 48)])
        # A flashing clock lets nothing act, not even a key.
        press = {"at": at(2 * 22 * 60), "channel": 1, "set": "on"}
        self.assertEqual(self.on_hours(cut, press, reserve_h=1), [(18, 19)])


class ChannelModesTest(unittest.TestCase):
    def test_together_every_entry_acts_on_all(self):
        rows = [entry("on", "10:00"), entry("off", "11:00", channels=[2])]
        plan = make_plan([], rows, site=DESERT, channels=[[], []], channel_mode="together")
        for channel in (0, 1):
            with self.subTest(channel=channel):
                self.assertEqual(local(plan, FIRST, FIRST, channel), [(36000, 39600)])

    def test_operating_modes_say_which_entries_act(self):
        rows = [entry("on", "sunset"), entry("off", "sunrise"), entry("on", "04:00"), entry("off", "22:00")]
        sun = {"source": "photocell", "altitude_deg": -0.8333, "delay_min": 0}
        for operating, acting in [
            ("program", {0, 1, 2, 3}),
            ("manual", set()),
            ("light", {0, 1}),
            ("light-on-timed-off", {0, 3}),
            ("timed", {2, 3}),
        ]:
            with self.subTest(operating=operating, acting=acting):
                plan = make_plan([], rows, site=DESERT, sun=sun, operating=operating)
                self.assertEqual({int(slot) for slot in replay(plan, FIRST, LAST).events.slot}, acting)


class KeyingsTest(unittest.TestCase):
    LATE = [entry("on", "20:00"), entry("off", "22:00")]

    def hours(self, back, keyings, first, last):
        plan = make_plan([], [entry("on", "18:00"), entry("off", "02:00")], site=DESERT, keyings=keyings,
                         on_return_to_auto=back)  # fmt: skip
        return [(on / 3600, off / 3600) for on, off in local(plan, first, last)]

    def test_from_its_date_on_the_new_set_stands_in_the_unit(self):
        keyings = [{"from": "2027-03-03", "entries": self.LATE}]
        days = (date(2027, 3, 2), date(2027, 3, 3))
        # At the midnight of the keying the lights are on: a unit that computes puts them out, one that waits does not.
        self.assertEqual(self.hours("computes", keyings, *days), [(0, 2), (18, 24), (44, 46)])
        self.assertEqual(self.hours("waits", keyings, *days), [(0, 2), (18, 46)])

    def test_a_keying_of_each_year_comes_back(self):
        keyings = [{"from": "03-03", "entries": self.LATE}, {"from": "03-04", "entries": []}]
        for year in (2027, 2031):
            with self.subTest(year=year):
                days = (date(year, 3, 3), date(year, 3, 5))
                self.assertEqual(self.hours("computes", keyings, *days), [(20, 22)])

    def test_it_reads_and_writes_itself(self):
        keyings = [{"from": "2027-03-03", "name": "Winter", "entries": self.LATE}, {"from": "10-01", "entries": []}]
        plan = make_plan([], self.LATE, keyings=keyings)
        self.assertEqual(read_plan(Node(plan.to_json())), plan)
        self.assertEqual(plan.unit.slot_of(3), (1, 1))
