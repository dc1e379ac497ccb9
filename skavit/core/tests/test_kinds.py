"""Kinds of unit: their files, and the sheet of each followed to the letter on a simulated keypad."""

import json
import unittest
from dataclasses import replace
from datetime import date

import numpy as np

from skavit.core.fitting import fit
from skavit.core.ground.arrays import DAY_S
from skavit.core.ground.errors import PlanError
from skavit.core.kinds import parse_kind, shipped_kinds
from skavit.core.kinds.parts import Press
from skavit.core.kinds.place import place_for
from skavit.core.plan.days import WEEKDAYS
from skavit.core.plan.sun_settings import SunSettings
from skavit.core.plan.times import day_number
from skavit.core.sheet import steps
from skavit.core.sheet.keypad import Keypad, WrongKey
from skavit.core.simulation.handover import handover
from skavit.core.simulation.replay import replay
from skavit.core.site.almanac import unit_almanac
from skavit.core.site.clock import zone_clock
from skavit.core.tests import schemas
from skavit.core.tests.builders import entry, local_instant, make_plan, switching_kinds, window
from skavit.core.tests.following import follow
from skavit.core.text.wording import PLAIN

NOW = day_number(date(2027, 2, 16)) * DAY_S + 14 * 3600 + 25 * 60  # a Tuesday
CALENDAR_YEAR = date(2027, 1, 1), date(2027, 12, 31)
KINDS = {kind.name: kind for kind in shipped_kinds()}


def plan_for(kind):
    """A plan that a unit of the kind can hold, on all of its channels."""
    channels = range(1, min(kind.channels, 2) + 1)
    rows = [[] for _ in range(kind.channels)]
    unit = {"limits": kind.plan_limits.to_json(), "on_return_to_auto": kind.modes.returns}
    if kind.sun.meaning == "light":
        light = {"source": "photocell", "altitude_deg": -3, "delay_min": 1}
        return make_plan([], [entry("on", "sunset"), entry("off", "22:45")], sun=light, **unit)
    if kind.slot.shape == "single" and kind.sun.place != "none":
        windows = [window("sunset+20", "22:40"), window("05:30", "sunrise-10", "weekdays")]
        for n in channels:
            rows[n - 1] = windows
        plan = make_plan(channels=rows, **unit)
        plan = replace(plan, unit=replace(plan.unit, sun=place_for(kind, plan.site, SunSettings())))
        return fit(plan, 2027).plan
    days = ["mon", "thu"] if any(t.field == "mon" for t in kind.slot_dialogue.fields) else "daily"
    if any(t.field == "from_day" for t in kind.slot_dialogue.fields):
        days = {"days": "weekdays", "between": ["02-01", "11-30"]}
    second = ":10" if kind.limits.clock_step_s == 1 else ""
    entries = [
        e for n in channels for e in (entry("on", f"06:10{second}", days, [n]), entry("off", "06:40", days, [n]))
    ]
    return make_plan(channels=rows, entries=entries, **unit)


def sheet_of(kind, plan):
    instant = local_instant(plan, NOW)
    return steps(plan, replay(plan, *CALENDAR_YEAR), handover(plan, instant), instant, PLAIN, kind)


def seconds_of(hour, minute, second="00"):
    """A shown time in seconds after midnight: 06 and 40, or 6 PM and 40."""
    number, _, half = hour.partition(" ")
    hours = int(number) if not half else int(number) % 12 + (12 if half == "PM" else 0)
    return hours * 3600 + int(minute) * 60 + int(second)


