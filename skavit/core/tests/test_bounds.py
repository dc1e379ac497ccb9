"""Work is bounded, in steps and not in seconds, and what is found by mask and search is what the plain way finds."""

import random
from datetime import date
from functools import cache
from itertools import pairwise
from unittest import TestCase
from unittest.mock import patch

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from skavit.core.findings import audit
from skavit.core.findings import case as case_module
from skavit.core.findings.case import Budgets, Case
from skavit.core.findings.entries import NoEffect
from skavit.core.findings.order import Pairs
from skavit.core.fitting import bent, fit
from skavit.core.fitting import trial as trial_module
from skavit.core.fitting.thinning import _channel, pairs_of, thinned
from skavit.core.fitting.trial import Trial
from skavit.core.formats.results import replay_text
from skavit.core.ground.budget import Budget
from skavit.core.ground.errors import RangeError
from skavit.core.ground.spans import difference, intersection, union
from skavit.core.ground.strict_json import Node
from skavit.core.heat.targets import targets
from skavit.core.memory import banks
from skavit.core.plan.document import read_plan
from skavit.core.simulation.events import output_spans
from skavit.core.simulation.purpose import MOSTLY, NEAR_S, _away, _begins, _Edges, _window_edges
from skavit.core.simulation.replay import replay
from skavit.core.tests.builders import (
    clock_text,
    clock_times,
    document,
    entry,
    make_plan,
    simple_days,
    sun_times,
    window,
)

YEAR = date(2027, 1, 1), date(2027, 12, 31)
SIX_PAIRS = {
    "entries": 12,
    "slots": [{"shape": "pair", "count": 6}],
    "day_groups": ["daily", "weekdays", "single-days"],
}

times = st.one_of(clock_times, sun_times)
entry_rows = st.lists(
    st.builds(
        lambda action, at, days, channels: entry(action, at, days, tuple(sorted(channels))),
        st.sampled_from(["on", "off"]),
        times,
        simple_days,
        st.sets(st.integers(1, 2), min_size=1),
    ),
    min_size=1,
    max_size=9,
)
two_channels = st.builds(
    lambda entries, starts: make_plan(
        entries=entries, channels=[[window(at, "22:40", ends="next-day")] for at in starts]
    ),
    entry_rows,
    st.tuples(times, times),
)
span_pairs = st.lists(st.tuples(st.integers(0, 60), st.integers(1, 9)), max_size=9)


def many_entries(count, seed=4):
    chance = random.Random(seed)
    at = ["sunset", "sunrise", "dawn-20", "dusk+30"]
    return [
        entry(chance.choice(["on", "off"]), chance.choice([clock_text(chance.randrange(1440)), chance.choice(at)]))
        for _ in range(count)
    ]


def weekday_windows(count, seed=4):
    chance = random.Random(seed)
    days = ["mon", "tue", "wed", "thu", "fri", "sat", "sun"]
    starts = [(chance.randrange(1300), chance.randrange(10, 120), [chance.choice(days)]) for _ in range(count)]
    return [window(clock_text(start), clock_text((start + long) % 1440), on) for start, long, on in starts]


def serves(row, at, edge):
    """An entry acts on the edge's channel, the same way, at its time or with it on most of its days."""
    if edge[0] not in row.channels or edge[2] != row.on:
        return False
    return edge[3] == row.at or bool(at.size and np.mean(_away(at, edge[4]) <= NEAR_S) > MOSTLY)


class LongRangeTest(TestCase):
    """What would take gigabytes is refused in words before it is begun; a year of it is not."""

    FIFTY_YEARS = date(2000, 1, 1), date(2049, 12, 31)

    def test_set_points(self):
        points = [{"at": clock_text(minute), "c": 5 + minute % 20} for minute in range(520)]
        heat = {"zones": [{"name": "Hall", "wanted": points, "keyed": points}]}
        plan = read_plan(Node(document(channels=[]) | {"heat": heat}))
        with self.assertRaisesRegex(RangeError, "1040 set points over this range are too many"):
            targets(replay(plan, *self.FIFTY_YEARS))
        self.assertEqual(targets(replay(plan, *YEAR)).zones[0].too_cold_kh, 0)

    def test_entries(self):
        plan = make_plan(entries=many_entries(1050))
        with self.assertRaisesRegex(RangeError, "1050 windows and entries over this range are too much"):
            replay(plan, *self.FIFTY_YEARS)
        self.assertEqual(len(replay(plan, *YEAR).channels), 1)


