"""Traps that nobody notices by hand: strays, holidays, modes, reserves, pauses, close calls, and the tolerance."""

import unittest
from datetime import date
from zoneinfo import ZoneInfo

import astral
import astral.sun
import numpy as np

from skavit.core.findings import audit
from skavit.core.findings.tolerance import audit_within
from skavit.core.ground.strict_json import Node
from skavit.core.plan.document import read_plan
from skavit.core.simulation.replay import replay
from skavit.core.tests.builders import document, entry, make_plan, window
from skavit.core.text.wording import PLAIN

FIRST, LAST = date(2027, 1, 1), date(2027, 12, 31)
NIGHT = [window("sunset", "sunrise")]
DUSK_TO_DAWN = [entry("on", "sunset"), entry("off", "sunrise")]
DOOR = [window("08:00", "17:00", "weekdays")]
# What a plan that does just what is wanted never gives (design: "Findings").
NEVER = {"order-flips", "never-off", "days-uncovered", "cuts-short", "extra", "missing"}


def findings(windows, entries, *, overrides=(), **more):
    found = document(windows, entries, **more)
    plan = read_plan(Node({**found, "overrides": list(overrides)}))
    return plan, audit(replay(plan, FIRST, LAST))


def one(found, code):
    (finding,) = [f for f in found if f.code == code]
    return finding


class StrayTest(unittest.TestCase):
    def test_an_off_on_thursdays_at_two(self):
        plan, found = findings(NIGHT, [*DUSK_TO_DAWN, entry("off", "02:00", ["thu"])])
        stray = one(found, "cuts-short")
        self.assertEqual((stray.slots, stray.days), ((3,), 52))
        # Dark from 02:00 to sunrise of each Thursday, by astral; 2027 has 52 of them.
        observer = astral.Observer(-39.49, 176.91)
        dark = 0.0
        for day in (date.fromordinal(FIRST.toordinal() + n) for n in range(365)):
            if day.weekday() == 3:
                rise = astral.sun.sunrise(observer, day, tzinfo=replay_zone(plan))
                dark += (rise - rise.replace(hour=2, minute=0, second=0, microsecond=0)).total_seconds() / 3600
        self.assertAlmostEqual(stray.hours, dark, delta=52 * 0.05)
        self.assertEqual(stray.remedy.label, "Clear slot 3")
        # At 14:00 it would do nothing: that is no slip of AM for PM.
        self.assertNotIn("half-day-slip", {f.code for f in found})
        self.assertEqual(audit(replay(stray.remedy.applied(plan), FIRST, LAST)), ())

    def test_an_on_that_starts_a_period_too_early(self):
        _, found = findings(
            [window("18:00", "23:00")], [entry("on", "18:00"), entry("off", "23:00"), entry("on", "15:00", ["mon"])]
        )
        stray = one(found, "cuts-short")
        self.assertEqual((stray.slots, stray.hours), ((3,), 52 * 3))

    def test_an_entry_that_serves_a_window_is_none(self):
        for windows, rows in [(NIGHT, DUSK_TO_DAWN), (DOOR, [entry("on", "08:00", "weekdays"), entry("off", "17:00")])]:
            with self.subTest(windows=windows, rows=rows):
                _, found = findings(windows, rows)
                self.assertEqual({f.code for f in found} & NEVER, set())


def replay_zone(plan):
    return ZoneInfo(plan.site.timezone)