class Decoded:
    """What a keypad holds, read back as a person would and by no code of the sheet."""

    def __init__(self, kind, keypad):
        self.kind, self.keypad = kind, keypad

    def time(self, values, half):
        event = values.get(f"{half}event", "TIME")
        if event != "TIME":
            sun = self.kind.sun
            names = {"light": ("sunrise", "sunset"), "dawn": ("dawn", "dusk")}.get(sun.meaning, ("sunrise", "sunset"))
            name = names[0] if event == sun.morning_word else names[1]
            return name + values.get(f"{half}offset", "0").replace("0", "", values.get(f"{half}offset", "0") == "0")
        return seconds_of(values[f"{half}hour"], values[f"{half}minute"], values.get(f"{half}second", "00"))

    def days(self, values):
        lit = values.get("days", "Mo Tu We Th Fr Sa Su").split()
        if "mon" in values:
            lit = [values[name] for name in WEEKDAYS if values[name] != "–"]
        season = tuple(
            int(values[f"{w}_month"]) * 100 + int(values[f"{w}_day"]) for w in ("from", "to") if f"{w}_day" in values
        )
        return tuple(lit), season

    def entries(self):
        found = []
        for values in filter(None, self.keypad.memory):
            shared = (values.get("channel", "1"), *self.days(values))
            shape = self.kind.slot.shape
            if shape == "single":
                found.append((values["action"] == self.kind.slot.on_word, self.time(values, ""), *shared))
            elif shape == "run":
                start = self.time(values, "")
                found += [(True, start, *shared), (False, start + int(values["run"]) * 60, *shared)]
            else:
                found += [(half == "on_", self.time(values, half), *shared) for half in ("on_", "off_")]
        return sorted(found, key=str)


def expected_entries(kind, plan):
    """The plan's entries in the same form."""
    found = []
    for e in plan.unit.entries:
        raw = e.to_json()
        days, season = raw["days"], ()
        if isinstance(days, dict):
            season = tuple(int(part.replace("-", "")) for part in days["between"])
            days = days["days"]
        elif any(t.field == "from_day" for t in kind.slot_dialogue.fields):
            season = (101, 1231)
        names = {"daily": WEEKDAYS, "weekdays": WEEKDAYS[:5], "weekends": WEEKDAYS[5:]}.get(
            days if isinstance(days, str) else "", days
        )
        at = raw["at"]
        if at[0].isdigit():
            at = seconds_of(at[:2], at[3:5], at[6:8] or "00")
        lit = tuple(name.capitalize()[:2] for name in names)
        found.append((raw["action"] == "on", at, "+".join(map(str, raw["channels"])), lit, season))
    return sorted(found, key=str)


class KeypadTest(unittest.TestCase):
    """The keypad knows the kind alone; it fails on any key that the kind does not have or that does nothing there."""

    def test_every_shipped_kind_ends_with_just_the_plan(self):
        for kind in switching_kinds():
            with self.subTest(kind.name):
                plan, keypad = plan_for(kind), Keypad(kind)
                self.assertTrue(plan.unit.entries)
                self.assertEqual(follow(keypad, sheet_of(kind, plan)), [])
                self.assertEqual(Decoded(kind, keypad).entries(), expected_entries(kind, plan))
                self.assertEqual(keypad.open, "")
                self.assertEqual(keypad.kind.modes.cycle[keypad.mode].means, "auto")
                self.assertEqual((keypad.was_reset, "lock" in keypad.touched), (bool(kind.reset), bool(kind.lock)))
                self.check_clock(kind, keypad)
                if plan.unit.sun.source != "photocell" and kind.sun.place != "none":
                    self.check_sun(kind, keypad, plan)

    def check_clock(self, kind, keypad):
        # NZ daylight time in February: every rule that a kind can be given here makes the unit show it.
        clock = keypad.settings["clock"]
        self.assertEqual(seconds_of(clock["hour"], clock["minute"]), 14 * 3600 + 25 * 60)
        if kind.clock.has_date:
            self.assertEqual(list(keypad.settings["date"].values()), ["2027", "2", "16"])
        else:
            self.assertEqual(clock.get("weekday", "Tu"), "Tu")
        if "rule" in keypad.settings:
            told = keypad.settings["rule"]
            law = ["own", "9", "last", "4", "1"] if "own" in kind.clock.rules else ["none"]
            self.assertEqual(list(told.values()), law)

    def check_sun(self, kind, keypad, plan):
        place = keypad.settings["place"]
        if kind.sun.place == "coordinates":
            self.assertEqual(place, {"latitude": "39 S", "longitude": "177 E", "utc": "+12:00"})
        elif kind.sun.place == "region":
            self.assertEqual(place, {"region": "B"})
        else:
            self.assertEqual(place, {"table": "40 S"})
        for number in range(1, len(plan.channels) + 1):
            adjust = plan.adjust_of(number)
            if kind.sun.offset == "minutes":
                keyed = keypad.settings["correction"]
                self.assertEqual(
                    # A margin of its own is taken off: DUSK, which reads 15 min after sunset, is brought to sunset.
                    (int(keyed["rise_min"]), int(keyed["set_min"])),
                    (adjust.sunrise_min + kind.margin_min, adjust.sunset_min - kind.margin_min),
                )
            if kind.sun.offset == "clock-time":
                self.check_corrected_times(keypad.rows["correction"][(str(number),)], plan, adjust)

    def check_corrected_times(self, keyed, plan, adjust):
        today = NOW // DAY_S
        book = unit_almanac(plan.site, SunSettings(source="table", latitude=-40.0), today, today)
        row = book.rows(today, today).start
        clock = zone_clock(plan.site.timezone, 2026, 2028)
        for name, event, minutes in (("rise", 1, adjust.sunrise_min), ("set", 2, adjust.sunset_min)):
            own = int(clock.digits(np.array([book.sun.times[event, row]]))[0])
            shown = seconds_of(keyed[f"{name}_hour"], keyed[f"{name}_minute"])
            self.assertLessEqual(abs(shown - (own + minutes * 60) % DAY_S), 30)
            self.assertNotEqual(minutes, 0)

    def test_a_keypad_refuses_other_keys(self):
        keypad = Keypad(KINDS["Room thermostat"])
        for keys in (("ok",), ("day",)):
            with self.subTest(keys=keys), self.assertRaises(WrongKey):
                keypad.press(Press(keys=keys))

    def test_a_step_left_out_is_seen(self):
        kind = KINDS["Wall switch, weekly"]
        plan, keypad = plan_for(kind), Keypad(kind)
        follow(keypad, [step for step in sheet_of(kind, plan) if step.kind != "empty"][:-3])
        self.assertNotEqual(Decoded(kind, keypad).entries(), expected_entries(kind, plan))


