"""Repair: no more changes than slips were made, nothing left wrong, hours that add up, and agreement with brute force."""

import re
import unittest
from dataclasses import replace
from datetime import date, timedelta
from itertools import product
from zoneinfo import ZoneInfo

import astral
import astral.sun
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from skavit.core.findings import audit
from skavit.core.fitting import fit
from skavit.core.plan.clock_settings import ClockSettings
from skavit.core.plan.days import DAILY, Weekdays
from skavit.core.plan.times import ClockTime, SunTime
from skavit.core.repair import edit_text, repair
from skavit.core.repair.edits import turned
from skavit.core.simulation.replay import replay
from skavit.core.sun import SunEvent
from skavit.core.tests.builders import entry, make_plan, window
from skavit.core.text.wording import PLAIN

YEAR = (date(2027, 1, 1), date(2027, 12, 31))
HOUR = 3600
DAYS = ["daily", "weekdays", "weekends", ["mon", "wed", "fri"], ["sat"], ["tue", "thu"]]


def text(minutes):
    return f"{minutes // 60:02d}:{minutes % 60:02d}"


def told(made):
    return [edit_text(step.edit, made.before.unit.entries, PLAIN) for step in made.steps]


def wrong_h(plan):
    return sum(channel.wrong_s for channel in replay(plan, *YEAR).channels) / HOUR


@st.composite
def windows(draw):
    """One to three windows of a day that do not meet, by the clock or from sunset or until sunrise."""
    found = []
    if draw(st.booleans()):
        found.append(window(text(draw(st.integers(54, 60)) * 5), "sunrise+60", draw(st.sampled_from(DAYS))))
    if draw(st.booleans()) or not found:
        start = draw(st.integers(120, 150)) * 5
        found.append(window(text(start), text(start + draw(st.integers(6, 40)) * 5), draw(st.sampled_from(DAYS))))
    if draw(st.booleans()):
        sort = draw(st.sampled_from(["sunset", "sunset+10", "21:15"]))
        found.append(window(sort, text(draw(st.integers(265, 285)) * 5), draw(st.sampled_from(DAYS))))
    return found


def _moved(at, by):
    return ClockTime((at.seconds + by) % 86_400)


@st.composite
def slips(draw, plan):
    """The plan's entries with one slip of the hand."""
    entries = plan.unit.entries
    slot = draw(st.integers(0, len(entries) - 1))
    old = entries[slot]
    ways = ["action", "lost", "stray", "days", "disabled"]
    ways += ["hour", "half-day", "digits"] if isinstance(old.at, ClockTime) else ["swapped", "sign"]
    way = draw(st.sampled_from(ways))
    at, days = old.at, old.days
    match way:
        case "hour":
            new = replace(old, at=_moved(at, draw(st.sampled_from([-2, -1, 1, 2])) * HOUR))
        case "half-day":
            new = replace(old, at=_moved(at, 12 * HOUR))
        case "digits":
            ways = turned(at)
            assume(ways)
            new = replace(old, at=draw(st.sampled_from(ways)))
        case "swapped":
            new = replace(old, at=SunTime(at.event.swapped, at.offset_min))
        case "sign":
            assume(at.offset_min)
            new = replace(old, at=SunTime(at.event, -at.offset_min))
        case "action":
            new = replace(old, on=not old.on)
        case "disabled":
            new = replace(old, disabled=True)
        case "days":
            mask = days.mask & draw(st.integers(1, 127))
            assume(mask and mask != days.mask)
            new = replace(old, days=Weekdays(mask))
        case "lost":
            return plan.with_entries((*entries[:slot], *entries[slot + 1 :]))
        case "stray":
            at = draw(st.sampled_from([ClockTime(2 * HOUR), ClockTime(13 * HOUR + 600), SunTime(SunEvent.SUNSET, 0)]))
            days = draw(st.sampled_from([DAILY, Weekdays(8), Weekdays(96)]))
            return plan.with_entries((*entries, replace(old, on=draw(st.booleans()), at=at, days=days)))
    return plan.with_entries((*entries[:slot], new, *entries[slot + 1 :]))


