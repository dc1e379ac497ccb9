"""Each finding by itself: its dates and hours against what can be worked out by hand or with the standard library."""

import unittest
from datetime import UTC, date, datetime, timedelta
from zoneinfo import ZoneInfo

import astral
import astral.sun
import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from skavit.core.findings import audit
from skavit.core.findings.case import next_after
from skavit.core.ground.spans import EMPTY
from skavit.core.ground.strict_json import Node
from skavit.core.plan.days import WEEKDAYS
from skavit.core.plan.document import read_plan
from skavit.core.plan.times import day_of
from skavit.core.simulation.replay import replay
from skavit.core.site.clock import nth_weekday
from skavit.core.tests.builders import entry, make_plan, window
from skavit.core.text.wording import Words

YEAR = (date(2027, 1, 1), date(2027, 12, 31))
NORTH = {"name": "Pier", "latitude": 69.6, "longitude": 18.9, "timezone": "Europe/Oslo"}
BERLIN = {"name": "Bridge", "latitude": 52.37, "longitude": 13.31, "timezone": "Europe/Berlin"}
EVENING = [window("18:00", "23:00")]


def found(code, windows, entries, *, span=YEAR, tolerance_s=60, **more):
    result = replay(make_plan(windows, entries, **more), *span)
    return [f for f in audit(result, tolerance_s=tolerance_s) if f.code == code]


def only(code, *args, **more):
    rows = found(code, *args, **more)
    assert len(rows) == 1, [row.message for row in rows]
    return rows[0]


class RarelyEndedTest(unittest.TestCase):
    SPAN = date(2027, 1, 1), date(2027, 12, 31)

    def test_an_off_of_few_days_is_blamed_though_another_ends_most_periods(self):
        # On five days of seven the next morning's OFF ends the afternoon.
        rows = [
            entry("on", "08:05"),
            entry("off", "10:15"),
            entry("on", "13:20"),
            entry("off", "19:05", ["tue", "thu"]),
        ]
        plan = make_plan([window("08:05", "10:15"), window("13:20", "19:05")], rows)
        (found,) = audit(replay(plan, *self.SPAN))
        self.assertEqual((found.code, found.slots, found.remedy.label), ("days-uncovered", (3, 4), "Slot 4: every day"))
        # Five nights a week, from 19:05 to the ON of the next morning.
        self.assertAlmostEqual(found.hours, 13 * 365 * 5 / 7, delta=15)
        self.assertEqual(audit(replay(found.remedy.applied(plan), *self.SPAN)), ())

    def test_a_period_that_is_still_open_at_the_end_is_counted(self):
        rows = [entry("on", "18:00"), entry("off", "22:00", ["mon", "tue", "wed", "thu", "fri", "sat"])]
        plan = make_plan([window("18:00", "22:00")], rows)
        # Monday 20 to Sunday 26 December 2027: Sundays are left open, eighteen hours before Monday's ON and two at the end.
        found = {f.code: f for f in audit(replay(plan, date(2027, 12, 20), date(2027, 12, 26)))}
        self.assertEqual((found["days-uncovered"].hours, found["days-uncovered"].days), (20.0, 2))


class HolidayWantedTest(unittest.TestCase):
    def test_a_holiday_that_is_wanted_none_the_less_is_taken_out_of_the_windows(self):
        rows = [entry("on", "08:00", "weekdays"), entry("off", "17:00", "weekdays")]
        holidays = [{"from": "12-27", "days": 2}, {"from": "2027-02-08", "days": 1}]  # Monday and Tuesday; a Monday
        plan = make_plan([window("08:00", "17:00", "weekdays")], rows, holidays=holidays)
        span = date(2027, 1, 1), date(2027, 12, 31)
        (missing,) = [finding for finding in audit(replay(plan, *span)) if finding.code == "missing"]
        self.assertEqual((missing.days, missing.remedy.label), (3, "Nothing wanted on the holidays"))
        mended = missing.remedy.applied(plan)
        self.assertNotIn("missing", [finding.code for finding in audit(replay(mended, *span))])
        # Read back by the format's own reader, and the entries and the holidays are as they were.
        self.assertEqual(read_plan(Node(mended.to_json())), mended)
        self.assertEqual(mended.unit, plan.unit)


