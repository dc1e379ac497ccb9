"""Fit: within the limits, in the fewest slots, and with a stated loss that is the replay's."""

import itertools
import unittest
from dataclasses import replace
from datetime import date
from typing import ClassVar

from hypothesis import example, given, settings
from hypothesis import strategies as st

from skavit.core.findings import audit
from skavit.core.fitting import fit
from skavit.core.fitting.groups import UNREACHABLE, cost, cover
from skavit.core.fitting.proof import PROOF_YEARS
from skavit.core.ground.strict_json import Node
from skavit.core.plan.days import Weekdays
from skavit.core.plan.document import read_plan
from skavit.core.plan.times import LimitedTime, sun_time_of
from skavit.core.simulation.replay import replay
from skavit.core.tests.builders import clock_times, entry, make_plan, simple_days, sun_times, window

YEAR = 2027
PANEL = ["daily", "weekdays", "weekends", "single-days"]

# (windows of each channel, limits, slots, hours lost a year: None where nothing is)
CASES = [
    ([[window("sunset+10", "22:40"), window("05:20", "sunrise", "weekdays")]], {}, 4, None),
    ([[window("sunset", "sunrise", "weekdays")]], {}, 2, None),
    ([[window("sunset", "sunrise", "weekdays")]], {"day_groups": PANEL}, 2, None),
    ([[window("18:00", "23:00", ["mon", "wed", "fri"])]], {"day_groups": PANEL}, 4, None),
    ([[window("18:00", "23:00", ["mon", "tue", "wed", "thu", "fri", "sat"])]], {"day_groups": PANEL}, 3, None),
    ([[window("18:00", "22:00"), window("20:00", "24:00", ["fri"])]], {}, 3, None),
    ([[window("18:00", "20:00"), window("20:00", "22:00")]], {}, 2, None),
    ([[window("sunset", "22:40")], [window("sunset", "22:40")]], {}, 2, None),
    ([[window("sunset", "22:40"), window("05:20", "sunrise", "weekdays")],
      [window("sunset", "22:40"), window("05:20", "sunrise")]], {}, 5, None),
    ([[window({"at": "sunset", "not_after": "18:00"}, "23:00")]], {}, 3, None),
    ([[window({"at": "sunset", "not_before": "18:00"}, "23:00")]], {"limited_times": True}, 2, None),
    ([[window("20:00", "02:00", {"parity": "odd"})]], {}, 2, None),
    ([[window("05:50", "sunrise")]], {"limited_times": True}, 2, None),
    ([[window("05:50", "sunrise")]], {}, 2, 0.1),
    # On 51 days sunrise comes before 05:50, by 12 minutes at most: a second OFF ends those few minutes after it.
    ([[window("05:50", "sunrise")]], {"day_groups": ["daily"]}, 3, 10),
    ([[window("dusk", "23:30")]], {"sun_events": ["sunrise", "sunset"]}, 2, 15),
    ([[window("sunset+120", "23:30")]], {"sun_offset_max_min": 90}, 2, 15),
    ([[window("18:07", "22:40")]], {"clock_step_s": 600}, 2, 25),
    ([[window("sunset", "22:40", "weekdays"), window("sunset", "23:40", "weekends")]],
     {"entries": 2, "day_groups": PANEL}, 2, 110),
    ([[window("18:00", "23:00", {"days": "daily", "between": ["11-01", "03-31"]})]], {"day_groups": ["daily"]}, 0, 760),
]  # fmt: skip


def wrong_h(plan):
    result = replay(plan, date(YEAR, 1, 1), date(YEAR + PROOF_YEARS - 1, 12, 31))
    return [(c.extra.total_s + c.missing.total_s) / 3600 / PROOF_YEARS for c in result.channels]


def assert_within(test, plan, limits):
    held = plan.unit.limits
    test.assertLessEqual(len(plan.unit.entries), held.entries if held.entries is not None else 10_000)
    for keyed in plan.unit.entries:
        test.assertTrue(held.holds_days(keyed.days), keyed)
        sun = sun_time_of(keyed.at)
        if sun is not None:
            test.assertTrue(held.sun_events is None or sun.event in held.sun_events)
            test.assertLessEqual(abs(sun.offset_min), limits.get("sun_offset_max_min", 720))
        else:
            test.assertEqual(keyed.at.seconds % limits.get("clock_step_s", 1), 0)
        test.assertTrue(held.limited_times or not isinstance(keyed.at, LimitedTime))


