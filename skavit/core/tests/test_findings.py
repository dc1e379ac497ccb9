"""Findings: the right ones on traps that people fall into, none on clean plans, and remedies that mend."""

import unittest
from datetime import date
from pathlib import Path

from skavit.core.findings import audit
from skavit.core.findings.guide import guide_table
from skavit.core.simulation.replay import replay
from skavit.core.tests.builders import entry, make_plan, window
from skavit.core.text.wording import PLAIN

NORTH = {"name": "Pier", "latitude": 69.6, "longitude": 18.9, "timezone": "Europe/Oslo"}
EVENING = window("sunset+10", "22:40")
EVENING_ON, EVENING_OFF = entry("on", "sunset+10"), entry("off", "22:40")
LOUD = {"order-flips", "never-off", "days-uncovered", "cuts-short", "extra", "missing"}

# (what, windows, entries, other keys of the unit, codes that must be there, codes that must not)
TRAPS = [
    ("morning ON after a summer sunrise",
     [EVENING, window("05:50", "sunrise")], [EVENING_ON, EVENING_OFF, entry("on", "05:50"), entry("off", "sunrise")],
     {}, {"order-flips", "by-day"}, {"extra", "missing", "never-off", "days-uncovered", "close-call"}),
    ("a split night with little to spare",
     [EVENING, window("05:15", "sunrise")], [EVENING_ON, EVENING_OFF, entry("on", "05:15"), entry("off", "sunrise")],
     {}, {"close-call"}, LOUD),
    ("an OFF on fewer days",
     [window("18:00", "23:00")], [entry("on", "18:00"), entry("off", "23:00", "weekdays")],
     {}, {"days-uncovered"}, {"extra", "order-flips", "never-off"}),
    ("ON and OFF both Monday to Friday over the night",
     [window("sunset", "sunrise", "weekdays")], [entry("on", "sunset", "weekdays"), entry("off", "sunrise", "weekdays")],
     {}, {"days-uncovered", "by-day"}, {"extra", "missing"}),
    ("no OFF at all",
     [window("18:00", "23:00")], [entry("on", "18:00")], {}, {"never-off"}, {"days-uncovered", "extra"}),
    ("a stray entry and a doubled one",
     [EVENING], [EVENING_ON, EVENING_OFF, entry("off", "12:00", ["wed"]), EVENING_ON], {}, {"no-effect"}, LOUD),
    ("two entries at one instant",
     [window("18:00", "20:00")], [entry("on", "18:00"), entry("off", "20:00"), entry("off", "18:00")],
     {}, {"same-instant"}, {"order-flips"}),
    ("another country's dates",
     [EVENING], [EVENING_ON, EVENING_OFF], {"clock": {"dst": "us"}}, {"dst-differs"}, LOUD),
    ("the clock twelve hours ahead",
     [EVENING], [EVENING_ON, EVENING_OFF], {"clock": {"error_s": 43200}}, {"clock-out", "by-day"}, LOUD),
    ("half an hour later than wanted",
     [window("18:00", "22:00")], [entry("on", "18:00"), entry("off", "22:30")], {}, {"extra"}, {"missing", "by-day"}),
    ("an hour missing",
     [window("18:00", "22:00")], [entry("on", "19:00"), entry("off", "22:00")], {}, {"missing"}, {"extra"}),
    ("in the skipped hour",
     [window("02:15", "04:00")], [entry("on", "02:15"), entry("off", "04:00")], {}, {"clock-jump"}, LOUD),
    ("polar dates",
     [window("sunset", "22:00")], [entry("on", "sunset"), entry("off", "22:00")], {"site": NORTH},
     {"no-sun", "order-flips"}, {"missing"}),
]  # fmt: skip