class FewMinutesTest(unittest.TestCase):
    def test_five_minutes_by_the_clock_are_no_danger_however_often_they_come(self):
        rows = [entry("on", "18:00"), entry("off", "22:00")]
        for error_s, severity in ((300, "warning"), (3600, "danger")):
            with self.subTest(error_s=error_s):
                plan = make_plan([window("18:00", "22:00")], rows, clock={"error_s": error_s})
                found = audit(replay(plan, date(2027, 1, 1), date(2027, 12, 31)))
                (out,) = [finding for finding in found if finding.code == "clock-out"]
                self.assertEqual(out.severity, severity)


class SpareHalfTest(unittest.TestCase):
    def test_the_half_that_a_pair_must_hold_is_no_stray(self):
        pairs = {"slots": [{"shape": "pair", "count": 4, "off_days": "own"}]}
        # On every day from dusk; off at 22:00 on weekdays, at 23:00 at weekends: the second pair's ON changes nothing.
        rows = [
            entry("on", "sunset"),
            entry("off", "22:00", "weekdays"),
            entry("on", "sunset"),
            entry("off", "23:00", "weekends"),
        ]
        plan = make_plan([], rows, limits=pairs)
        found = audit(replay(plan, date(2027, 1, 1), date(2027, 12, 31)))
        self.assertNotIn("no-effect", [finding.code for finding in found])
        alone = make_plan([], rows)
        found = audit(replay(alone, date(2027, 1, 1), date(2027, 12, 31)))
        self.assertIn("no-effect", [finding.code for finding in found])


class OrderTest(unittest.TestCase):
    def test_an_evening_off_that_comes_before_a_late_sunset(self):
        rows = [entry("on", "sunset"), entry("off", "21:00")]
        flip = only("order-flips", [window("sunset", "21:00")], rows, site=BERLIN)
        self.assertEqual((flip.severity, flip.slots), ("danger", (1, 2)))
        # The dates on which astral has the sun set after 21:00 there, a day more or less at either end.
        observer, zone = astral.Observer(52.37, 13.31), ZoneInfo("Europe/Berlin")
        late = [
            day
            for day in (date(2027, 1, 1) + timedelta(days=n) for n in range(365))
            if astral.sun.sunset(observer, day, tzinfo=zone).strftime("%H:%M") >= "21:00"
        ]
        self.assertLessEqual(abs((flip.first - late[0]).days), 1)
        # The last flip's night ends on the next day.
        self.assertLessEqual(abs((flip.last - late[-1]).days), 2)

    def test_an_on_that_comes_before_an_off_leaves_it_dark(self):
        # Two windows: to 19:30, and from sunset. In the southern winter sunset comes first and 19:30 ends its light.
        windows = [window("08:00", "19:30"), window("sunset", "23:00")]
        rows = [entry("on", "08:00"), entry("off", "19:30"), entry("on", "sunset"), entry("off", "23:00")]
        flip = only("order-flips", windows, rows)
        self.assertIn("Off, though wanted, from 19:30 to 23:00", flip.headline)
        self.assertEqual(flip.severity, "warning")

    def test_limits_hold_the_order(self):
        rows = [entry("on", "05:50"), entry("off", {"at": "sunrise", "not_before": "05:50"})]
        result = replay(make_plan([window("05:50", "sunrise")], rows), *YEAR)
        self.assertEqual({f.severity for f in audit(result)} - {"note"}, set())

    def test_close_calls_within_half_an_hour_only(self):
        for start, near in [("05:05", False), ("05:20", True), ("05:36", True)]:
            with self.subTest(start=start, near=near):
                rows = found("close-call", [window(start, "sunrise")], [entry("on", start), entry("off", "sunrise")])
                self.assertEqual(len(rows), int(near), start)
        self.assertIn("2 min to spare", rows[0].headline)

    def test_dates_of_a_flip_run_over_the_new_year(self):
        span = (date(2027, 12, 1), date(2028, 1, 31))
        flip = only(
            "order-flips", [window("05:50", "sunrise")], [entry("on", "05:50"), entry("off", "sunrise")], span=span
        )
        self.assertEqual((flip.first, flip.last.month), (date(2027, 12, 1), 1))
        self.assertIn("2027", flip.headline)