class SheetTest(unittest.TestCase):
    def test_half_an_hour_after_sunset_as_todays_corrected_time_by_channel(self):
        # Two channels, two offsets; the table of 40 S at 180 E is some 12 minutes early here, and the one correction
        # that a channel has makes up for that too, as well as one can over the year.
        kind = KINDS["Panel switch, two channels, by zone table"]
        rows = [[window("sunset+30", "22:40")], [window("sunset-10", "22:40")]]
        plan = make_plan(channels=rows, limits=kind.plan_limits.to_json())
        plan = fit(replace(plan, unit=replace(plan.unit, sun=place_for(kind, plan.site, SunSettings()))), 2027).plan
        found = [step for step in sheet_of(kind, plan) if step.kind == "correction"]
        self.assertEqual([step.title for step in found], ["Channel 1, correction", "Channel 2, correction"])
        shown = [step.display.rows[1].value for step in found]
        minutes = [int(text[:2]) * 60 + int(text[3:]) for text in shown]
        self.assertEqual(minutes[0] - minutes[1], 40)
        # True sunset on 16 February 2027 by PyEphem, to the minute: 20:13.
        self.assertAlmostEqual(minutes[0], 20 * 60 + 13 + 30, delta=3)
        check = next(step for step in sheet_of(kind, plan) if step.kind == "suncheck").display.rows[1].value
        adjust = plan.adjust_of(1).sunset_min
        self.assertEqual(minutes[0] - (int(check[:2]) * 60 + int(check[3:])), adjust)

    def test_all_that_was_keyed_is_read_back(self):
        kind = KINDS["Panel switch, two channels, by coordinates"]
        pair = [entry("on", "sunset-20", "weekdays", [2]), entry("off", "22:10:00", "daily", [1])]
        step = next(s for s in sheet_of(kind, make_plan(channels=[[], []], entries=pair)) if s.kind == "readback")
        self.assertEqual(
            [(row.word, row.value, row.detail) for row in step.display.rows],
            [("1 ON", "sunset", "− 20 min, Channel 2, Mon to Fri"), ("2 OFF", "22:10", "Channel 1, every day")],
        )

    def test_mains_are_warned_of_where_there_are_any(self):
        for name, warned in (("Wall switch, weekly", True), ("Tap timer, four outlets", False)):
            with self.subTest(name):
                found = sheet_of(KINDS[name], make_plan([], [entry("on", "06:00"), entry("off", "07:00")]))
                self.assertEqual(bool(next(s for s in found if s.kind == "found").caution), warned)

    def test_what_does_not_apply_is_left_out(self):
        kind = KINDS["Panel switch, one channel, by coordinates"]
        clock_only = make_plan([], [entry("on", "18:00"), entry("off", "19:00")], limits=kind.plan_limits.to_json())
        sections = {step.kind for step in sheet_of(kind, clock_only)}
        self.assertFalse(sections & {"place", "suncheck", "correction"})
        self.assertIn("rule", sections)

    def test_after_a_reset_a_few_empty_slots_prove_the_others(self):
        pair = [entry("on", "06:00"), entry("off", "07:00")]
        for name, repeat, say in (
            (
                "Yearly relay timer",
                2,
                "Look at slots 3 to 4: each must show nothing, and then so do the others up to 200.",
            ),
            # Its reset leaves times in 12 slots: those are looked at one by one.
            ("Heating programmer, two channels", 11, "Step through pairs 2 to 12: 11 pairs"),
            ("Tap timer, four outlets", 11, "Step through pairs 2 to 12: 11 pairs"),
        ):
            with self.subTest(name):
                step = next(s for s in sheet_of(KINDS[name], make_plan([], pair)) if s.kind == "empty")
                self.assertEqual((step.repeat, say in step.say), (repeat, True), step.say)

    def test_the_order_is_the_kinds_own(self):
        kind = KINDS["Multi-station controller"]
        found = [step.kind for step in sheet_of(kind, plan_for(kind))]
        self.assertLess(found.index("reset"), found.index("before"))
        turned = kind.with_order(tuple(reversed(kind.order)))
        self.assertEqual(sheet_of(turned, plan_for(kind))[0].kind, "output")

    def test_what_a_kind_cannot_hold_names_the_entry(self):
        pair = [entry("on", "18:00"), entry("off", "22:00")]
        for name, entries, wrong in [
            (
                "Wall switch, weekly",
                [entry("on", "sunset"), entry("off", "22:00")],
                "entry 1: its slots take no sunset",
            ),
            ("Wall switch, weekly", [entry("on", "18:00", {"parity": "odd"})], "cannot hold odd dates"),
            ("Plug-in weekly switch", [entry("on", "18:00", "weekends")], "entry 1 has no OFF"),
            ("Heating programmer, two channels", [entry("on", "06:15"), entry("off", "07:00")], "minute cannot be 15"),
        ]:
            with self.subTest(name):
                # What comes before it and after it keeps its keys; it can never be ticked.
                found = [s for s in sheet_of(KINDS[name], make_plan([], [*entries, *pair])) if s.kind == "slot"]
                refused = [step for step in found if step.refused]
                self.assertIn(wrong, refused[0].refused)
                self.assertEqual({step.key for step in refused}, {""})
                self.assertTrue(found[-1].presses and not found[-1].refused)

    def test_more_entries_than_slots_are_refused_at_the_last(self):
        rows = [e for n in range(9) for e in (entry("on", f"{n:02d}:00"), entry("off", f"{n:02d}:30"))]
        found = [s for s in sheet_of(KINDS["Plug-in weekly switch"], make_plan([], rows)) if s.kind == "slot"]
        self.assertEqual([bool(step.refused) for step in found], [False] * 8 + [True])

    def test_what_stands_beside_the_entries_has_its_steps(self):
        kind = KINDS["Yearly relay timer"]
        holidays = [{"from": "12-25", "days": 2}, {"from": "2027-02-08", "days": 1}]
        plan = make_plan([], [{**entry("pulse", "10:40", "weekdays"), "seconds": 5}], holidays=holidays,
                         channel_mode="together")  # fmt: skip
        keypad = Keypad(kind)
        found = sheet_of(kind, plan)
        self.assertEqual([step.title for step in found if step.refused], [])
        self.assertEqual(follow(keypad, found), [])
        self.assertEqual(list(keypad.rows["holidays"].values()), [
            {"holiday": "1", "year": "----", "from_month": "12", "from_day": "25", "to_month": "12", "to_day": "26"},
            {"holiday": "2", "year": "2027", "from_month": "2", "from_day": "8", "to_month": "2", "to_day": "8"},
        ])  # fmt: skip
        held = keypad.memory[0]
        self.assertEqual((held["action"], held["pulse"], held["hour"], held["minute"]), ("PULSE", "5", "10", "40"))
        self.assertEqual(keypad.settings["channels"], {"channel_mode": "BOTH"})
        self.assertEqual(keypad.touched, ["lock", "pin"])

    def test_what_a_kind_has_no_step_for_is_said_and_never_done(self):
        kind = KINDS["Wall switch, weekly"]
        more = {"holidays": [{"from": "12-25", "days": 1}], "channel_mode": "pulse"}
        found = sheet_of(kind, make_plan([], [entry("on", "18:00"), entry("off", "22:00")], **more))
        told = [(step.say, step.key) for step in found if step.kind == "unheld"]
        self.assertEqual(told, [("The plan has 1 holiday.", ""), ("The plan has channels that switch in pulses.", "")])
        by_sun = KINDS["Panel switch, one channel, by coordinates"]
        adjusted = make_plan([], [entry("on", "sunset")], sun={"source": "site", "adjust": {"sunset_min": 5}})
        self.assertIn("a correction of its sun times", next(s.say for s in sheet_of(by_sun, adjusted)))

    def test_mist_is_keyed_with_its_spray_and_pause(self):
        kind = KINDS["Misting timer"]
        mist = window("06:00", "18:00", "weekdays", repeat={"on_s": 10, "every_s": 240})
        plan = fit(make_plan([mist, window("19:00", "19:30")], limits=kind.plan_limits.to_json()), 2027)
        self.assertEqual(plan.losses, ())
        keypad = Keypad(kind)
        self.assertEqual(follow(keypad, sheet_of(kind, plan.plan)), [])
        held = [[slot[name] for name in ("on_hour", "off_hour", "spray_s", "pause_min", "pause_s", "days")]
                for slot in filter(None, keypad.memory)]  # fmt: skip
        self.assertEqual(sorted(held), [
            ["06", "18", "10", "03", "50", "Mo Tu We Th Fr"], ["19", "19", "00", "00", "00", "Mo Tu We Th Fr Sa Su"],
        ])  # fmt: skip

    def test_summer_time_by_hand_is_told_with_its_two_dates(self):
        kind = KINDS["Plug-in weekly switch"]
        pair = [entry("on", "18:00"), entry("off", "22:00")]
        say = {s.kind: s.say for s in sheet_of(kind, make_plan([], pair))}
        # New Zealand, from February 2027: back on the first Sunday of April, on again on the last of September.
        self.assertEqual(say["summer"], "Daylight saving is on now: the display must show so. It knows no rule. Move it on Sun "
                         "4 Apr 2027 at 03:00 back by 1 h, and on Sun 26 Sep 2027 at 02:00 on by 1 h.".replace("03:00", "3:00 am")
                         .replace("02:00", "2:00 am"))  # fmt: skip
        self.assertIn("moved by hand, on the dates of the law", say["clock"])
        never = make_plan([], pair, clock={"dst": {"changes": [], "initial_min": 60}})
        say = {s.kind: s.say for s in sheet_of(kind, never)}
        self.assertIn("Nobody moves it within a year", say["summer"])
        # A kind whose rules are none of the law's: only dates to come are named.
        weekly = {s.kind: s.say for s in sheet_of(KINDS["Wall switch, weekly"], make_plan([], pair))}
        self.assertIn("Move it by hand: on Sun 4 Apr 2027", weekly["rule"])
        self.assertNotIn("Jan", weekly["rule"])