CLEAN = [
    ([EVENING], [EVENING_ON, EVENING_OFF], {}),
    ([window("00:00", "24:00", "weekends")], [entry("on", "00:00", ["sat"]), entry("off", "00:00", ["mon"])], {}),
    ([window("sunset", "sunrise", "weekdays")], [entry("on", "sunset", "weekdays"), entry("off", "sunrise")], {}),
    ([window("21:30", "02:15", "weekdays")],
     [entry("on", "21:30", "weekdays"), entry("off", "02:15", ["tue", "wed", "thu", "fri", "sat"])], {}),
    ([window("20:30", "23:30", "weekdays"), window("20:30", "00:30", "weekends")],
     [entry("on", "20:30"), entry("off", "23:30", "weekdays"), entry("off", "00:30", ["sun", "mon"])], {}),
    ([window("18:00", "20:00"), window("20:00", "22:00")], [entry("on", "18:00"), entry("off", "22:00")], {}),
    ([EVENING], [EVENING_ON, EVENING_OFF], {"clock": {"error_s": 20}}),
    ([window("sunset", "sunrise")], [entry("off", "sunrise"), entry("on", "sunset")], {}),
    ([], [], {}),
]  # fmt: skip


def codes(windows, entries, more, year=2027):
    found = audit(replay(make_plan(windows, entries, **more), date(year, 1, 1), date(year, 12, 31)))
    return {finding.code for finding in found}, found


class GuideTest(unittest.TestCase):
    def test_the_table_in_the_guide_is_the_rules_own(self):
        guide = Path(__file__).parents[3] / "docs" / "guide.md"
        self.assertIn(
            f"\n\n{guide_table()}\n\n", guide.read_text(), "python -m skavit.core.findings.guide makes it anew"
        )


class AuditTest(unittest.TestCase):
    def test_an_audit_of_dates_before_1970(self):
        # A morning ON after the midsummer sunrise, in a year whose day numbers and instants are negative.
        windows = [EVENING, window("05:50", "sunrise")]
        plan = make_plan(windows, [EVENING_ON, EVENING_OFF, entry("on", "05:50"), entry("off", "sunrise")])
        found = audit(replay(plan, date(1965, 1, 1), date(1965, 12, 31)))
        flip = next(f for f in found if f.code == "order-flips")
        self.assertEqual({flip.first.year, flip.last.year}, {1965})
        self.assertGreater(flip.days, 20)

    def test_traps_are_named(self):
        for what, windows, entries, more, there, not_there in TRAPS:
            with self.subTest(what):
                found, _ = codes(windows, entries, more)
                self.assertLessEqual(there, found)
                self.assertFalse(not_there & found, found)

    def test_clean_plans_are_clean(self):
        for windows, entries, more in CLEAN:
            with self.subTest(windows):
                _, found = codes(windows, entries, more)
                self.assertEqual([f.message for f in found if f.severity != "note"], [])
                self.assertFalse(LOUD & {f.code for f in found})

    def test_the_flip_is_told_in_one_sentence_with_dates_and_hours(self):
        _, found = codes(TRAPS[0][1], TRAPS[0][2], {})
        flip = found[0]
        # Sunrise is before 05:50 from 14 November to 3 January at 39.49 S; the dates agree with the sun's own test.
        self.assertEqual((flip.code, flip.severity, flip.days), ("order-flips", "danger", 51))
        # Sunset there, from 14 November to 3 January, by astral: 20:14 to 20:53.
        self.assertIn("On, not wanted, from 05:50 to 20:14–20:53", flip.headline)
        self.assertIn("14 Nov", flip.headline)
        self.assertAlmostEqual(flip.hours, 51 * 14.8, delta=8)
        self.assertEqual(flip.slots, (3, 4))

    def test_close_call_says_how_many_minutes(self):
        _, found = codes(TRAPS[1][1], TRAPS[1][2], {})
        # The year's earliest sunrise there is 05:38 daylight time, 23 minutes after 05:15.
        near = next(f for f in found if f.code == "close-call")
        self.assertIn("23 min to spare", near.headline)
        self.assertEqual(near.severity, "note")

    def test_a_week_is_audited_with_what_the_year_teaches(self):
        plan = make_plan(TRAPS[0][1], TRAPS[0][2])
        found = audit(replay(plan, date(2027, 12, 1), date(2027, 12, 7)))
        self.assertEqual(found[0].code, "order-flips")
        self.assertEqual(found[0].days, 7)

    def test_hours_explained_are_those_of_the_replay(self):
        for _, windows, entries, more, _, _ in TRAPS:
            result = replay(make_plan(windows, entries, **more), date(2027, 1, 1), date(2027, 12, 31))
            wrong = sum(c.extra_h + c.missing_h for c in result.channels)
            for finding in audit(result):
                self.assertLessEqual(finding.hours, wrong + 0.01, finding.code)

    def test_remedies_of_the_first_four_take_the_finding_away(self):
        mended = {"order-flips", "never-off", "days-uncovered", "no-effect"}
        seen = set()
        for limited in (False, True):
            for what, windows, entries, more, _, _ in TRAPS:
                plan = make_plan(windows, entries, **(more | {"limits": {"limited_times": limited}}))
                for finding in audit(replay(plan, date(2027, 1, 1), date(2027, 12, 31))):
                    if finding.code not in mended:
                        continue
                    with self.subTest(f"{what}: {finding.code}"):
                        self.assertIsNotNone(finding.remedy)
                        after = audit(
                            replay(
                                plan.with_entries(finding.remedy.change.entries), date(2027, 1, 1), date(2027, 12, 31)
                            )
                        )
                        left = [f.hours for f in after if (f.code, f.slots) == (finding.code, finding.slots)]
                        self.assertLess(sum(left), max(0.11 * finding.hours, 0.01) if finding.hours else 1)
                        seen.add(finding.code)
        self.assertEqual(seen, mended)


