"""Spans against sets of seconds, and replay against a plain stepping of minutes."""

import unittest
from datetime import UTC, date, datetime, timedelta
from functools import cache
from zoneinfo import ZoneInfo

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from skavit.core.findings import audit
from skavit.core.ground.errors import PlanError, RangeError
from skavit.core.ground.spans import difference, intersection, symmetric_difference_s, union
from skavit.core.ground.strict_json import Node
from skavit.core.plan.document import read_plan
from skavit.core.simulation.replay import replay
from skavit.core.tests.builders import WEEK, clock_times, document, entry, make_plan, simple_days, window

pairs = st.lists(st.tuples(st.integers(0, 40), st.integers(0, 40)), max_size=6)


def seconds(found):
    return {second for a, b in found for second in range(a, b)}


def as_set(spans):
    return seconds(zip(spans.on.tolist(), spans.off.tolist(), strict=True))


def spans_of(found):
    on, off = (np.array([p[i] for p in found], dtype=np.int64) for i in (0, 1))
    return union(on, off)


class LateStartTest(unittest.TestCase):
    def test_midnight_after_a_start_that_may_come_later_needs_its_date(self):
        # On the nominal clock dusk+340 is 24:10 (docs/plan-file.md, "Windows").
        with self.assertRaises(PlanError) as caught:
            make_plan([window("dusk+340", "24:00")])
        self.assertEqual(caught.exception.path, "channels[0].windows[0].to")
        said = make_plan([window("dusk+340", "24:00", ends="same-day")])
        self.assertEqual(read_plan(Node(said.to_json())), said)
        self.assertNotIn("ends", make_plan([window("23:00", "24:00")]).to_json()["channels"][0]["windows"][0])


class SpansTest(unittest.TestCase):
    @given(pairs, pairs)
    def test_algebra_is_that_of_sets(self, a, b):
        x, y = spans_of(a), spans_of(b)
        self.assertEqual(as_set(x), seconds(a))
        self.assertTrue((x.on[1:] > x.off[:-1]).all())
        self.assertEqual(as_set(difference(x, y)), seconds(a) - seconds(b))
        self.assertEqual(as_set(intersection(x, y)), seconds(a) & seconds(b))
        self.assertEqual(symmetric_difference_s(x, y), len(seconds(a) ^ seconds(b)))
        self.assertEqual(as_set(x.cut(7, 30)), {s for s in seconds(a) if 7 <= s < 30})


def on_days(days, weekday):
    names = {"daily": WEEK, "weekdays": WEEK[:5], "weekends": WEEK[5:]}
    return WEEK[weekday] in (names[days] if isinstance(days, str) else days)


def us_shift(moment):
    """Hours ahead under the US rule at a UTC moment, for a zone at UTC-7 without one of its own: 2027 only."""
    return 1 if datetime(2027, 3, 14, 9, tzinfo=UTC) <= moment < datetime(2027, 11, 7, 8, tzinfo=UTC) else 0