class FileTest(unittest.TestCase):
    def test_every_kind_comes_back_and_fits_the_schema(self):
        for kind in shipped_kinds():
            written = json.dumps(kind.to_json())
            self.assertEqual(parse_kind(written.encode()), kind)
            schemas.KIND.validate(json.loads(written))

    def test_malformed_kinds_are_refused_at_the_place(self):
        good = KINDS["Room thermostat"].to_json()
        for change, path in [
            ({"format": "skavit-kind/2"}, "format"),
            ({"channels": 0}, "channels"),
            ({"colour": "red"}, "colour"),
            ({"keys": ["clock"]}, "clock_dialogue.fields[0].key"),
            ({"clock": {"hours": 13}}, "clock.hours"),
            ({"order": ["found", "found"]}, "order"),
            ({"order": ["dance"]}, "order[0]"),
            ({"limits": {"entries": -1}}, "limits.entries"),
            ({"slot": {"shape": "triple"}}, "slot.shape"),
            ({"modes": {"key": "mode", "cycle": [{"word": "ON", "means": "on"}]}}, "modes.cycle"),
        ]:
            with self.subTest(path), self.assertRaises(PlanError) as caught:
                parse_kind(json.dumps({**good, **change}).encode())
            self.assertEqual(caught.exception.path, path)
            self.assertTrue(caught.exception.accepted)