class SlipsTest(unittest.TestCase):
    @settings(max_examples=60, deadline=None)
    @given(st.data())
    def test_no_more_changes_than_slips_and_nothing_is_left(self, data):
        channels = data.draw(st.lists(windows(), min_size=1, max_size=2))
        plan = fit(make_plan(channels=channels), 2027).plan
        assume(wrong_h(plan) < 0.05)
        number = data.draw(st.integers(1, 3))
        slipped = plan
        for _ in range(number):
            assume(slipped.unit.entries)
            slipped = data.draw(slips(slipped))
        made = repair(slipped, *YEAR)
        self.assertLessEqual(len(made.steps), number, told(made))
        self.assertLess(made.left_h, 0.05, told(made))
        self.assertAlmostEqual(made.before_h, wrong_h(slipped))
        self.assertAlmostEqual(made.left_h, wrong_h(made.plan))
        self.assertAlmostEqual(sum(step.hours for step in made.steps), made.before_h - made.left_h)
        if made.before_h < 0.01:
            self.assertEqual(made.steps, ())


class BruteForceTest(unittest.TestCase):
    """Every single change of a small plan over a grid of times and days: where none leaves nothing wrong, two are told."""

    RULES = [Weekdays(mask) for mask in (127, 31, 96, 95, 32)]

    def single_changes(self, plan):
        entries, times = plan.unit.entries, sorted({ClockTime(h * HOUR) for h in range(0, 24, 2)} | {ClockTime(63_000)})
        some = [
            replace(entries[0], on=on, at=at, days=days) for on, at, days in product((True, False), times, self.RULES)
        ]
        for slot in range(len(entries)):
            yield (*entries[:slot], *entries[slot + 1 :])
            yield from ((*entries[:slot], new, *entries[slot + 1 :]) for new in some)
        yield from ((*entries, new) for new in some)

    def test_as_few_as_trying_everything_finds(self):
        cases = [
            ([entry("on", "05:30"), entry("off", "22:00")], 1),
            ([entry("on", "05:30"), entry("off", "22:00", "weekdays")], 2),
            ([entry("on", "17:30"), entry("off", "22:00"), entry("off", "20:00", ["sat"])], 1),
            ([entry("on", "17:30", "weekdays"), entry("off", "22:00", "weekends")], 2),
            ([entry("off", "17:30"), entry("on", "22:00")], 2),
        ]
        for rows, fewest in cases:
            with self.subTest(rows=rows):
                plan = make_plan([window("17:30", "22:00")], rows)
                single = any(wrong_h(plan.with_entries(tried)) == 0 for tried in self.single_changes(plan))
                made = repair(plan, *YEAR)
                self.assertEqual((len(made.steps), made.left_h, single), (fewest, 0, fewest == 1), told(made))


