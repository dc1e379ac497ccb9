"""Hand-over, purposes, the entry sheet, and the command line."""

import contextlib
import io
import json
import os
import subprocess
import sys
import tempfile
import unittest
from datetime import date, datetime
from pathlib import Path
from zoneinfo import ZoneInfo

from skavit.core.__main__ import main
from skavit.core.plan.times import day_number
from skavit.core.sheet import DisplayRow, steps
from skavit.core.simulation.handover import handover
from skavit.core.simulation.purpose import purposes
from skavit.core.simulation.replay import replay
from skavit.core.tests.builders import document, entry, local_instant, make_plan, window
from skavit.core.text.wording import PLAIN, SUMMER_TIME, Words

EXAMPLE = document(
    [window("sunset+10", "22:40"), window("05:20", "sunrise", "weekdays")],
    [entry("on", "sunset+10"), entry("off", "22:40"), entry("on", "05:20", "weekdays"), entry("off", "sunrise")],
    limits={"entries": 8},
)
MONDAY_NOON = day_number(date(2027, 12, 6)) * 86400 + 12 * 3600


def plan_at(**unit):
    return make_plan(EXAMPLE["channels"][0]["windows"], EXAMPLE["unit"]["entries"], limits={"entries": 8}, **unit)


def sheet_at_noon(plan, year, words=PLAIN):
    instant = local_instant(plan, MONDAY_NOON)
    return steps(plan, year, handover(plan, instant), instant, words)


class HandoverTest(unittest.TestCase):
    def test_state_mode_and_next_switchings(self):
        for back, hour, mode, program in [
            ("computes", 12, "auto", False),
            ("computes", 22, "auto", True),
            ("waits", 12, "auto-off", False),
            ("waits", 22, "auto-on", True),
        ]:
            with self.subTest(back=back, hour=hour, mode=mode, program=program):
                plan = plan_at(on_return_to_auto=back)
                found = handover(plan, local_instant(plan, MONDAY_NOON + (hour - 12) * 3600))[0]
                self.assertEqual((found.leave_in, found.program, found.wanted), (mode, program, program))
        zone = ZoneInfo("Pacific/Auckland")
        found = handover(plan, local_instant(plan, MONDAY_NOON))[0]
        told = [(datetime.fromtimestamp(s.instant, zone).strftime("%a %H:%M"), s.on, s.slot) for s in found.next]
        # Sunset on 6 December 2027 at 39.49 S is 20:27 and some seconds, daylight time (the sun's own test stands behind it).
        self.assertEqual(told, [("Mon 20:37", True, 1), ("Mon 22:40", False, 2), ("Tue 05:20", True, 3)])

    def test_an_output_brought_off_by_hand_is_next_switched_by_the_entry_that_acts(self):
        # Its OFF is missing on Sundays: the program has it on since Saturday, and by hand it was brought off.
        rows = [entry("on", "18:00"), entry("off", "22:00", ["mon", "tue", "wed", "thu", "fri", "sat"])]
        plan = make_plan([window("18:00", "22:00")], rows, on_return_to_auto="waits")
        found = handover(plan, local_instant(plan, MONDAY_NOON))[0]
        self.assertEqual((found.program, found.leave_in, found.output), (True, "auto-off", False))
        self.assertEqual([s.on for s in found.next], [True, False, True])
        self.assertEqual(found.next[0].instant, local_instant(plan, MONDAY_NOON + 6 * 3600))

    def test_purposes_name_the_windows(self):
        found = purposes(replay(plan_at(), date(2027, 1, 1), date(2027, 12, 31)))
        self.assertEqual(
            [p.serves for p in found], ["evening begins", "evening ends", "morning begins", "morning ends"]
        )
        self.assertEqual([p.switches_days for p in found], [365, 365, 261, 261])

    def test_a_bent_entry_serves_the_window_that_nothing_else_meets(self):
        rows = [
            entry("on", "sunset"),
            entry("off", "22:15"),
            entry("off", "22:40"),
            entry("on", "05:00", "weekdays"),
            entry("off", "06:30"),
        ]
        plan = make_plan(EXAMPLE["channels"][0]["windows"], rows)
        found = purposes(replay(plan, date(2027, 1, 1), date(2027, 12, 31)))
        self.assertEqual(
            [p.serves for p in found], ["evening begins", "", "evening ends", "morning begins", "morning ends"]
        )