class PeriodsTest(unittest.TestCase):
    def test_uncovered_nights_are_those_whose_morning_has_no_off(self):
        rows = [entry("on", "sunset", "weekdays"), entry("off", "sunrise", "weekdays")]
        finding = only("days-uncovered", [window("sunset", "sunrise", "weekdays")], rows)
        # 52 Fridays burn from Saturday's sunrise on; Saturday, Sunday and Monday show it.
        self.assertEqual(finding.days, 52 * 3)
        self.assertEqual({day_of(int(d)).weekday() for d in finding.dates}, {0, 5, 6})
        self.assertEqual(finding.remedy.label, "Slot 2: Mon to Sat")

    def test_an_off_on_more_days_is_none(self):
        rows = [entry("on", "18:00", "weekdays"), entry("off", "23:00")]
        self.assertEqual(found("days-uncovered", [window("18:00", "23:00", "weekdays")], rows), [])

    def test_two_offs_that_share_the_week_are_none(self):
        windows = [window("20:30", "23:30", "weekdays"), window("20:30", "00:30", "weekends")]
        rows = [entry("on", "20:30"), entry("off", "23:30", "weekdays"), entry("off", "00:30", ["sun", "mon"])]
        self.assertEqual(found("days-uncovered", windows, rows), [])

    def test_a_weekly_off_leaves_six_days(self):
        finding = only("days-uncovered", EVENING, [entry("on", "18:00"), entry("off", "23:00", ["wed"])])
        # On but for 19 h from Wednesday 23:00 to Thursday 18:00; wanted 35 h of the week.
        self.assertAlmostEqual(finding.hours / 52.14, 168 - 19 - 35, delta=1)

    def test_never_off_tells_what_a_day_wanted_on_does_not(self):
        always = [window("00:00", "24:00")]
        self.assertEqual(found("never-off", always, [entry("on", "00:00")]), [])
        finding = only("never-off", EVENING, [entry("on", "18:00")])
        self.assertAlmostEqual(finding.hours, 365 * 19, delta=24)
        self.assertEqual(finding.remedy.label, "Add OFF 23:00, every day")

    def test_the_last_evening_of_a_range_is_judged_by_what_follows(self):
        span = (date(2027, 5, 3), date(2027, 5, 3))
        rows = [entry("on", "sunset"), entry("off", "sunrise")]
        self.assertEqual(found("never-off", [window("sunset", "sunrise")], rows, span=span), [])


class EntriesTest(unittest.TestCase):
    def test_of_doubled_entries_the_later_is_told(self):
        rows = [entry("on", "18:00"), entry("off", "23:00"), entry("on", "18:00"), entry("off", "23:00", "weekends")]
        findings = found("no-effect", EVENING, rows)
        self.assertEqual(sorted(f.slots for f in findings), [(3,), (4,)])
        self.assertTrue(all(f.severity == "note" and f.hours == 0 for f in findings))
        self.assertEqual(len(findings[0].remedy.change.entries), 3)

    def test_an_entry_of_two_channels_counts_where_it_acts_on_either(self):
        rows = [entry("on", "18:00", channels=[1, 2]), entry("off", "23:00", channels=[1, 2])]
        plan = make_plan(channels=[EVENING, []], entries=[*rows, entry("off", "19:00", channels=[2])])
        codes = {f.code for f in audit(replay(plan, *YEAR))}
        self.assertNotIn("no-effect", codes)

    def test_the_later_slot_wins_at_one_instant(self):
        rows = [entry("off", "23:00"), entry("on", "18:00"), entry("off", "18:00", ["mon"])]
        finding = only("same-instant", EVENING, rows)
        self.assertEqual(finding.days, 52)
        self.assertAlmostEqual(finding.hours, 52 * 5, delta=0.1)
        self.assertEqual(finding.severity, "warning")


