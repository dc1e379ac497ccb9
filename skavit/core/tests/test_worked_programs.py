"""Programs as practitioners key them, from the windows to the replay, the findings and the entry sheet.

The programs are the trade's usual ones, common practice and no source; what they must do on a given date is worked
out by hand, sun times by astral.
"""

import json
import tempfile
import unittest
from contextlib import redirect_stdout
from datetime import date, datetime, timedelta
from io import StringIO
from pathlib import Path
from zoneinfo import ZoneInfo

import astral
import astral.sun
import numpy as np

from skavit.core.__main__ import main
from skavit.core.findings import audit
from skavit.core.fitting import fit
from skavit.core.plan.times import day_number
from skavit.core.sheet import steps
from skavit.core.simulation.handover import handover
from skavit.core.simulation.replay import replay
from skavit.core.tests.builders import document, local_instant, make_plan, window
from skavit.core.text.wording import PLAIN

ZONE = ZoneInfo("Pacific/Auckland")
TUESDAY = date(2027, 6, 15)
PAIRS = {"slots": [{"shape": "pair", "count": 4}]}


def sun(event, day):
    found = getattr(astral.sun, event)(astral.Observer(-39.49, 176.91), day, tzinfo=ZONE)
    return found.replace(tzinfo=None)


def at(day, clock):
    return datetime.fromisoformat(f"{day}T{clock}")


class WorkedTest(unittest.TestCase):
    def fitted(self, channels, limits):
        result = fit(make_plan(channels=channels, limits=limits), 2027)
        self.assertEqual(result.losses, ())
        year = replay(result.plan, date(2027, 1, 1), date(2027, 12, 31))
        self.assertEqual({f.severity for f in audit(year)} - {"note"}, set())
        return result.plan, year

    def on_of(self, plan, first, last, channel=0):
        """Local times of on and off in a range."""
        result = replay(plan, first, last)
        spans = result.channels[channel].actual
        pairs = zip(result.site_clock.digits(spans.on), result.site_clock.digits(spans.off), strict=True)
        return [tuple(datetime(1970, 1, 1) + timedelta(seconds=int(x)) for x in pair) for pair in pairs]

    def near(self, found, expected):
        self.assertEqual(len(found), len(expected), found)
        for pair, wanted in zip(found, expected, strict=True):
            for a, b in zip(pair, wanted, strict=True):
                self.assertLess(abs((a - b).total_seconds()), 90, (pair, wanted))

    def sheet(self, plan, year):
        """What the display of each slot must read."""
        instant = local_instant(plan, day_number(TUESDAY) * 86400 + 43200)
        found = steps(plan, year, handover(plan, instant), instant, PLAIN)
        return [
            " ".join(f"{row.word} {row.value}" for row in step.display.rows) + f" {step.display.days}"
            for step in found
            if step.kind == "slot"
        ]

    def test_a_water_heater_in_two_pairs(self):
        plan, year = self.fitted([[window("05:10", "06:50"), window("15:20", "17:40")]], PAIRS)
        self.assertEqual(
            self.on_of(plan, TUESDAY, TUESDAY),
            [(at(TUESDAY, "05:10"), at(TUESDAY, "06:50")), (at(TUESDAY, "15:20"), at(TUESDAY, "17:40"))],
        )
        self.assertEqual(
            self.sheet(plan, year),
            ["ON 05:10 OFF 06:50 every day", "ON 15:20 OFF 17:40 every day"],
        )

    def test_a_split_night_on_two_circuits(self):
        night = [window("sunset", "22:40"), window("05:20", "sunrise")]
        plan, year = self.fitted([night, night], {"entries": 8})
        for channel in (0, 1):
            expected = [
                (at(TUESDAY, "05:20"), sun("sunrise", TUESDAY)),
                (sun("sunset", TUESDAY), at(TUESDAY, "22:40")),
            ]
            self.near(self.on_of(plan, TUESDAY, TUESDAY, channel), expected)
        self.assertEqual([e.channels for e in plan.unit.entries], [(1, 2)] * 4)
        self.assertEqual(len(self.sheet(plan, year)), 4)

    def test_one_circuit_by_the_sun_on_working_days_the_other_by_the_clock(self):
        rows = [[window("sunset", "sunrise", "weekdays")], [window("20:15", "22:10")]]
        plan, year = self.fitted(rows, {"entries": 8, "day_groups": ["daily", "weekdays", "weekends"]})
        friday = date(2027, 6, 18)
        monday = friday + timedelta(days=3)
        nights = [
            (at(friday, "00:00"), sun("sunrise", friday)),
            (sun("sunset", friday), sun("sunrise", friday + timedelta(days=1))),
            (sun("sunset", monday), at(monday + timedelta(days=1), "00:00")),
        ]
        self.near(self.on_of(plan, friday, monday), nights)
        self.assertEqual(len(self.on_of(plan, friday, monday, 1)), 4)
        self.assertIn("OFF sunrise every day", self.sheet(plan, year))

    def test_over_midnight(self):
        plan, year = self.fitted([[window("19:15", "00:50", ends="next-day")]], PAIRS)
        following = TUESDAY + timedelta(days=1)
        self.assertEqual(
            self.on_of(plan, TUESDAY, following),
            [
                (at(TUESDAY, "00:00"), at(TUESDAY, "00:50")),
                (at(TUESDAY, "19:15"), at(following, "00:50")),
                (at(following, "19:15"), at(following + timedelta(days=1), "00:00")),
            ],
        )
        self.assertEqual(self.sheet(plan, year), ["ON 19:15 OFF 00:50 every day"])

    def test_mist(self):
        wanted = [window("07:10", "16:25", repeat={"on_s": 8, "every_s": 240})]
        plan, year = self.fitted([wanted], {"entries": 4, "actions": ["on", "off", "repeat"]})
        spans = replay(plan, TUESDAY, TUESDAY).channels[0].actual
        self.assertEqual(len(spans), 139)
        self.assertEqual(set(np.diff(spans.on).tolist()), {240})
        self.assertEqual(self.sheet(plan, year), ["ON 07:10 on for 8 s pause 3 min 52 s until 16:25 every day"])


class CommandLineTest(unittest.TestCase):
    def test_handover_prints_wanted_program_mode_and_next(self):
        rows = [window("05:10", "06:50"), window("15:20", "17:40")]
        entries = [
            {"channels": [1], "action": a, "at": t} for w in rows for a, t in (("on", w["from"]), ("off", w["to"]))
        ]
        for back, mode in [("computes", "auto"), ("waits", "auto-on")]:
            with self.subTest(back=back, mode=mode):
                with tempfile.TemporaryDirectory() as folder:
                    path = Path(folder) / "plan.json"
                    path.write_text(json.dumps(document(rows, entries, on_return_to_auto=back)))
                    out = StringIO()
                    with redirect_stdout(out):
                        self.assertEqual(main(["handover", str(path), "--at", "2027-06-16T06:20"]), 0)
                (channel,) = json.loads(out.getvalue())["channels"]
                self.assertEqual((channel["wanted"], channel["program"], channel["leave_in"]), ("on", "on", mode))
                self.assertEqual(
                    channel["next"],
                    [
                        {"at": "2027-06-16T06:50:00+12:00", "action": "off", "entry": 2},
                        {"at": "2027-06-16T15:20:00+12:00", "action": "on", "entry": 3},
                        {"at": "2027-06-16T17:40:00+12:00", "action": "off", "entry": 4},
                    ],
                )
