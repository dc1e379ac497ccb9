"""Fit against brute force on small cases: no smaller set of entries does as well, and none that fits does better."""

import itertools
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from skavit.core.fitting import fit
from skavit.core.fitting.layouts import WindowLayouts, window_end
from skavit.core.fitting.shifting import shift_days
from skavit.core.fitting.trial import Draft, Trial
from skavit.core.ground.strict_json import Node
from skavit.core.plan.days import DAILY, Calendar, Dates, EveryNth, Narrowed, Once, Parity, Weekdays, Yearly, read_days
from skavit.core.plan.times import ClockTime, SunTime, day_number, day_of
from skavit.core.sun.days import SunEvent
from skavit.core.tests.builders import all_days, make_plan, window

YEAR = 2027
GROUPS = ["daily", "weekdays", "weekends"]


def drafts_of(plan):
    """Every entry that could be keyed with the windows' own times and the unit's groups, in order of time."""
    times = {t for w in plan.channels[0].windows for t in (w.start, w.to)}
    masks = sorted(plan.unit.limits.masks())
    return [
        Draft(on=on, at=at, days=Weekdays(mask))
        for at in sorted(times, key=lambda t: t.nominal_s)
        for on in (False, True)
        for mask in masks
    ]


def keyed_in(plan):
    return tuple(Draft(on=e.on, at=e.at, days=e.days) for e in plan.unit.entries)


class BruteForceTest(unittest.TestCase):
    CASES = [
        [window("06:00", "08:00"), window("18:00", "22:00")],
        [window("06:00", "08:00", "weekdays"), window("18:00", "22:00")],
        [window("18:00", "02:00", "weekends")],
        [window("18:00", "22:00", "weekdays"), window("18:00", "23:00", "weekends")],
        [window("08:00", "12:00"), window("10:00", "14:00", "weekends")],
        [window("22:00", "06:00", "weekdays"), window("23:00", "05:00", "weekends")],
        [window("10:00", "12:00", ["sat"])],
    ]

    def test_no_fewer_entries_do_as_well(self):
        for windows in self.CASES:
            plan = make_plan(windows, limits={"day_groups": GROUPS})
            result = fit(plan, YEAR)
            trial = Trial(plan, YEAR)
            left = trial.wrong_s(0, keyed_in(result.plan))
            for size in range(min(len(result.plan.unit.entries), 4)):
                for chosen in itertools.combinations(drafts_of(plan), size):
                    wrong = trial.wrong_s(0, chosen)
                    # As wrong with fewer entries is no better only where that leaves a window out.
                    self.assertGreaterEqual(wrong, left if size < 2 else left + 1, (windows, chosen))

    def test_a_small_memory_gets_the_least_hours_of_error(self):
        for windows in self.CASES[:4]:
            for capacity in (2, 3):
                with self.subTest(capacity=capacity):
                    plan = make_plan(windows, limits={"day_groups": GROUPS, "entries": capacity})
                    result = fit(plan, YEAR)
                    trial = Trial(plan, YEAR)
                    best = min(
                        trial.wrong_s(0, chosen)
                        for size in range(capacity + 1)
                        for chosen in itertools.combinations(drafts_of(plan), size)
                    )
                    self.assertLessEqual(trial.wrong_s(0, keyed_in(result.plan)), best, (windows, capacity))


class WaysTest(unittest.TestCase):
    def test_a_window_says_when_it_ends(self):
        for given_window, expected in [
            ({"from": "23:00", "for_min": 90}, (ClockTime(1800), 1)),
            ({"from": "23:00", "for_min": 3000}, (ClockTime(3600), 3)),
            ({"from": "sunset+10", "for_min": 60}, (SunTime(SunEvent.SUNSET, 70), 0)),
            ({"from": "sunset+10", "for_min": 800}, None),
            ({"from": "18:00", "to": "24:00"}, (ClockTime(0), 1)),
            ({"from": "18:00", "to": {"at": "23:00", "not_after": "22:00"}}, (ClockTime(79200), 0)),
        ]:
            with self.subTest(given_window=given_window, expected=expected):
                plan = make_plan([given_window])
                self.assertEqual(window_end(plan.channels[0].windows[0]), expected)

    def test_a_bent_way_says_why_and_an_exact_one_does_not(self):
        limits = {"sun_offset_max_min": 30, "day_groups": GROUPS, "clock_step_s": 900}
        plan = make_plan([window("sunset+45", "22:40", ["mon"])], limits=limits)
        layouts = list(WindowLayouts(Trial(plan, YEAR), plan.channels[0].windows[0], plan.unit.limits).layouts())
        self.assertTrue(all(layout.reason for layout in layouts))
        plan = make_plan([window("sunset+45", "22:40", ["mon"])])
        layouts = list(WindowLayouts(Trial(plan, YEAR), plan.channels[0].windows[0], plan.unit.limits).layouts())
        self.assertEqual(layouts[0].reason, "")
        self.assertEqual(layouts[0].text, "ON sunset + 45 min Mon; OFF 22:40 Mon")
        self.assertEqual(layouts[-1].drafts, ())

    @settings(max_examples=150)
    @given(all_days, st.integers(1, 2), st.integers(day_number(day_of(20_000)), 22_000))
    def test_shifted_days_hold_every_day_after_a_day_that_holds(self, raw, by, day):

        rule = read_days(Node(raw))
        shifted = shift_days(rule, by)
        calendar = Calendar(np.arange(day, day + 800))
        later = Calendar(calendar.days + by)
        held, then = rule.matches(calendar), shifted.matches(later)
        if _exact(rule):
            self.assertTrue((then | ~held).all(), (raw, by))
        if isinstance(rule, Weekdays | EveryNth):
            self.assertTrue((then == held).all())

    def test_parity_has_no_shift_but_every_day(self):
        self.assertEqual(shift_days(Parity(odd=True), 1), DAILY)
        self.assertEqual(shift_days(Dates((Yearly(228), Once(5))), 1), Dates((Yearly(229), Yearly(301), Once(6))))


def _exact(rule):
    """Rules whose shift is to hold all: narrowed ones may lose a day at a February's end, which fit then measures."""
    return not isinstance(rule, Narrowed)