class ToldTest(unittest.TestCase):
    def test_two_faults_of_one_channel_are_two_changes(self):
        """05:30 for 17:30 lights 12 h on 365 days; the OFF lost on Saturday and Sunday leaves 104 nights."""
        plan = make_plan([window("17:30", "22:00")], [entry("on", "05:30"), entry("off", "22:00", "weekdays")])
        made = repair(plan, *YEAR)
        self.assertEqual(set(told(made)), {"Slot 1 at 17:30", "Slot 2: every day"})
        self.assertEqual(made.left_h, 0)
        # Before: 12 h of each weekday, and from Friday's OFF that is not there until Monday 22:00 all but what is wanted.
        self.assertGreater(min(step.hours for step in made.steps), 0)

    def test_what_a_foreign_clock_or_sun_does_is_no_fault_of_a_slot(self):
        rows = [entry("on", "sunset"), entry("off", "22:40")]
        for more in (
            {"clock": {"error_s": -3600}},
            {"clock": {"dst": "us"}},
            {"sun": {"source": "coordinates", "latitude": -39.49, "longitude": -176.91}},
        ):
            with self.subTest(more=more):
                made = repair(make_plan([window("sunset", "22:40")], rows, **more), *YEAR)
                self.assertEqual(made.steps, ())
                self.assertGreater(made.before_h, 100)
                self.assertEqual(made.left_h, made.before_h)

    def test_a_stray_beside_a_slip_and_a_clock_an_hour_behind(self):
        rows = [entry("on", "05:30"), entry("off", "22:00"), entry("off", "19:00", ["wed"])]
        plan = make_plan([window("17:30", "22:00")], rows, clock={"error_s": -3600})
        made = repair(plan, *YEAR)
        self.assertEqual(set(told(made)), {"Slot 1 at 17:30", "Clear slot 3"})
        # An hour off at the beginning and an hour on at the end of each of 365 evenings is the clock's.
        self.assertAlmostEqual(made.left_h, 2 * 365, delta=2)

    def test_an_entry_beside_the_point_is_moved_before_another_is_added(self):
        plan = make_plan([window("05:35", "07:25")], [entry("on", "06:35"), entry("off", "07:25")])
        self.assertEqual(told(repair(plan, *YEAR)), ["Slot 1 at 05:35"])

    def test_a_full_memory_is_mended_in_the_slots_it_has(self):
        rows = [entry("on", "18:00"), entry("off", "21:00"), entry("on", "19:00", ["mon"])]
        windows = [window("18:00", "21:00"), window("06:00", "07:00")]
        plan = make_plan(windows, [*rows, entry("off", "07:00")], limits={"entries": 4})
        self.assertEqual(told(repair(plan, *YEAR)), ["Slot 3: ON 06:00, every day"])

    def test_days_that_a_unit_cannot_hold_are_not_proposed(self):
        limits = {"day_groups": ["daily", "weekdays", "weekends"]}
        rows = [entry("on", "18:00"), entry("off", "21:00", "weekdays")]
        self.assertEqual(
            told(repair(make_plan([window("18:00", "21:00")], rows, limits=limits), *YEAR)), ["Slot 2: every day"]
        )

    def test_an_entry_on_the_wrong_channel(self):
        rows = [entry("on", "18:00", channels=(1, 2)), entry("off", "21:00", channels=(1,))]
        plan = make_plan(channels=[[window("18:00", "21:00")], [window("18:00", "21:00")]], entries=rows)
        self.assertEqual(told(repair(plan, *YEAR)), ["Slot 2: on channels 1 and 2"])

    def test_a_sun_time_is_held_by_a_clock_time(self):
        """Before 05:50 the sun rises from November to January there; an OFF held until then ends the ON at its own instant."""
        rows = [entry("on", "05:50"), entry("off", "sunrise")]
        limits = {"limited_times": True, "day_groups": ["any"]}
        made = repair(make_plan([window("05:50", "sunrise")], rows, limits=limits), *YEAR)
        self.assertEqual((told(made), made.left_h), (["Slot 2: not before 05:50"], 0))

    def test_a_holiday_is_no_fault_of_an_entry(self):
        rows = [entry("on", "18:00"), entry("off", "02:00")]
        windows = [window("18:00", "02:00", ends="next-day")]
        plan = make_plan(windows, rows, holidays=[{"from": "12-24", "days": 5}])
        self.assertEqual(repair(plan, *YEAR).steps, ())

    def test_of_several_sets_each_is_mended(self):
        winter = [entry("on", "06:00"), entry("off", "23:00")]
        keyings = [
            {"from": "04-05", "entries": winter},
            {"from": "09-26", "entries": [entry("on", "18:00"), winter[1]]},
        ]
        plan = make_plan([window("18:00", "23:00")], [entry("on", "18:00"), winter[1]], keyings=keyings)
        (step,) = repair(plan, *YEAR).steps
        # From 5 April to 25 September 2027, twelve hours a day.
        self.assertEqual((step.keying, step.hours), (1, 174 * 12))

    def test_a_unit_by_hand_or_without_channels_is_left(self):
        rows = [entry("on", "05:30"), entry("off", "22:00")]
        made = repair(make_plan([window("17:30", "22:00")], rows, operating="manual"), *YEAR)
        self.assertEqual((made.steps, made.left_h), ((), made.before_h))