class SheetTest(unittest.TestCase):
    def sheet(self, **unit):
        plan = plan_at(**unit)
        year = replay(plan, date(2027, 1, 1), date(2027, 12, 31))
        return sheet_at_noon(plan, year)

    def test_order_and_what_the_display_must_read(self):
        found = self.sheet()
        self.assertEqual(
            [step.kind for step in found],
            ["found", "clock", "slot", "slot", "slot", "slot", "empty", "mode", "output"],
        )
        clock, slot = found[1], found[4]
        self.assertIn("Monday", clock.say)
        self.assertEqual(clock.display.rows, (DisplayRow(word="Mon 6 Dec 2027", value="12:00"),))
        self.assertEqual((slot.display.slot, slot.display.rows), (3, (DisplayRow(word="ON", value="05:20"),)))
        self.assertEqual([name for name, lit in slot.display.weekdays if not lit], ["Sa", "Su"])
        self.assertIn("slots 5 to 8", found[6].say)
        self.assertIn("Channel 1 must be OFF", found[-1].say)

    def test_a_waiting_unit_is_brought_by_hand(self):
        self.assertIn("by hand", self.sheet(on_return_to_auto="waits")[-2].say)

    def test_a_changed_slot_gets_another_key(self):
        before = {step.key for step in self.sheet()}
        plan = make_plan(EXAMPLE["channels"][0]["windows"], [entry("on", "sunset+11"), *EXAMPLE["unit"]["entries"][1:]],
                         limits={"entries": 8})  # fmt: skip
        year = replay(plan, date(2027, 1, 1), date(2027, 12, 31))
        after = sheet_at_noon(plan, year)
        # And with other entries it has to be left in automatic, and looked at, anew.
        self.assertEqual([s.kind for s in after if s.key not in before], ["slot", "mode", "output"])


class SheetKindsTest(unittest.TestCase):
    def of(self, entries, *, channels=1, words=None, **unit):
        rows = channels if isinstance(channels, list) else [[window("18:00", "22:00")]] * channels
        plan = make_plan(channels=rows, entries=entries, **unit)
        year = replay(plan, date(2027, 1, 1), date(2027, 12, 31))
        return sheet_at_noon(plan, year, words or Words())

    def display(self, at, days="daily", **more):
        return self.of([entry("on", at, days)], **more)[2].display

    def test_each_kind_of_time_is_read_as_a_unit_shows_it(self):
        for at, time, detail in [
            ("06:40", "06:40", ""),
            ("sunset+10", "sunset", "+ 10 min"),
            ("dawn-45", "dawn", "− 45 min"),
            ({"at": "sunset", "not_before": "17:00"}, "sunset", "not before 17:00"),
            ({"at": "sunset+5", "not_after": "21:00"}, "sunset", "+ 5 min, not after 21:00"),
        ]:
            with self.subTest(at=at, time=time, detail=detail):
                self.assertEqual(self.display(at).rows, (DisplayRow(word="ON", value=time, detail=detail),))
        self.assertEqual(self.display("18:40", words=Words(twelve_hour=True)).rows[0].value, "6:40 pm")

    def test_days_that_are_no_weekdays_are_written_out(self):
        shown = self.display("06:40", {"parity": "odd"})
        self.assertEqual((shown.weekdays, shown.days), ((), "odd dates"))
        self.assertEqual(
            [lit for _, lit in self.display("06:40", ["mon", "sun"]).weekdays], [True] + [False] * 5 + [True]
        )

    def test_channels_are_named_where_there_are_several(self):
        found = self.of([entry("on", "18:00", channels=[1, 2])], channels=2)
        self.assertEqual(found[2].display.channels, "Channel 1 + Channel 2")
        self.assertEqual(self.of([entry("on", "18:00")])[2].display.channels, "")

    def test_slots_of_on_and_slots_of_off_are_counted_as_everywhere(self):
        rows = [entry("on", "07:00"), entry("off", "11:00"), entry("on", "16:00"), entry("off", "21:00")]
        limits = {"slots": [{"shape": "on", "count": 7}, {"shape": "off", "count": 7}]}
        found = [step for step in self.of(rows, limits=limits) if step.kind == "slot"]
        titles = [step.title.split(",")[0] for step in found]
        self.assertEqual(titles, ["ON slot 1", "OFF slot 1", "ON slot 2", "OFF slot 2"])
        self.assertEqual([(step.display.slot_word, step.display.slot) for step in found][2], ("ON slot", 2))

    def test_the_empty_slots_by_what_the_memory_holds(self):
        for limit, text in [(None, "Step on past slot 1"), (1, "The one slot is used"), (4, "slots 2 to 4: 3 slots")]:
            with self.subTest(limit=limit, text=text):
                limits = {} if limit is None else {"entries": limit}
                self.assertIn(text, self.of([entry("on", "18:00")], limits=limits)[3].say)

    def test_channels_that_need_different_modes_are_told_one_by_one(self):
        rows = [
            entry("on", "08:00"),
            entry("off", "22:00"),
            entry("on", "18:00", channels=[2]),
            entry("off", "22:00", channels=[2]),
        ]
        wanted = [[window("08:00", "22:00")], [window("18:00", "22:00")]]
        mode = self.of(rows, channels=wanted, on_return_to_auto="waits")[-2].say
        self.assertIn("Channel 1: automatic, with the output switched on by hand now", mode)
        self.assertIn("Channel 2: automatic, with the output switched off by hand now", mode)

    def test_the_clock_step_names_rule_and_weekday(self):
        for clock, text in [({"dst": "us"}, "the rule of the United States"), ({"dst": "none"}, "no daylight saving")]:
            with self.subTest(clock=clock, text=text):
                self.assertIn(text, self.of([], clock=clock)[1].say)

    def test_a_crew_that_says_summer_time_reads_it(self):
        plan = plan_at(clock={"dst": "none"})
        year = replay(plan, date(2027, 1, 1), date(2027, 12, 31))
        sheet = sheet_at_noon(plan, year, Words(summer=SUMMER_TIME))
        said = " ".join(f"{step.title} {step.say}" for step in sheet)
        self.assertIn("Summer time: no summer time", said)
        self.assertNotIn("daylight", said)

    def test_a_unit_that_switches_once_a_week_or_never_is_handed_over_too(self):
        plan = make_plan(
            [window("18:00", "22:00", ["sun"])], [entry("on", "18:00", ["sun"]), entry("off", "22:00", ["sun"])]
        )
        found = handover(plan, local_instant(plan, MONDAY_NOON))[0]
        self.assertEqual([s.on for s in found.next], [True, False, True])
        nothing = handover(make_plan([window("18:00", "22:00")]), local_instant(plan, MONDAY_NOON))[0]
        self.assertEqual((nothing.next, nothing.since, nothing.program), ((), None, False))


