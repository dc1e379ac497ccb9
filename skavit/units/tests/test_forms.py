"""Forms of windows and entries: what a form shows and is sent back unchanged is what it was."""

import unittest
import unittest.mock

from django.core.exceptions import ImproperlyConfigured
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from skavit.core.ground.strict_json import Node
from skavit.core.plan.window import Window
from skavit.core.tests import builders
from skavit.core.tests.builders import entry, make_plan, window
from skavit.core.text.typed import clock_word, month_day_word
from skavit.core.text.wording import Words
from skavit.server import environment
from skavit.switching.pages.unit.rows import form_at
from skavit.units.pages.settings.forms import BehaviourForm, SunForm
from skavit.units.pages.unit.fields import days_fields, days_json, time_fields, time_json

windows = st.one_of(
    st.builds(
        lambda a, b, days, ends: window(a, b, days, ends=ends),
        builders.times, builders.times, builders.all_days, st.sampled_from(["same-day", "next-day"]),
    ),
    st.builds(lambda a, days: window(a, "24:00", days), builders.times, builders.all_days),
    st.builds(
        lambda a, minutes, days: {"from": a, "for_min": minutes, "days": days},
        builders.times, st.integers(1, 5000), builders.all_days,
    ),
)  # fmt: skip
pulsing = st.builds(
    lambda row, on_s, more: row | {"repeat": {"on_s": on_s, "every_s": on_s + more}},
    windows, st.integers(1, 500), st.integers(1, 500),
)  # fmt: skip
entries = st.one_of(
    st.builds(entry, st.sampled_from(["on", "off"]), builders.times, builders.all_days),
    st.builds(lambda at, days, s: entry("pulse", at, days) | {"seconds": s}, builders.times, builders.all_days,
              st.integers(1, 5999)),
    st.builds(lambda days, on_s, off_s: entry("on", "06:00", days) | {
        "repeat": {"on_s": on_s, "off_s": off_s, "until": "07:10:30"}}, builders.all_days, st.integers(1, 99),
              st.integers(1, 999)),
)  # fmt: skip
SLOWLY = settings(max_examples=40, suppress_health_check=[HealthCheck.too_slow])


def sent_back(form):
    """What a browser posts for a form that is left as it shows."""
    data = {}
    for name, field in form.fields.items():
        value = form.get_initial_for_field(field, name)
        if value is not None and value is not False and value != "":
            data[name] = value
    return data