class FindingsTest(unittest.TestCase):
    """Findings of channels follow the repair: one a change, each with its own hours and its button."""

    def press_all(self, plan, most):
        """Take the first remedy that is offered, again and again; gives the plan, and how many were taken."""
        for taken in range(most + 1):
            remedy = next((f.remedy for f in audit(replay(plan, *YEAR)) if f.remedy and f.severity != "note"), None)
            if remedy is None:
                return plan, taken
            plan = remedy.applied(plan)
        raise AssertionError("there is always one more")

    @settings(max_examples=40, deadline=None)
    @given(st.data())
    def test_hours_of_a_channel_add_up_and_the_buttons_mend_it(self, data):
        plan = fit(make_plan(channels=data.draw(st.lists(windows(), min_size=1, max_size=2))), 2027).plan
        assume(wrong_h(plan) < 0.05)
        for _ in range(data.draw(st.integers(1, 2))):
            assume(plan.unit.entries)
            plan = data.draw(slips(plan))
        run = replay(plan, *YEAR)
        found = audit(run)
        told_h = sum(finding.hours for finding in found)
        # Differences of a minute at a time are none.
        self.assertAlmostEqual(told_h, sum(c.wrong_s for c in run.channels) / HOUR, delta=0.05 + told_h * 1e-3)
        for number, channel in enumerate(run.channels):
            own = [finding for finding in found if finding.channel == number + 1]
            if all(finding.channel is not None for finding in found):
                self.assertAlmostEqual(sum(f.hours for f in own), channel.wrong_s / HOUR, delta=0.05 + told_h * 1e-3)
        if plan.unit.entries and found:
            mended, _ = self.press_all(plan, 4)
            self.assertLess(wrong_h(mended), 0.05)

    def test_half_a_day_and_a_weekend(self):
        plan = make_plan([window("17:30", "22:00")], [entry("on", "05:30"), entry("off", "22:00", "weekdays")])
        found = [finding for finding in audit(replay(plan, *YEAR)) if finding.severity != "note"]
        self.assertEqual(
            [(f.code, f.slots, f.remedy.label) for f in found],
            [("half-day-slip", (1,), "Slot 1 at 17:30"), ("days-uncovered", (1, 2), "Slot 2: every day")],
        )
        # From Friday 22:00 to Monday 17:30, less two evenings; 52 weekends, and the first Friday is before the year.
        self.assertAlmostEqual(found[0].hours + found[1].hours, wrong_h(plan))
        self.assertEqual(wrong_h(self.press_all(plan, 2)[0]), 0)

    def test_a_stray_a_slip_and_a_clock_behind(self):
        rows = [entry("on", "05:30"), entry("off", "22:00"), entry("off", "19:00", ["wed"])]
        plan = make_plan([window("17:30", "22:00")], rows, clock={"error_s": -3600})
        found = {finding.code: finding for finding in audit(replay(plan, *YEAR)) if finding.severity != "note"}
        self.assertEqual(set(found), {"half-day-slip", "cuts-short", "clock-out"})
        self.assertEqual((found["half-day-slip"].slots, found["cuts-short"].slots), ((1,), (3,)))
        # 52 Wednesdays from 19:00, which its clock shows at 20:00, to 22:00.
        self.assertEqual(found["cuts-short"].hours, 52 * 2)
        mended, taken = self.press_all(plan, 2)
        self.assertEqual(taken, 2)
        set_right = replace(mended, unit=replace(mended.unit, clock=ClockSettings()))
        self.assertEqual(wrong_h(set_right), 0)

    def test_a_time_range_is_told_only_where_it_holds(self):
        rows = [entry("on", "sunset-60"), entry("off", "22:00")]
        (found,) = [f for f in audit(replay(make_plan([window("sunset", "22:00")], rows), *YEAR)) if f.hours]
        # An hour before sunset, from the earliest to the latest of the year by the clock there, by astral.
        observer, zone = astral.Observer(-39.49, 176.91), ZoneInfo("Pacific/Auckland")
        days = [YEAR[0] + timedelta(days=n) for n in range(365)]
        sets = sorted(astral.sun.sunset(observer, day, tzinfo=zone).time() for day in days)
        low, high = [t.hour * 60 + t.minute + t.second / 60 for t in (sets[0], sets[-1])]
        told = re.search(
            r"On, not wanted, between (\d\d):(\d\d) and (\d\d):(\d\d), up to 1 h at a time, on 365 days", found.headline
        )
        hours = [int(part) for part in told.groups()]
        self.assertAlmostEqual(hours[0] * 60 + hours[1], low - 60, delta=1.5)
        self.assertAlmostEqual(hours[2] * 60 + hours[3], high, delta=1.5)
        self.assertIn("sunset would match what is wanted", found.why)