def run(*words):
    out, err = io.StringIO(), io.StringIO()
    with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
        status = main(list(words))
    return status, out.getvalue(), err.getvalue()


class CommandLineTest(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name) / "plan.json"
        self.path.write_text(json.dumps(EXAMPLE))

    def test_replay_audit_fit_and_sun_print_json(self):
        span = ("--from", "2027-05-03", "--to", "2027-05-03")
        status, out, _ = run("replay", str(self.path), *span)
        self.assertEqual(status, 0)
        channel = json.loads(out)["channels"][0]
        self.assertEqual(channel["wanted"], channel["actual"])
        self.assertTrue(channel["wanted"][0][0].startswith("2027-05-03T05:20:00+12:00"))
        self.assertEqual(json.loads(run("audit", str(self.path), *span)[1]), {"findings": []})
        fitted = json.loads(run("fit", str(self.path))[1])
        self.assertEqual(fitted["fit"], [])
        self.assertEqual(len(fitted["plan"]["unit"]["entries"]), 4)
        place = ("--latitude", "-39.49", "--longitude=176.91", "--timezone", "Pacific/Auckland")
        day = json.loads(run("sun", *place, *span)[1])[0]
        self.assertEqual((day["date"], day["kind"]), ("2027-05-03", "normal"))
        north = ("--latitude=69.6", "--longitude=18.9", "--timezone", "Europe/Oslo")
        day = json.loads(run("sun", *north, "--from", "2027-06-21", "--to", "2027-06-21")[1])[0]
        self.assertEqual((day["kind"], day["sunrise"]), ("polar-day", None))

    def test_any_encoding_of_the_output_and_a_closed_pipe_give_no_traceback(self):
        call = [sys.executable, "-m", "skavit.core"]
        year = ["replay", str(self.path), "--from", "2027-01-01", "--to", "2030-12-31"]
        plan = EXAMPLE | {"channels": [{"name": "Ōhau", "windows": []}]}
        self.path.write_text(json.dumps(plan))
        environment = {**os.environ, "PYTHONIOENCODING": "ascii"}
        told = subprocess.run([*call, *year], capture_output=True, check=True, env=environment)
        self.assertEqual(json.loads(told.stdout.decode("utf-8"))["channels"][0]["name"], "Ōhau")
        wrong = subprocess.run(
            [*call, "replay", "nō.json", *year[2:]], capture_output=True, check=False, env=environment
        )
        self.assertEqual((wrong.returncode, wrong.stderr.count(b"\n")), (2, 1))
        with subprocess.Popen([*call, *year], stdout=subprocess.PIPE, stderr=subprocess.PIPE) as cut:
            cut.stdout.close()
            self.assertEqual(cut.stderr.read(), b"")

    def test_bad_input_is_one_line_and_status_2(self):
        span = ["--from", "2027-05-03", "--to", "2027-05-03"]
        for words, part in [
            (["replay", "nowhere.json", *span], "nowhere.json"),
            (["replay", str(self.path), "--from", "2027-02-30", "--to", "2027-03-01"], "--from"),
            (["replay", str(self.path), "--from", "2027-03-02", "--to", "2027-03-01"], "reversed"),
            (["replay", str(self.path), "--from", "2027-03-02", "--to", "2099-03-01"], "50 years"),
            (["sun", "--latitude", "x", "--longitude", "1", "--timezone", "UTC", *span], "--latitude"),
            (["sun", "--latitude", "1", "--longitude", "1", "--timezone", "Moon/Sea", *span], "--timezone"),
            (["dance"], "dance"),
            ([], "call"),
        ]:
            with self.subTest(words=words, part=part):
                status, out, err = run(*words)
                self.assertEqual((status, out), (2, ""), words)
                self.assertIn(part, err)
                self.assertEqual(err.count("\n"), 1)