class RoundTripTest(unittest.TestCase):
    def again(self, place, plan):
        shown = form_at(place, plan, 7, Words())
        form = form_at(place, plan, 7, Words(), sent_back(shown))
        self.assertTrue(form.is_valid(), form.errors)
        return form.edit(plan)

    @SLOWLY
    @given(st.one_of(windows, pulsing))
    def test_a_window_form_left_alone_changes_nothing(self, row):
        plan = make_plan([row])
        self.assertEqual(self.again("window-1-0", plan), plan)

    @SLOWLY
    @given(entries)
    def test_an_entry_form_left_alone_changes_nothing(self, row):
        plan = make_plan([], [row])
        self.assertEqual(self.again("entry-0", plan), plan)

    @SLOWLY
    @given(
        st.fixed_dictionaries(
            {},
            optional={
                "entries": st.integers(0, 40),
                "day_groups": st.lists(
                    st.sampled_from(["daily", "weekdays", "weekends", "any", "single-days"]), min_size=1, unique=True
                ),
                "clock_step_s": st.integers(1, 3600),
                "sun_offset_max_min": st.integers(0, 720),
                "sun_events": st.lists(st.sampled_from(["dawn", "sunset"]), min_size=1, unique=True),
                "limited_times": st.just(True),
                "actions": st.sampled_from(
                    [["on", "off"], ["on"], ["on", "off", "repeat"], ["on", "off", "pulse", "repeat"]]
                ),
                "slots": st.sampled_from(
                    [
                        [{"shape": "pair"}],
                        [{"shape": "pair", "off_days": "same"}],
                        [{"shape": "pair", "count": 3}],
                        [{"shape": "single", "count": 3}, {"shape": "pair", "count": 2, "per": "channel"}],
                    ]
                ),
                "holiday_days_max": st.integers(1, 30),
            },
        ),
        st.sampled_from(["zone", "none", "us", {"changes": [{"on": "2027-04-04T10:00", "shift_min": 0}]}]),
        st.sampled_from([{}, {"channel_mode": "pulse", "pulse_s": 9}, {"operating": "timed", "reserve_h": 7.5}]),
    )
    def test_clock_and_memory_left_alone_change_nothing(self, limits, dst, unit):
        plan = make_plan([], [], limits=limits, clock={"dst": dst}, **unit)
        form = BehaviourForm(sent_back(BehaviourForm.showing(plan, 3)), plan=plan)
        self.assertTrue(form.is_valid(), form.errors)
        kept = form.edit(plan).unit
        self.assertEqual((kept.clock, _as_set(kept.limits)), (plan.unit.clock, _as_set(plan.unit.limits)))
        shown = ("channel_mode", "pulse_s", "operating", "reserve_h")
        self.assertEqual([getattr(kept, name) for name in shown], [getattr(plan.unit, name) for name in shown])

    def test_sun_settings_left_alone_change_nothing(self):
        for sun in (
            {"source": "site"},
            {"source": "site", "adjust": {"sunrise_min": 5, "sunset_min": 0}, "utc_offset_min": 600},
            {"source": "coordinates", "latitude": -36.85, "longitude": 174.76, "when_no_sun": "skip"},
            {"source": "table", "latitude": -44},
            {"source": "photocell", "altitude_deg": -3.5, "delay_min": 0},
            {"source": "none"},
        ):
            with self.subTest(sun=sun):
                plan = make_plan([], [], sun=sun)
                form = SunForm(sent_back(SunForm.showing(plan, 3)), plan=plan)
                self.assertTrue(form.is_valid(), form.errors)
                self.assertEqual(form.edit(plan), plan)

    @SLOWLY
    @given(builders.times, builders.all_days)
    def test_fields_say_what_the_plan_says(self, time, days):
        read = Window.read(Node(window(time, "24:00", days)))
        self.assertEqual(time_json(time_fields(read.start, "at"), "at"), read.start.to_json())
        self.assertEqual(
            Window.read(Node(window(time, "24:00", days_json(days_fields(read.days), read.days)))).days, read.days
        )


def _as_set(limits):
    raw = limits.to_json()
    return {key: sorted(map(str, value)) if isinstance(value, list) else value for key, value in raw.items()}


class TypedTest(unittest.TestCase):
    def test_clock_times_and_dates_as_people_type_them(self):
        for typed, meant in [
            ("10:40 pm", "22:40"), ("12:00am", "00:00"), ("12 pm", "12:00"), ("6:40", "06:40"), ("640", "06:40"),
            ("22.40", "22:40"), ("13 pm", "13 pm"), ("noon", "noon"), ("7:05:30 AM", "07:05:30"), ("0 am", "0 am"),
        ]:  # fmt: skip
            with self.subTest(typed=typed, meant=meant):
                self.assertEqual(clock_word(typed), meant)
        for typed, meant in [
            ("14 Nov", "11-14"), ("November 14", "11-14"), ("11-14", "11-14"), ("x", "x"), ("3. feb", "02-03"),
        ]:  # fmt: skip
            with self.subTest(typed=typed, meant=meant):
                self.assertEqual(month_day_word(typed), meant)


class EnvironmentTest(unittest.TestCase):
    def test_flags_and_words_are_read_strictly(self):
        with unittest.mock.patch.dict("os.environ", {"A": "1", "B": "yes", "C": "x, y,,z "}):
            self.assertTrue(environment.flag("A", default=False))
            self.assertFalse(environment.flag("NOT_SET", default=False))
            with self.assertRaisesMessage("B is 'yes'; accepted: 0 or 1"):
                environment.flag("B", default=False)
            self.assertEqual(environment.words("C", ""), ["x", "y", "z"])
            self.assertEqual(environment.text("NOT_SET", "d"), "d")

    def assertRaisesMessage(self, text):  # noqa: N802
        return self.assertRaisesRegex(ImproperlyConfigured, text)