class SpansTest(TestCase):
    @given(span_pairs, span_pairs)
    def test_what_is_in_both_and_in_one_alone_by_the_second(self, first, second):
        a, b = (
            union(*np.array([(s, s + n) for s, n in rows], dtype=np.int64).reshape(-1, 2).T) for rows in (first, second)
        )
        in_a, in_b = ({t for s, n in rows for t in range(s, s + n)} for rows in (first, second))
        for found, expected in ((intersection(a, b), in_a & in_b), (difference(a, b), in_a - in_b)):
            seconds = [t for on, off in zip(found.on, found.off, strict=True) for t in range(on, off)]
            self.assertEqual(seconds, sorted(expected))
            self.assertTrue((found.on[1:] > found.off[:-1]).all())


class TheSameAsThePlainWayTest(TestCase):
    @settings(max_examples=40)
    @given(two_channels)
    def test_an_entry_without_effect_is_one_without_which_the_outputs_are_the_same(self, plan):
        case = Case(replay(plan, *YEAR))
        kept = np.ones(len(plan.unit.entries), dtype=bool)
        expected = []
        for slot in range(len(kept) - 1, -1, -1):
            mine = [case.channels[number - 1].events for number in plan.unit.entries[slot].channels]
            before = [output_spans(events.where(kept[events.slot]), case.replay.end) for events in mine]
            kept[slot] = False
            if [output_spans(events.where(kept[events.slot]), case.replay.end) for events in mine] == before:
                expected.append(slot + 1)
            else:
                kept[slot] = True
        self.assertEqual([finding.slots[0] for finding in NoEffect().find(case)], expected)

    @settings(max_examples=40)
    @given(two_channels)
    def test_no_pair_that_flips_or_comes_near_is_passed_over(self, plan):
        case = Case(replay(plan, *YEAR))
        for channel in case.channels:
            pairs = Pairs(case, channel)
            looked_at = {(pair.first, pair.second, pair.gap.min()) for pair in pairs}
            for a in range(pairs.slots.size):
                for b in range(pairs.slots.size):
                    for apart in (0, 1):
                        pair = pairs.pair(a, b, apart)
                        opposite = pairs.on[a] != pairs.on[b] and (pairs.sunny[a] or pairs.sunny[b])
                        if opposite and pair.gap.size and pair.gap.max() >= 0 and pair.gap.min() < 30 * 60:
                            self.assertIn((pair.first, pair.second, pair.gap.min()), looked_at)

    @settings(max_examples=30)
    @given(two_channels)
    def test_the_edges_that_an_entry_serves(self, plan):
        result = replay(plan, *YEAR)
        edges = _window_edges(result)
        for row, at in zip(plan.unit.entries, _begins(result, len(plan.unit.entries)), strict=True):
            plainly = [e for e, edge in enumerate(edges) if serves(row, at, edge)]
            self.assertEqual(_Edges(edges).served_by(row, at), plainly)
            for e, median in _Edges(edges).medians(row, at):
                self.assertEqual(median, float(np.median(_away(at, edges[e][4]))))

    @settings(max_examples=30)
    @given(two_channels, st.sampled_from([[1], [2], [1, 2]]))
    def test_some_channels_alone_do_what_they_do_in_the_whole(self, plan, numbers):
        whole, part = replay(plan, *YEAR), replay(plan.of_channels(numbers), *YEAR)
        for number, channel in zip(numbers, part.channels, strict=True):
            self.assertEqual(channel.actual, whole.channels[number - 1].actual)
            self.assertEqual(channel.wanted, whole.channels[number - 1].wanted)

    @settings(max_examples=30)
    @given(two_channels, entry_rows)
    def test_what_other_entries_would_leave_wrong(self, plan, others):
        case = Case(replay(plan, *YEAR))
        entries = (*plan.unit.entries[:1], *make_plan(entries=others, channels=[[], []]).unit.entries)
        anew = replay(plan.with_entries(entries), *YEAR)
        self.assertEqual(case.wrong_s(entries), sum(c.extra.total_s + c.missing.total_s for c in anew.channels))


