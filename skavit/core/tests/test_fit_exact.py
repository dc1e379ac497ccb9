"""`fit` against brute force on small cases: the fewest slots, and the least wrong hours of a memory too small.

The brute force is the test's own: every set of so many entries of the windows' times in the unit's day groups, keyed
in a plan and replayed; for pairs and banks every way to fill them.
"""

import random
import unittest
from datetime import date
from itertools import chain, combinations, product

from hypothesis import given, settings
from hypothesis import strategies as st

from skavit.core.fitting import fit
from skavit.core.fitting.covers import Option, solve
from skavit.core.fitting.proof import PROOF_YEARS
from skavit.core.fitting.trial import Draft, Trial
from skavit.core.memory.banks import place
from skavit.core.plan.days import Weekdays
from skavit.core.simulation.replay import replay
from skavit.core.tests.builders import DESERT, clock_text, make_plan, window

GROUPS = ["daily", "weekdays", "weekends"]


def wrong_h(plan, years=2):
    """Hours a year in which the plan's channels are wrong, over so many years."""
    result = replay(plan, date(2027, 1, 1), date(2026 + years, 12, 31))
    return sum(channel.extra_h + channel.missing_h for channel in result.channels) / years


def drafts_of(plan):
    """Every ON at a start and OFF at an end, in each of the unit's day groups."""
    windows = [w for channel in plan.channels for w in channel.windows]
    times = [(True, w.start) for w in windows] + [(False, w.to) for w in windows]
    masks = sorted(plan.unit.limits.masks())
    return [Draft(on=on, at=at, days=Weekdays(mask)) for on, at in dict.fromkeys(times) for mask in masks]


def least_wrong_h(plan, most):
    """The least hours a year of one channel over every set of up to ``most`` drafts."""
    trial = Trial(plan, 2027)
    drafts = drafts_of(plan)
    sets = chain.from_iterable(combinations(drafts, size) for size in range(most + 1))
    return min(trial.wrong_s(0, chosen) for chosen in sets) / 3600 / 2


def random_windows(seed, count):
    rng = random.Random(seed)
    found = []
    for _ in range(count):
        start = rng.randrange(0, 1300, 10)
        days = rng.choice([*GROUPS, ["mon", "tue"], ["fri", "sat"], ["sun"]])
        end = min(start + rng.randrange(30, 400, 10), 1430)
        found.append(window(rng.choice([clock_text(start), "sunset"]) if start > 1000 else clock_text(start),
                            clock_text(end) if end > 1150 or start < 1000 else "23:00", days))  # fmt: skip
    return found


class LeastWrongTest(unittest.TestCase):
    def test_what_a_small_memory_holds_is_the_least_wrong(self):
        for seed in range(12):
            rows = random_windows(seed, 2 + seed % 2)
            plan = make_plan(rows, site=DESERT, limits={"entries": 3, "day_groups": GROUPS})
            result = fit(plan, 2027)
            self.assertLessEqual(len(result.plan.unit.entries), 3)
            got = wrong_h(result.plan)
            self.assertLessEqual(got, least_wrong_h(plan, 3) + 1e-6, rows)
            stated = sum(loss.hours_a_year for loss in result.losses)
            self.assertAlmostEqual(stated, wrong_h(result.plan, PROOF_YEARS))

    def test_four_slots_with_three_groups(self):
        rows = [window("sunset", "22:40", ["mon", "tue", "wed", "thu"]), window("sunset", "23:30", ["fri", "sat", "sun"]),
                window("05:20", "sunrise", "weekdays")]  # fmt: skip
        plan = make_plan(rows, limits={"entries": 4, "day_groups": GROUPS})
        result = fit(plan, 2027)
        self.assertLessEqual(wrong_h(result.plan), least_wrong_h(plan, 4) + 1e-6)
        self.assertIn("the unit holds 4 entries", result.losses[0].reason)
        hours = [other.hours_a_year for other in result.others]
        self.assertEqual(len(hours), 2)
        self.assertEqual(sorted(hours), hours)
        self.assertGreater(hours[0], result.losses[0].hours_a_year)