class ClocksTest(unittest.TestCase):
    def test_dst_differs_on_the_dates_that_zoneinfo_and_the_statute_give(self):
        finding = only("dst-differs", EVENING, [entry("on", "18:00"), entry("off", "23:00")], clock={"dst": "us"})
        zone = ZoneInfo("Pacific/Auckland")
        start = day_of(nth_weekday(2027, 3, 2, 6))
        end = day_of(nth_weekday(2027, 11, 1, 6))
        expected = set()
        for hour in range(365 * 24):
            moment = datetime(2026, 12, 31, 11, tzinfo=UTC) + timedelta(hours=hour)
            local = moment.astimezone(zone)
            standard = moment + timedelta(hours=12)
            ahead = (
                datetime(start.year, start.month, start.day, 2)
                <= standard.replace(tzinfo=None)
                < datetime(end.year, end.month, end.day, 1)
            )
            if ahead != bool(local.dst()):
                expected.add(local.date())
        self.assertEqual({day_of(int(d)) for d in finding.dates}, expected)
        # An hour early or late at both ends on these days: two hours a day, the days of change not quite.
        self.assertAlmostEqual(finding.hours, 2 * len(expected), delta=8)
        self.assertIn("1 h behind 1 Jan", finding.headline)
        self.assertIn("1 h ahead 4 Apr", finding.headline)

    def test_a_rule_that_is_the_law_by_another_name_is_none(self):
        rows = [entry("on", "18:00"), entry("off", "23:00")]
        self.assertEqual(found("dst-differs", EVENING, rows, site=BERLIN, clock={"dst": "eu"}), [])

    def test_clock_out_by_error_and_by_drift(self):
        rows = [entry("on", "18:00"), entry("off", "23:00")]
        finding = only("clock-out", EVENING, rows, clock={"error_s": 600})
        self.assertEqual(finding.days, 365)
        self.assertAlmostEqual(finding.hours, 365 * 2 * 10 / 60, delta=1)
        finding = only("clock-out", EVENING, rows, clock={"fast_s_per_day": 2, "set_on": "2027-01-01T00:00"})
        # Over a minute from the 31st day on.
        self.assertEqual(finding.first, date(2027, 1, 31))
        self.assertIn("12 min", finding.headline)
        self.assertEqual(found("clock-out", EVENING, rows, clock={"error_s": 45}), [])

    def test_clock_jump_only_on_days_that_are_meant(self):
        for days, hits in [("daily", 2), (["sun"], 2), ("weekdays", 0)]:
            with self.subTest(days=days, hits=hits):
                rows = [entry("on", "02:15", days), entry("off", "05:00")]
                findings = found("clock-jump", [window("02:15", "05:00", days)], rows)
                self.assertEqual(sum(f.days for f in findings), hits)

    def test_hours_of_a_wrong_clock_are_not_told_as_extra_too(self):
        rows = [entry("on", "18:00"), entry("off", "23:00")]
        for clock in ({"dst": "us"}, {"error_s": 3600}, {"dst": "us", "error_s": -7200}):
            with self.subTest(clock=clock):
                for code in ("extra", "missing", "days-uncovered", "never-off"):
                    self.assertEqual(found(code, EVENING, rows, clock=clock), [], (clock, code))


class SunTest(unittest.TestCase):
    def test_by_day_counts_daylight_only_and_only_for_sunny_channels(self):
        finding = only("by-day", [window("sunset", "23:00")], [entry("on", "17:00"), entry("off", "23:00")])
        extra = replay(make_plan([window("sunset", "23:00")], [entry("on", "17:00"), entry("off", "23:00")]), *YEAR)
        # What shows, beside the finding that says why: the hours are that one's.
        self.assertAlmostEqual(finding.facts.hours, extra.channels[0].extra_h, delta=0.1)
        self.assertEqual((finding.hours, finding.severity), (0, "note"))
        self.assertEqual(found("by-day", EVENING, [entry("on", "10:00"), entry("off", "23:00")]), [])

    def test_no_sun_names_the_events_and_the_dates(self):
        finding = only("no-sun", [window("dusk", "23:00")], [entry("on", "dusk"), entry("off", "23:00")], site=NORTH)
        self.assertIn("No dusk", finding.headline)
        # Civil twilight lasts all night at 69.6 N from late April to mid August.
        self.assertTrue(date(2027, 4, 15) < finding.first < date(2027, 5, 5))
        self.assertEqual(found("no-sun", EVENING, [], site=NORTH), [])


class LeftoverTest(unittest.TestCase):
    def test_the_tolerance_is_how_long_a_difference_may_last(self):
        rows = [entry("on", "18:00"), entry("off", "23:02")]
        self.assertEqual(len(found("extra", EVENING, rows)), 1)
        self.assertEqual(found("extra", EVENING, rows, tolerance_s=120), [])
        self.assertEqual(found("extra", EVENING, [entry("on", "18:00"), entry("off", "23:01")]), [])

    def test_severity_by_hours_a_year_by_length_and_by_every_day(self):
        for off, days, severity in [
            ("23:30", "daily", "danger"),
            ("23:30", ["mon"], "warning"),
            ("04:00", ["tue"], "danger"),
            ("23:30", {"dates": ["2027-05-03"]}, "note"),
        ]:
            with self.subTest(off=off, days=days, severity=severity):
                rows = [entry("on", "18:00"), entry("off", "23:00"), entry("on", "23:00:30", days), entry("off", off)]
                if off == "04:00":
                    rows[2] = entry("on", "23:00:30", ["mon"])
                worst = found("extra", EVENING, rows)[0]
                self.assertEqual(worst.severity, severity, (off, days))

    def test_twelve_hour_words_reach_the_message(self):
        finding = only("extra", EVENING, [entry("on", "18:00"), entry("off", "23:30")])
        self.assertIn("from 11:00 pm to 11:30 pm", finding.text(Words(twelve_hour=True)))
        self.assertIn("from 23:00 to 23:30", finding.message)

    def test_helpers_at_their_edges(self):
        self.assertEqual(next_after(np.array([5, 7]), np.array([5, 7, 9]), 99).tolist(), [7, 9])
        self.assertEqual(next_after(np.array([9]), np.array([5, 9]), 99).tolist(), [99])
        self.assertFalse(EMPTY.at(np.array([1])).any())