class FitTest(unittest.TestCase):
    def test_cases(self):
        for channels, limits, slots, lost in CASES:
            with self.subTest(channels, limits=limits):
                result = fit(make_plan(channels=channels, limits=limits), YEAR)
                self.assertEqual(len(result.plan.unit.entries), slots)
                assert_within(self, result.plan, limits)
                self.assertAlmostEqual(sum(loss.hours_a_year for loss in result.losses), sum(wrong_h(result.plan)), 6)
                if lost is None:
                    self.assertEqual(result.losses, ())
                else:
                    self.assertLess(sum(loss.hours_a_year for loss in result.losses), lost)
                    self.assertTrue(all(loss.reason and loss.nearest for loss in result.losses))

    def test_a_window_is_left_out_only_if_every_other_way_costs_more(self):
        # One Saturday hour costs as much as the Sunday hour that comes with it in the group of both: it is kept.
        limits = {"day_groups": ["daily", "weekdays", "weekends"]}
        result = fit(make_plan([window("10:00", "11:00", ["sat"])], limits=limits), YEAR)
        self.assertEqual([entry.days.to_json() for entry in result.plan.unit.entries], ["weekends", "weekends"])
        self.assertAlmostEqual(result.losses[0].hours_a_year, 52.5, delta=1)

    def test_a_loss_names_the_days_that_share_a_group(self):
        groups = {"day_groups": ["daily", "weekdays", "weekends"]}
        for rows, shared in (
            ([window("18:00", "22:00", ["mon", "wed", "fri"])], "Mon, Wed, Fri share a day group with Tue, Thu"),
            ([window("18:00", "22:00", ["sat"]), window("18:00", "23:00", ["sun"])], "Sat shares a day group with Sun"),
        ):
            (loss,) = fit(make_plan(rows, limits=groups), YEAR).losses
            self.assertIn(shared, loss.reason)
        # In a memory too small they share one though the unit has others.
        rows = [window("18:00", "22:00", ["mon", "tue", "wed", "thu"]), window("18:00", "23:00", ["fri"])]
        (loss,) = fit(make_plan(rows, limits={"entries": 3, "day_groups": PANEL}), YEAR).losses
        self.assertTrue(loss.reason.endswith("6 are needed; Mon to Thu share a day group with Fri"), loss.reason)

    def test_on_comes_before_off_where_they_may_meet(self):
        result = fit(make_plan([window("05:50", "sunrise")], limits={"limited_times": True}), YEAR)
        self.assertEqual([entry.on for entry in result.plan.unit.entries], [True, False])

    def test_a_wrong_clock_is_stated_and_not_fitted_around(self):
        result = fit(make_plan([window("sunset+10", "22:40")], clock={"dst": "us"}), YEAR)
        self.assertIn("clock", result.losses[0].reason)
        self.assertAlmostEqual(result.losses[0].hours_a_year, sum(wrong_h(result.plan)), 6)

    def test_two_drafts_made_one_name_their_channel_once(self):
        """Found by a random plan: in a memory too small two OFFs of one channel came to the same days."""
        rows = [[], [window("00:00", "00:01"), window("00:00", "00:00", ["mon"])]]
        limits = {"entries": 4, "day_groups": ["daily", "single-days"]}
        made = fit(make_plan(channels=rows, limits=limits), 2027).plan
        self.assertEqual(read_plan(Node(made.to_json())), made)

    def test_fit_is_the_same_every_time(self):
        plan = make_plan(channels=CASES[8][0], limits={"entries": 3, "day_groups": PANEL})
        self.assertEqual(fit(plan, YEAR), fit(plan, YEAR))

    @settings(max_examples=12)
    @given(
        st.lists(
            st.builds(window, st.one_of(clock_times, sun_times), st.one_of(clock_times, sun_times), simple_days),
            min_size=1, max_size=2,
        ),
        st.fixed_dictionaries(
            {},
            optional={
                "entries": st.integers(0, 5),
                "day_groups": st.just(["daily", "weekdays", "weekends"]),
                "clock_step_s": st.sampled_from([60, 600]),
                "sun_offset_max_min": st.sampled_from([0, 60]),
                "limited_times": st.booleans(),
            },
        ),
    )  # fmt: skip
    @example([window("05:02", "dawn-120", ["mon", "tue", "sat"])], {"day_groups": ["daily", "weekdays", "weekends"]})
    def test_limits_are_kept_and_the_loss_is_the_replays(self, windows, limits):
        result = fit(make_plan(windows, limits=limits), YEAR)
        assert_within(self, result.plan, limits)
        self.assertAlmostEqual(sum(loss.hours_a_year for loss in result.losses), sum(wrong_h(result.plan)), 6)
        # Leaving everything out is always possible: no fit may be worse.
        nothing = sum(wrong_h(make_plan(windows)))
        self.assertLessEqual(sum(wrong_h(result.plan)), nothing + 1e-6)