class FewestSlotsTest(unittest.TestCase):
    def fewest(self, plan, most):
        """The fewest drafts of any set that leaves nothing wrong; None within ``most``."""
        trial = Trial(plan, 2027)
        for size in range(most + 1):
            if any(not trial.wrong_s(0, chosen) for chosen in combinations(drafts_of(plan), size)):
                return size
        return None

    def test_day_group_covers_are_minimal(self):
        pools = [
            GROUPS,
            ["weekdays", "single-days"],
            [["mon", "wed", "fri"], ["tue", "thu"], "weekends", ["fri", "sat"]],
        ]
        for groups, days in product(pools, [["mon", "wed", "fri"], "weekdays", ["fri", "sat", "sun"], "daily"]):
            plan = make_plan([window("18:00", "23:00", days)], site=DESERT, limits={"day_groups": groups})
            least = self.fewest(plan, 4)
            result = fit(plan, 2027)
            if least is None:
                self.assertTrue(result.losses or len(result.plan.unit.entries) > 4)
            else:
                self.assertEqual((len(result.plan.unit.entries), result.losses), (least, ()), (groups, days))

    def test_pairs_are_minimal(self):
        """Every set of so many pairs, with their OFF's days or not, against what `fit` keys."""
        for same, rows in [
            ("same", [window("08:00", "10:00"), window("15:00", "17:00", "weekdays")]),
            ("same", [window("08:00", "10:00", "weekdays"), window("08:00", "11:00", "weekends")]),
            ("own", [window("20:00", "01:00", "weekdays", ends="next-day"), window("20:00", "02:00", ["sat"], ends="next-day")]),
            ("own", [window("08:00", "10:00", "weekdays"), window("15:00", "17:00")]),
        ]:  # fmt: skip
            with self.subTest(same=same, rows=rows):
                groups = [*GROUPS, ["sun"], ["tue", "wed", "thu", "fri", "sat"]]
                bank = {"shape": "pair", "off_days": same}
                plan = make_plan(rows, site=DESERT, limits={"slots": [bank], "day_groups": groups})
                trial, drafts = Trial(plan, 2027), drafts_of(plan)
                pairs = [
                    (a, b) for a in drafts for b in drafts if a.on and not b.on and (same == "own" or a.days == b.days)
                ]
                least = next(
                    size
                    for size in range(1, 4)
                    if any(not trial.wrong_s(0, tuple(chain(*chosen))) for chosen in combinations(pairs, size))
                )
                result = fit(plan, 2027)
                self.assertEqual(result.losses, ())
                self.assertEqual(len(place(result.plan.unit.entries, plan.unit.limits).slots), least)

    def test_banks_for_sun_and_clock_times_are_kept(self):
        rows = [window("sunset", "22:40"), window("05:20", "sunrise")]
        banks = [{"shape": "single", "count": 2, "times": ["sun"]}, {"shape": "single", "count": 2, "times": ["clock"]}]
        plan = make_plan(rows, limits={"slots": banks})
        self.assertEqual(fit(plan, 2027).losses, ())
        less = make_plan(rows, limits={"slots": [banks[0] | {"count": 1}, banks[1]]})
        result = fit(less, 2027)
        self.assertEqual(place(result.plan.unit.entries, less.unit.limits).left, ())
        self.assertTrue(result.losses)

    def test_periods_for_each_day_group(self):
        bank = {"shape": "pair", "count": 2, "per": "day-group", "off_days": "same", "over_midnight": False}
        limits = {"slots": [bank], "day_groups": ["weekdays", "weekends"]}
        rows = [window("06:00", "08:00", "weekdays"), window("17:00", "22:00"), window("09:00", "10:00", "weekends")]
        result = fit(make_plan(rows, limits=limits), 2027)
        self.assertEqual((result.losses, len(result.plan.unit.entries)), ((), 8))
        one = limits | {"slots": [bank | {"count": 1}]}
        result = fit(make_plan(rows, limits=one), 2027)
        self.assertEqual(len(result.plan.unit.entries), 4)
        # Of two periods a day the longer is kept: 2 h on working days and 1 h at weekends are lost.
        self.assertAlmostEqual(result.losses[0].hours_a_year, 365.25 / 7 * (5 * 2 + 2), delta=1)

    def test_one_slot_for_several_channels(self):
        rows = [window("sunset", "22:40"), window("05:20", "sunrise")]
        result = fit(make_plan(channels=[rows, rows, rows[:1]], limits={"entries": 4}), 2027)
        self.assertEqual(result.losses, ())
        self.assertEqual([e.channels for e in result.plan.unit.entries], [(1, 2, 3), (1, 2, 3), (1, 2), (1, 2)])


class CoverTest(unittest.TestCase):
    @settings(max_examples=150)
    @given(
        st.lists(st.tuples(st.integers(1, 255), st.integers(0, 1)), min_size=1, max_size=9),
        st.integers(0, 3),
        st.integers(1, 255),
    )
    def test_the_search_agrees_with_trying_all(self, rows, most, everything):
        options = [Option(bits=bits, buckets=((bank, None),)) for bits, bank in rows]
        counts = {(0, None): most, (1, None): None}

        def covers(chosen):
            met = 0
            for index in chosen:
                met |= rows[index][0]
            return met & everything == everything and sum(not rows[index][1] for index in chosen) <= most

        least = next((n for n in range(len(rows) + 1) if any(map(covers, combinations(range(len(rows)), n)))), None)
        bits = [Option(bits=option.bits & everything, buckets=option.buckets) for option in options]
        found = solve(bits, everything, counts, None)
        self.assertEqual(None if found is None else len(found), least)
        if found is not None:
            self.assertTrue(covers(found))


times = st.integers(0, 47).map(lambda half: clock_text(half * 30))


class PropertyTest(unittest.TestCase):
    @settings(max_examples=15)
    @given(
        st.lists(
            st.tuples(times, times, st.sampled_from([*GROUPS, ["mon"], ["sat", "sun", "mon"]])), min_size=1, max_size=3
        ),
        st.integers(0, 4),
        st.sampled_from(["single", "pair"]),
        st.sampled_from(["own", "same"]),
    )
    def test_never_beyond_its_limits_and_as_wrong_as_it_says(self, rows, count, shape, off_days):
        windows = [window(start, end, days) for start, end, days in rows if start != end]
        bank = {"shape": shape, "count": count} | ({"off_days": off_days} if shape == "pair" else {})
        plan = make_plan(windows, site=DESERT, limits={"slots": [bank], "day_groups": GROUPS})
        result = fit(plan, 2027)
        self.assertEqual(place(result.plan.unit.entries, plan.unit.limits).left, ())
        stated = sum(loss.hours_a_year for loss in result.losses)
        self.assertAlmostEqual(wrong_h(result.plan, PROOF_YEARS), stated)
        self.assertEqual(stated == 0, not result.losses)