class SetApartTest(unittest.TestCase):
    def test_a_clock_without_summer_time_set_an_hour_ahead_is_right_in_summer(self):
        pair = [entry("on", "18:00"), entry("off", "22:00")]
        plan = make_plan([window("18:00", "22:00")], pair, clock={"dst": "none", "error_s": 3600})
        result = replay(plan, date(2027, 1, 1), date(2027, 12, 31))
        told = {finding.code: finding for finding in audit(result)}
        # In New Zealand summer time ends on 4 April and begins on 26 September 2027.
        rule = told["dst-differs"].facts.headline(PLAIN)
        self.assertIn("1 h ahead 4 Apr–26 Sep", rule)
        self.assertNotIn("behind", rule)
        self.assertEqual(told["dst-differs"].days, 176)
        self.assertIsNone(told["dst-differs"].remedy)
        self.assertEqual(told["clock-out"].facts.headline(PLAIN), "The unit's clock is 1 h ahead of its own rule")

    def test_another_countrys_rule_is_mended_by_the_sites(self):
        pair = [entry("on", "18:00"), entry("off", "22:00")]
        plan = make_plan([window("18:00", "22:00")], pair, clock={"dst": "us"})
        year = date(2027, 1, 1), date(2027, 12, 31)
        remedy = {finding.code: finding for finding in audit(replay(plan, *year))}["dst-differs"].remedy
        self.assertEqual(remedy.label, "Use the site's daylight saving")
        self.assertEqual(audit(replay(remedy.applied(plan), *year)), ())


class LeftTest(unittest.TestCase):
    def test_a_remedy_says_what_it_leaves(self):
        """Of two slots a day no set does just what is wanted; applied, the hours that are told stay wrong."""
        limits = {"entries": 2, "day_groups": ["daily"]}
        plan = make_plan([window("05:50", "sunrise")], [entry("on", "05:50"), entry("off", "sunrise")], limits=limits)
        span = date(2027, 1, 1), date(2027, 12, 31)
        found = next(f for f in audit(replay(plan, *span)) if f.code == "order-flips")
        after = replay(found.remedy.applied(plan), *span).channels[0]
        left = after.extra_h + after.missing_h
        self.assertGreater(left, 1)
        self.assertEqual(found.remedy.label, f"Slot 1 at 05:36; {found.remedy.left_s / 3600:.0f} h are left")
        # The replay's year has what other findings explain too, at most a day here.
        self.assertAlmostEqual(left, found.remedy.left_s / 3600, delta=24)