class BudgetTest(TestCase):
    @given(st.integers(0, 50), st.lists(st.integers(0, 20), max_size=12))
    def test_never_more_is_granted_than_there_is(self, steps, asked):
        budget = Budget(steps)
        granted = sum(some for some in asked if budget.take(some))
        self.assertLessEqual(granted, steps)
        self.assertEqual(budget.left, steps - granted)
        self.assertEqual(budget.ended, granted != sum(asked))

    def test_an_audit_tries_no_more_than_its_budget(self):
        plan = make_plan([window("sunset", "22:40")], many_entries(300))
        with patch.object(case_module, "replay", wraps=replay) as tried:
            found = audit(replay(plan, *YEAR))
        events = sum(len(call.args[0].unit.entries) * 366 for call in tried.call_args_list)
        self.assertLess(events, 2 * case_module.REMEDY_STEPS)
        self.assertIn("not-all-tried", {finding.code for finding in found})

    def test_a_small_plan_says_nothing_of_it(self):
        found = audit(replay(make_plan([window("sunset", "22:40")], many_entries(16)), *YEAR))
        self.assertNotIn("not-all-tried", {finding.code for finding in found})

    def test_more_entries_than_an_audit_looks_at_are_refused_in_words(self):
        plan = make_plan([window("sunset", "22:40")], many_entries(3000))
        with self.assertRaisesRegex(RangeError, "accepted: some 2,000 on one channel"):
            audit(replay(plan, *YEAR))


class FitBudgetTest(TestCase):
    """Twenty windows on weekdays in six pairs once took seven gigabytes."""

    @staticmethod
    @cache
    def fitted(steps):
        plan = make_plan(weekday_windows(20), limits=SIX_PAIRS)
        budget = Budget(steps)
        return plan, fit(plan, 2027, budget), budget

    def test_it_ends_says_so_and_keeps_to_the_memory(self):
        plan, found, budget = self.fitted(2_000_000)
        self.assertTrue(found.ended and budget.ended)
        self.assertIn("the best of the first 2 million steps", found.losses[0].reason)
        self.assertTrue(banks.holds_all(found.plan.unit.entries, plan.unit.limits))

    def test_however_short_it_leaves_fewer_hours_wrong_than_nothing_keyed(self):
        for steps in (1, 200_000, 2_000_000):
            with self.subTest(steps=steps):
                plan, found, _ = self.fitted(steps)
                nothing = replay(plan, *YEAR).channels[0].missing_h
                self.assertLess(found.losses[0].hours_a_year, nothing)

    def test_more_steps_leave_no_more_hours_wrong(self):
        hours = [self.fitted(steps)[1].losses[0].hours_a_year for steps in (1, 2_000_000, 8_000_000)]
        self.assertLessEqual(hours[2], hours[0])

    def test_the_steps_are_what_bounds_it(self):
        budget, plan = Budget(1_000_000), make_plan(weekday_windows(20), limits=SIX_PAIRS)
        with patch.object(Trial, "_run", autospec=True, side_effect=trial_module.Trial._run) as run:
            fit(plan, 2027, budget)
        self.assertTrue(budget.ended)
        self.assertLess(run.call_count, 4_000)

    def test_what_is_kept_of_trials_is_bounded(self):
        trial = Trial(make_plan(weekday_windows(20), limits=SIX_PAIRS), 2027)
        drafts = pairs_of(trial, 0, trial.plan.unit.limits)
        with patch.object(trial_module, "KEPT_BYTES", 50_000):
            trial = Trial(trial.plan, 2027)
            for size in range(2, len(drafts), 2):
                trial.output(0, drafts[:size])
        self.assertLessEqual(trial._outputs.currsize, 50_000)

    def test_pairs_keep_to_the_day_groups_when_their_off_is_on_the_next_date(self):
        """Weekday nights end on Tuesday to Saturday, which is no group of the unit: three pairs hold something else."""
        limits = SIX_PAIRS | {
            "slots": [{"shape": "pair", "count": 3}],
            "day_groups": ["daily", "weekdays", "weekends", "single-days"],
        }
        nights = window("21:30", "06:00", "weekdays", ends="next-day")
        plan = make_plan([nights, window("10:20", "10:55", ["mon", "wed", "fri"])], limits=limits)
        masks = {draft.days.mask for draft in pairs_of(Trial(plan, 2027), 0, plan.unit.limits)}
        self.assertLessEqual(masks, plan.unit.limits.masks())
        found = fit(plan, 2027).plan
        self.assertNotIn("no-such-days", {finding.code for finding in audit(replay(found, *YEAR))})

    def test_many_channels_in_a_small_memory_spend_their_budget(self):
        """Forty-one channels for four entries: what joins and weighs states counts too, and the end is said."""
        channels = [weekday_windows(2, seed) for seed in range(41)]
        budget = Budget(1_500_000)
        limits = {"entries": 4, "day_groups": ["daily", "weekdays", "weekends"]}
        with patch.object(bent, "join", wraps=bent.join) as join:
            found = fit(make_plan(channels=channels, limits=limits), 2027, budget)
        self.assertTrue(found.ended)
        self.assertLess(join.call_count, 300)
        self.assertIn("the best of the first", found.losses[0].reason)
        self.assertLessEqual(len(found.plan.unit.entries), 4)

    def test_what_a_drop_does_is_what_the_trial_says(self):
        trial = Trial(make_plan(weekday_windows(8), limits=SIX_PAIRS), 2027)
        drafts = pairs_of(trial, 0, trial.plan.unit.limits)
        group = np.arange(len(drafts)) // 2
        harm = _channel(trial, 0, drafts).harm(group)
        for pair, found in enumerate(harm):
            fewer = drafts[: 2 * pair] + drafts[2 * pair + 2 :]
            self.assertEqual(found, trial.wrong_s(0, fewer) - trial.wrong_s(0, drafts))
        self.assertLessEqual(len(thinned(trial, [drafts], 5, in_pairs=True)[0]), 5)

    def test_more_windows_than_it_looks_at_are_refused_in_words(self):
        with self.assertRaisesRegex(RangeError, "401 windows are too many to fit; accepted: at most 400"):
            fit(make_plan(weekday_windows(401)), 2027)