class CoverTest(unittest.TestCase):
    @given(st.sets(st.integers(1, 127), min_size=1, max_size=5), st.integers(1, 127))
    def test_cover_is_the_fewest_by_brute_force(self, groups, mask):
        fewest = UNREACHABLE
        for size in range(1, len(groups) + 1):
            for chosen in itertools.combinations(groups, size):
                union = 0
                for group in chosen:
                    union |= group
                if union == mask:
                    fewest = min(fewest, size)
        self.assertEqual(cost(mask, frozenset(groups)), fewest)
        found = cover(mask, frozenset(groups))
        if found is not None:
            self.assertLessEqual(set(found), groups)

    def test_shifted_weekdays(self):
        self.assertEqual(Weekdays(0b0011111).shifted(1), Weekdays(0b0111110))
        self.assertEqual(Weekdays(0b1000001).shifted(1), Weekdays(0b0000011))


class EmptyOnSomeDatesTest(unittest.TestCase):
    """Windows that are empty in summer, in units that know no seasons: a second, later OFF ends what the first missed."""

    BERLIN = {"name": "Berlin", "latitude": 52.52, "longitude": 13.40, "timezone": "Europe/Berlin"}
    COPENHAGEN = {"name": "Copenhagen", "latitude": 55.68, "longitude": 12.57, "timezone": "Europe/Copenhagen"}
    GROUPS: ClassVar = {"day_groups": ["daily", "weekdays", "weekends"]}

    def of_any_length(self, plan):
        """The plan with periods as short as may be, so that nothing but the order of ON and OFF decides."""
        return replace(plan, channels=tuple(replace(channel, least_on_min=0) for channel in plan.channels))

    def test_a_second_off_after_the_first(self):
        for site, wanted, most_h in (
            # The latest sunset at Berlin is at 21:33 (the sun's own tests stand behind it).
            (self.BERLIN, window("sunset", "21:30", ends="same-day"), 1),
            # Any OFF by the sun that comes after 05:00 in June comes after sunrise at other times of the summer too.
            (self.COPENHAGEN, window("05:00", "sunrise-20", ends="same-day"), 37),
        ):
            with self.subTest(site["name"]):
                plan = self.of_any_length(make_plan([wanted], [], site=site, limits=self.GROUPS))
                found = fit(plan, 2027)
                self.assertEqual(sum(not entry.on for entry in found.plan.unit.entries), 2)
                self.assertLess(sum(loss.hours_a_year for loss in found.losses), most_h)
                year = replay(found.plan, date(2027, 1, 1), date(2027, 12, 31)).channels[0]
                self.assertLess(year.wrong_s / 3600, most_h)

    def test_where_it_flips_the_remedy_is_as_good(self):
        rows = [entry("on", "sunset"), entry("off", "21:30")]
        plan = make_plan([window("sunset", "21:30", ends="same-day")], rows, site=self.BERLIN, limits=self.GROUPS)
        plan = self.of_any_length(plan)
        span = date(2027, 1, 1), date(2027, 12, 31)
        (flips,) = [finding for finding in audit(replay(plan, *span)) if finding.code == "order-flips"]
        self.assertGreater(flips.hours, 500)
        mended = replay(flips.remedy.applied(plan), *span).channels[0]
        self.assertLess(mended.wrong_s / 3600, 1)