def stepped(entries, shown_at, first, last):
    """The reference: each minute look at the clock; what it shows for the first time acts, in slot order."""
    state, on_since, found = False, None, []
    latest = None
    keyed = [(action, (int(time[:2]), int(time[3:])), days) for action, time, days in entries]
    times = {time for _, time, _ in keyed}
    for step in range(int((last - first).total_seconds()) // 60):
        moment = first + timedelta(minutes=step)
        shown = shown_at(moment)
        if latest is None:
            latest = shown - timedelta(minutes=1)
        fresh = [latest + timedelta(minutes=n + 1) for n in range(max(int((shown - latest).total_seconds()) // 60, 0))]
        fresh = [at for at in fresh if (at.hour, at.minute) in times]
        for action, time, days in keyed if fresh else ():  # all that a jump brings at once acts in slot order
            if any((at.hour, at.minute) == time and on_days(days, at.weekday()) for at in fresh):
                state = action == "on"
        latest = max(latest, shown)
        if state and on_since is None:
            on_since = moment
        if not state and on_since is not None:
            found.append((on_since, moment))
            on_since = None
    return found + ([(on_since, last)] if on_since is not None else [])


rows = st.lists(st.tuples(st.sampled_from(["on", "off"]), clock_times, simple_days), max_size=4)
night_times = st.lists(
    st.tuples(st.sampled_from(["on", "off"]), st.integers(0, 16).map(lambda q: f"0{q // 4}:{q % 4 * 15:02d}"),
              simple_days), max_size=4)  # fmt: skip


class SteppedReplayTest(unittest.TestCase):
    def compare(self, entries, site, shown_at, first, last, clock):
        plan = make_plan([], [entry(*row) for row in entries], site=site, clock=clock)
        result = replay(plan, first, last)
        zone = ZoneInfo(site["timezone"])
        start = datetime(first.year, first.month, first.day, tzinfo=zone).astimezone(UTC)
        following = last + timedelta(days=1)
        end = datetime(following.year, following.month, following.day, tzinfo=zone).astimezone(UTC)
        # All entries act every week, so nine days of run-up settle the output.
        found = stepped(entries, shown_at, start - timedelta(days=9), end)
        expected = [(max(a, start), b) for a, b in found if b > start]
        actual = result.channels[0].actual
        pairs_found = [
            (datetime.fromtimestamp(a, UTC), datetime.fromtimestamp(b, UTC))
            for a, b in zip(actual.on.tolist(), actual.off.tolist(), strict=True)
        ]
        self.assertEqual(pairs_found, expected)

    @settings(max_examples=25)
    @given(night_times, st.sampled_from([date(2027, 4, 3), date(2027, 9, 25), date(2027, 6, 1)]))
    def test_a_zone_clock_over_its_changes(self, entries, first):
        zone = ZoneInfo("Pacific/Auckland")
        site = {"name": "x", "latitude": -39.5, "longitude": 176.9, "timezone": "Pacific/Auckland"}

        @cache
        def shown(moment):
            return moment.astimezone(zone).replace(tzinfo=None)

        self.compare(entries, site, shown, first, first + timedelta(days=2), {"dst": "zone"})

    @settings(max_examples=25)
    @given(rows, st.integers(-3000, 3000), st.sampled_from([date(2027, 3, 13), date(2027, 11, 5)]))
    def test_a_foreign_rule_with_an_error(self, entries, error_min, first):
        site = {"name": "x", "latitude": 33.4, "longitude": -112.1, "timezone": "America/Phoenix"}

        def shown(moment):
            believed = moment + timedelta(minutes=error_min)
            return (believed + timedelta(hours=us_shift(believed) - 7)).replace(tzinfo=None)

        clock = {"dst": "us", "error_s": error_min * 60}
        self.compare(entries, site, shown, first, first + timedelta(days=2), clock)


class WantedTest(unittest.TestCase):
    def hours(self, *windows, first=date(2027, 1, 1), last=date(2027, 12, 31), **more):
        return replay(make_plan(windows, **more), first, last).channels[0].wanted.total_s / 3600

    def test_windows_in_hours(self):
        week = {"first": date(2027, 5, 3), "last": date(2027, 5, 9)}  # Monday to Sunday
        for windows, expected in [
            ([window("18:00", "22:00")], 28),
            ([window("18:00", "22:00", "weekdays")], 20),
            ([window("22:00", "02:00", ["sun"])], 2 + 2),  # Sunday night runs over; the Sunday before runs in
            ([window("00:00", "24:00", "weekends")], 48),
            ([window("18:00", "22:00"), window("20:00", "23:00")], 35),
            ([{"from": "23:00", "for_min": 90, "days": "daily"}], 10.5),
            ([window("22:00", "18:00", ends="same-day")], 0),
            ([window("18:00", "22:00", {"parity": "odd"})], 16),
            ([window("18:00", "22:00", {"every": 3, "from": "2027-05-04"})], 8),
            ([window("18:00", "22:00", {"dates": ["05-05", "2027-05-07"]})], 8),
            ([window("18:00", "22:00", {"days": "daily", "between": ["05-08", "05-04"]})], 16),
            ([window("18:00", "22:00", {"days": "daily", "except": ["weekdays"]})], 8),
        ]:
            with self.subTest(windows):
                self.assertAlmostEqual(self.hours(*windows, **week), expected)

    def test_limits_hold_a_sun_time(self):
        limited = window({"at": "sunset", "not_before": "19:00", "not_after": "19:00"}, "21:00")
        self.assertAlmostEqual(self.hours(limited, first=date(2027, 6, 1), last=date(2027, 6, 10)), 20)

    def test_a_plan_that_asks_too_much_is_refused_before_it_is_run(self):
        plan = make_plan([], [entry("on", "06:00")] * 2000)
        with self.assertRaises(RangeError):
            replay(plan, date(2020, 1, 1), date(2065, 1, 1))
        with self.assertRaises(RangeError):
            replay(plan, date(2020, 1, 1), date(2071, 1, 2))
        with self.assertRaises(RangeError):
            replay(plan, date(2027, 1, 2), date(2027, 1, 1))

    def test_holidays_keep_entries_from_acting(self):
        plan = make_plan(
            [],
            [entry("on", "08:00"), entry("off", "09:00")],
            holidays=[{"from": "12-24", "days": 10}, {"from": "2027-05-05", "days": 1}, {"from": "02-29", "days": 1}],
        )
        result = replay(plan, date(2027, 1, 1), date(2027, 12, 31))
        # 2 of last year's ten reach into January, 8 of this year's lie in December, one in May, 1 March for 29 February
        self.assertEqual(len(result.channels[0].actual), 365 - 2 - 8 - 1 - 1)


class EndingTest(unittest.TestCase):
    @settings(max_examples=25)
    @given(
        st.lists(st.tuples(st.sampled_from(["on", "off"]), clock_times, simple_days), max_size=4),
        st.sampled_from([{}, {"dst": "us"}, {"error_s": 43_200}]),
        st.booleans(),
        st.integers(0, 6),
    )
    def test_a_shortened_run_is_that_of_the_shorter_range(self, rows, clock, by_hand, less):
        windows = [window("18:00", "23:00"), window("23:30", "05:00", ends="next-day")]
        overrides = [{"at": "2027-03-27T20:00", "channel": 1, "set": "on"}] if by_hand else []
        made = document(windows, [entry(*row) for row in rows], clock=clock)
        plan = read_plan(Node({**made, "overrides": overrides}))
        last = date(2027, 4, 4) - timedelta(days=less)
        short = replay(plan, date(2027, 3, 22), last)
        cut = replay(plan, date(2027, 3, 22), date(2027, 4, 4)).ending(last)
        self.assertEqual((cut.first, cut.last, cut.start, cut.end), (short.first, short.last, short.start, short.end))
        for name in ("instant", "slot", "day", "cause", "turns_on"):
            np.testing.assert_array_equal(getattr(cut.events, name), getattr(short.events, name))
        for mine, theirs in zip(cut.channels, short.channels, strict=True):
            self.assertEqual((mine.wanted, mine.actual, mine.extra, mine.missing),
                             (theirs.wanted, theirs.actual, theirs.extra, theirs.missing))  # fmt: skip
        self.assertEqual([f.message for f in audit(cut)], [f.message for f in audit(short)])

    def test_no_date_beyond_its_range(self):
        run = replay(make_plan(), date(2027, 3, 1), date(2027, 3, 4))
        for day in (date(2027, 2, 28), date(2027, 3, 5)):
            with self.subTest(day=day), self.assertRaisesRegex(RangeError, "outside the range"):
                run.ending(day)