class LargeMemoryTest(TestCase):
    def test_twelve_hundred_entries_in_two_banks_find_their_slots(self):
        rows = [entry(("on", "off")[minute % 2], clock_text(minute)) for minute in range(1200)]
        limits = {"slots": [{"shape": "pair", "count": 300}, {"shape": "single", "count": 700}]}
        plan = make_plan(entries=rows, limits=limits)
        placed = banks.place(plan.unit.entries, plan.unit.limits)
        self.assertEqual(placed.left, ())
        self.assertEqual([i for slot in placed.slots for i in slot.entries], list(range(1200)))

    def test_patches_of_a_thousand_overrides_stand_in_order_and_apart(self):
        chance = random.Random(2)
        settings_ = ["on", "off", "auto", "auto-on", {"boost_min": 45}, {"countdown_min": 75, "then": "on"}]
        overrides = [
            {
                "at": f"2027-{1 + n // 90:02d}-{1 + n // 4 % 22:02d}T{6 * (n % 4):02d}:00",
                "channel": 1,
                "set": chance.choice(settings_),
            }
            for n in range(1000)
        ]
        plan = make_plan([window("sunset", "22:40")], many_entries(6))
        plan = read_plan(Node(plan.to_json() | {"overrides": overrides}))
        patches = replay(plan, *YEAR).channels[0].hand.patches
        self.assertGreater(len(patches), 300)
        self.assertTrue(all(a.end <= b.start for a, b in pairwise(patches)))

    def test_pulses_are_printed_a_part_at_a_time(self):
        row = {**entry("on", "00:00"), "repeat": {"on_s": 8, "off_s": 9, "until": "23:59:59"}}
        result = replay(make_plan(entries=[row]), date(2027, 6, 1), date(2027, 6, 30))
        parts = list(replay_text(result, None))
        self.assertGreater(sum(map(len, parts)), 6_000_000)
        self.assertLess(max(map(len, parts)), 4_000_000)


class BudgetsTest(TestCase):
    def test_keyings_share_one(self):
        budgets = Budgets()
        plan = make_plan([window("sunset", "22:40")], many_entries(8))
        for _ in range(2):
            case = Case(replay(plan, *YEAR), budgets=budgets)
            case.wrong_s(plan.unit.entries[:4])
        self.assertLess(budgets.remedies.left, budgets.remedies.steps - 2 * 4 * 366)