class CapacityTest(unittest.TestCase):
    def test_what_the_limits_cannot_hold(self):
        evening = [entry("on", "sunset+10"), entry("off", "22:40", ["mon", "wed"])]
        for code, limits, slots, said in [
            ("over-capacity", {"entries": 1}, (2,), "The unit holds 1 entry"),
            ("over-capacity", {"sun_events": ["sunrise"]}, (1,), "does not know sunset"),
            ("over-capacity", {"actions": ["on"]}, (2,), "no OFF entries"),
            ("no-such-days", {"day_groups": ["daily", "weekdays"]}, (2,), "do not hold Mon, Wed"),
            ("too-fine", {"clock_step_s": 900}, (2,), "steps of 15 min"),
            ("offset-too-large", {"sun_offset_max_min": 5}, (1,), "offsets reach 5 min"),
            ("offset-too-large", {"offset_by": "correction"}, (1,), "as a correction only"),
        ]:
            with self.subTest(code, limits=limits):
                finding = only(code, EVENING, evening, limits=limits)
                self.assertEqual((finding.severity, finding.slots, finding.hours), ("warning", slots, 0))
                self.assertIn(said, finding.headline)
                # Entry 2 acts on the Mondays and Wednesdays of 2027: 52 of each.
                self.assertEqual(finding.days, 104 if slots == (2,) else 365)

    def test_holidays_beyond_the_memory(self):
        rows = [entry("on", "18:00"), entry("off", "23:00")]
        holidays = [{"from": "12-24", "days": 10}, {"from": "2027-04-02", "days": 40}]
        for limits, said in [
            ({"holidays": 1}, "The unit holds 1 holiday"),
            ({"holiday_days_max": 28}, "28 days at most"),
        ]:
            with self.subTest(limits=limits, said=said):
                finding = only("over-capacity", EVENING, rows, limits=limits, holidays=holidays)
                self.assertIn(said, finding.headline)

    def test_the_remedy_keeps_the_limits_and_a_plan_within_them_has_none(self):
        codes = {"over-capacity", "no-such-days", "too-fine", "offset-too-large"}
        windows = [window("18:00", "23:00", "weekdays")]
        rows = [entry("on", "18:00:30", ["mon", "tue"]), entry("off", "23:00", ["mon", "tue"])]
        limits = {"entries": 8, "day_groups": ["daily", "weekdays"], "clock_step_s": 60, "sun_offset_max_min": 90}
        remedy = only("too-fine", windows, rows, limits=limits).remedy
        plan = make_plan(windows, rows, limits=limits).with_entries(remedy.change.entries)
        self.assertFalse(codes & {f.code for f in audit(replay(plan, *YEAR))})


class BlamedTest(unittest.TestCase):
    @settings(max_examples=25)
    @given(
        st.lists(st.integers(72, 275), min_size=4, max_size=4, unique=True).map(sorted),
        st.lists(st.sampled_from(WEEKDAYS), min_size=1, max_size=3, unique=True),
        st.sampled_from([1, 3]),
    )
    def test_the_off_on_fewer_days_is_the_one_that_is_blamed(self, at, short, which):
        """Two windows a day, each with its ON and OFF; one of the OFFs acts on some weekdays only."""
        times = [f"{n * 5 // 60:02d}:{n * 5 % 60:02d}" for n in at]
        entries = [entry(action, time) for action, time in zip(("on", "off", "on", "off"), times, strict=True)]
        entries[which] = entry("off", times[which], short)
        plan = make_plan([window(*times[:2]), window(*times[2:])], entries)
        found = [f for f in audit(replay(plan, date(2027, 1, 1), date(2027, 12, 31))) if f.code == "days-uncovered"]
        self.assertIn(which + 1, found[0].slots)