class HolidayTest(unittest.TestCase):
    def test_the_off_is_suppressed_as_well_as_the_on(self):
        # Open over Christmas Eve's night: the door stays unlocked until the first morning after the holidays.
        windows = [window("18:00", "02:00", ends="next-day")]
        rows = [entry("on", "18:00"), entry("off", "02:00")]
        plan, found = findings(windows, rows, holidays=[{"from": "12-24", "days": 5}])
        held = one(found, "held-through-holiday")
        # On from 24 December 02:00 on until the OFF of 29 December 02:00, less what is wanted of it.
        self.assertEqual(
            (held.severity, held.first.isoformat(), held.last.isoformat()), ("danger", "2027-12-24", "2027-12-28")
        )
        self.assertAlmostEqual(held.hours, 5 * 24 - 5 * 8)
        mended = audit(replay(held.remedy.applied(plan), FIRST, LAST))
        self.assertNotIn("held-through-holiday", {f.code for f in mended})

    def test_only_the_holiday_that_holds_the_output_is_changed(self):
        windows = [window("18:00", "02:00", ["fri"], ends="next-day")]
        rows = [entry("on", "18:00", ["fri"]), entry("off", "02:00")]
        # Sunday 4 July begins after a night without a window: it holds nothing. Saturday 25 December does.
        given = [{"from": "2027-07-04", "days": 1}, {"from": "12-25", "days": 5}]
        plan, found = findings(windows, rows, holidays=given)
        remedy = one(found, "held-through-holiday").remedy
        self.assertEqual(remedy.act.text(PLAIN), "Begin the holiday from 25 Dec a day earlier")
        self.assertEqual(
            [h.to_json() for h in remedy.applied(plan).unit.holidays], [given[0], {"from": "12-24", "days": 6}]
        )

    def test_holidays_over_whole_periods_hold_nothing(self):
        _, found = findings(
            DOOR, [entry("on", "08:00", "weekdays"), entry("off", "17:00")], holidays=[{"from": "12-24", "days": 5}]
        )
        self.assertNotIn("held-through-holiday", {f.code for f in found})

    def test_a_holiday_with_its_year_moves(self):
        for start, moves in [("2027-04-02", True), ("2031-04-02", True), ("12-25", False)]:
            with self.subTest(start=start, moves=moves):
                _, found = findings(DOOR, [], holidays=[{"from": start, "days": 1}])
                self.assertEqual("holiday-moves" in {f.code for f in found}, moves, start)
        self.assertEqual(
            one(findings(DOOR, [], holidays=[{"from": "2027-04-02", "days": 3}])[1], "holiday-moves").days, 3
        )


class HandTest(unittest.TestCase):
    EVENING = ([window("18:00", "23:00")], [entry("on", "18:00"), entry("off", "23:00")])

    def test_a_unit_left_on_by_hand(self):
        _, found = findings(*self.EVENING, overrides=[{"at": "2027-12-30T12:00", "channel": 1, "set": "on"}])
        left = one(found, "not-in-auto")
        self.assertEqual((left.severity, left.hours), ("danger", 12 + 24 - 10))

    def test_a_unit_that_waits_for_its_next_entry(self):
        modes = [
            {"at": "2027-05-03T19:00", "channel": 1, "set": "off"},
            {"at": "2027-05-03T20:00", "channel": 1, "set": "auto"},
        ]
        _, found = findings(*self.EVENING, overrides=modes, on_return_to_auto="waits")
        self.assertEqual(one(found, "not-in-auto").hours, 4)

    def test_a_reserve_that_is_too_short(self):
        cut = [{"at": "2027-05-03T12:00", "set": {"power_cut_h": 9}}]
        _, found = findings(*self.EVENING, overrides=cut, reserve_h=8)
        short = one(found, "reserve-short")
        # From 3 May to the end of the year nothing acts: 243 evenings of five hours.
        self.assertEqual((short.days, short.hours), (243, 243 * 5))
        self.assertNotIn("missing", {f.code for f in found})
        _, found = findings(*self.EVENING, overrides=cut, reserve_h=9)
        self.assertNotIn("reserve-short", {f.code for f in found})


class MistTest(unittest.TestCase):
    def test_the_pause_keyed_for_the_cycle(self):
        windows = [window("07:10", "16:25", repeat={"on_s": 8, "every_s": 240})]
        rows = [entry("on", "07:10") | {"repeat": {"on_s": 8, "off_s": 240, "until": "16:25"}}]
        plan, found = findings(windows, rows)
        slip = one(found, "pause-for-cycle")
        self.assertEqual(slip.headline, "135 pulses a day in place of 139")
        self.assertEqual(slip.remedy.label, "Slot 1: pause 232 s")
        self.assertEqual({f.code for f in audit(replay(slip.remedy.applied(plan), FIRST, LAST))} & NEVER, set())
        _, found = findings([], rows)
        self.assertNotIn("pause-for-cycle", {f.code for f in found})


class CloseCallTest(unittest.TestCase):
    def split(self, start):
        """A split night whose morning ends at sunrise."""
        windows = [window("sunset", "22:40"), window(start, "sunrise")]
        rows = [entry("on", "sunset"), entry("off", "22:40"), entry("on", start), entry("off", "sunrise")]
        return findings(windows, rows)

    def test_23_minutes_to_spare_and_what_uses_them_up(self):
        # The earliest sunrise of 2027 there by astral, daylight time, to the minute.
        observer = astral.Observer(-39.49, 176.91)
        plan, _ = self.split("05:00")
        rises = [
            astral.sun.sunrise(observer, date.fromordinal(FIRST.toordinal() + n), tzinfo=replay_zone(plan))
            for n in range(365)
        ]
        earliest = min(rise.hour * 60 + rise.minute + rise.second / 60 for rise in rises if rise.month in (11, 12, 1))
        start = round(earliest) - 23
        plan, found = self.split(f"05:{start - 300:02d}")
        self.assertEqual({f.severity for f in found}, {"note"})
        close = one(found, "close-call")
        self.assertRegex(close.headline, "2[234] min to spare")
        for text in ("a clock 2", "a correction of −2", "nearer the pole"):
            with self.subTest(text=text):
                self.assertIn(text, close.why)
        _, found = self.split(f"05:{start - 300 + 30:02d}")
        flip = one(found, "order-flips")
        self.assertEqual(flip.severity, "danger")
        early = [rise.date() for rise in rises if rise.hour * 60 + rise.minute < start + 30]
        self.assertLessEqual(abs((flip.first - early[0]).days), 1)
        self.assertLessEqual(abs((flip.last - early[-1]).days), 1)

    def test_the_latitude_that_uses_them_up_does(self):
        windows, rows = [window("05:20", "sunrise")], [entry("on", "05:20"), entry("off", "sunrise")]
        _, found = findings(windows, rows)
        degrees = float(one(found, "close-call").why.split("a place ")[1].split("°")[0])
        for more, flips in [(degrees + 0.1, True), (degrees - 0.2, False)]:
            with self.subTest(more=more, flips=flips):
                site = {"name": "South", "latitude": -39.49 - more, "longitude": 176.91, "timezone": "Pacific/Auckland"}
                _, found = findings(windows, rows, site=site)
                self.assertEqual("order-flips" in {f.code for f in found}, flips)


class ToleranceTest(unittest.TestCase):
    def test_small_differences_are_none_and_near_ones_are_told(self):
        plan = make_plan([window("05:20", "sunrise")], [entry("on", "05:20"), entry("off", "sunrise-4")])
        self.assertIn("missing", {f.code for f in audit_within(plan, FIRST, LAST)})
        within = audit_within(plan, FIRST, LAST, clock_min=5, sun_min=5)
        self.assertNotIn("missing", {f.code for f in within})
        # 05:20 stands 22 minutes and more before the earliest sunrise: half an hour of sun error would flip it.
        near = [f for f in audit_within(plan, FIRST, LAST, sun_min=40) if f.headline.startswith("Near")]
        self.assertEqual({f.severity for f in near}, {"note"})
        self.assertIn("the sun 40 min early", near[0].headline)
        self.assertTrue(np.isin(near[0].dates, range(10**6)).all())


class KeyingsTest(unittest.TestCase):
    def test_each_keying_is_looked_at_on_its_own_dates(self):
        winter = [entry("on", "18:00"), entry("off", "23:00"), entry("off", "20:00", ["thu"])]
        plan, found = findings(
            [window("18:00", "23:00")],
            [entry("on", "18:00"), entry("off", "23:00")],
            keyings=[{"from": "04-05", "entries": winter}, {"from": "09-26", "entries": winter[:2]}],
        )
        stray = one(found, "cuts-short")
        self.assertEqual((stray.slots, stray.keying, stray.remedy.change.keying), ((3,), 1, 1))
        # Thursdays from 5 April to 25 September 2027.
        self.assertEqual((stray.days, stray.hours), (25, 75))
        self.assertEqual({f.code for f in audit(replay(stray.remedy.applied(plan), FIRST, LAST))} & NEVER, set())
