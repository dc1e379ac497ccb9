"""Zones: set points and what is done by hand, against the tests' own stepping minute by minute, and by worked days."""

import json
import unittest
from datetime import UTC, date, datetime, time, timedelta
from zoneinfo import ZoneInfo

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from skavit.core.formats.results import zones_text
from skavit.core.ground.strict_json import Node
from skavit.core.heat.targets import targets
from skavit.core.plan.document import read_plan
from skavit.core.simulation.replay import replay
from skavit.core.tests.builders import BAY, DESERT, clock_times, simple_days
from skavit.core.tests.commanding import CommandTest

WORKDAY = [("06:15", 20), ("08:30", 16.5), ("16:45", 21), ("22:20", 14)]
FROST_C = 7


def points(pairs, days="daily"):
    return [{"days": days, "at": at, "c": c} for at, c in pairs]


def heating(wanted=(), keyed=None, done=(), *, site=BAY, dst="zone", **more):
    keyed = wanted if keyed is None else keyed
    heat = {"frost_c": FROST_C, "zones": [{"name": "Hall", "wanted": list(wanted), "keyed": list(keyed)}], **more}
    heat["overrides"] = [{"at": at, "zone": 1, "set": setting} for at, setting in done]
    plan = {"format": "skavit-plan/1", "site": site, "unit": {"clock": {"dst": dst}}, "channels": [], "heat": heat}
    return read_plan(Node(plan))


def hall(plan, first, last):
    """The one zone of a plan as `replay` prints it, times as local digits."""
    (found,) = json.loads(
        f"[{''.join(zones_text(targets(replay(plan, date.fromisoformat(first), date.fromisoformat(last)))))}]"
    )
    for side in ("wanted", "actual"):
        found[side] = [(at[:16], c) for at, c in found[side]]
    return found


def stepped(pairs, timezone, first, last, done):
    """The target of each minute of UTC, from a run-up of eight days on; set points act when the clock first shows them."""
    zone, now = ZoneInfo(timezone), datetime.combine(first - timedelta(days=9), datetime.min.time(), UTC)
    end = datetime.combine(last + timedelta(days=2), datetime.min.time(), UTC)
    due, done = _due(pairs, first, last), sorted(done, key=lambda each: each[0])
    program, hold, seen, found = FROST_C, None, datetime.combine(first - timedelta(days=9), datetime.min.time()), {}
    while now < end:
        seen = max(seen, now.astimezone(zone).replace(tzinfo=None))
        acting = [each for each in due[:8] if each[0] <= seen]
        if acting:  # of those that a jump lets act at once the later in the list wins
            program = max(acting, key=lambda each: each[1])[2]
            del due[: len(acting)]
        if hold and (now >= hold[1] or (hold[2] and acting)):
            hold = None
        while done and done[0][0] <= seen:
            hold = (done[0][2], now + timedelta(minutes=done[0][1] or 10**7), done[0][1] is None)
            del done[0]
        found[int(now.timestamp())] = hold[0] if hold else program
        now += timedelta(minutes=1)
    return found


def _due(pairs, first, last):
    """(digits, place in the list, degrees) of each set point of each day, in order."""
    days = [first + timedelta(days=n) for n in range(-8, (last - first).days + 3)]
    return sorted(
        (datetime.combine(day, time.fromisoformat(at)), place, c)
        for day in days
        for place, (on, at, c) in enumerate(pairs)
        if day.weekday() in on
    )


class SteppedTest(unittest.TestCase):
    @given(
        pairs=st.lists(st.tuples(simple_days, clock_times, st.integers(10, 24)), max_size=5),
        done=st.lists(
            st.tuples(st.integers(0, 5 * 1440 - 1), st.one_of(st.none(), st.integers(1, 900)), st.integers(5, 30)),
            max_size=3,
            unique_by=lambda each: each[0],
        ),
        place=st.sampled_from([(BAY, date(2027, 4, 2)), (BAY, date(2027, 9, 24)), (DESERT, date(2027, 2, 26))]),
    )
    @settings(max_examples=25)
    def test_each_minute(self, pairs, done, place):
        site, first = place
        last = first + timedelta(days=4)
        begin = datetime.combine(first, datetime.min.time())
        moments = [(begin + timedelta(minutes=at), minutes, c) for at, minutes, c in done]
        zone = ZoneInfo(site["timezone"])
        # A moment that the clock skips, or shows twice, is told in the worked days.
        moments = [m for m in moments if m[0].replace(tzinfo=zone).utcoffset() == (m[0] + timedelta(hours=2)).replace(tzinfo=zone).utcoffset()]  # fmt: skip
        asked = [
            (at.isoformat(timespec="minutes"), {"c": c} if minutes is None else {"hold_min": minutes, "c": c})
            for at, minutes, c in moments
        ]
        plan = heating([{"days": d, "at": at, "c": c} for d, at, c in pairs], done=asked, site=site)
        (found,) = targets(replay(plan, first, last)).zones
        names = {"daily": range(7), "weekdays": range(5), "weekends": (5, 6)}
        week = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")
        on = [(names[d] if isinstance(d, str) else {week.index(n) for n in d}, at, c) for d, at, c in pairs]
        want = stepped(on, site["timezone"], first, last, moments)
        instants = [now for now in want if found.actual.at[0] <= now < found.actual.until]
        have = found.actual.value_at(np.array(instants))
        self.assertEqual([want[now] for now in instants], have.tolist())


class WorkedDayTest(unittest.TestCase):
    """By hand, after the page of the plan file."""

    def actual(self, *done, first="2027-06-07", last="2027-06-08", **more):
        return hall(heating(points(WORKDAY), done=done, **more), first, last)

    def test_a_hold_of_two_hours(self):
        found = self.actual(("2027-06-07T07:30", {"hold_min": 120, "c": 23}))
        self.assertEqual(found["actual"][:5], [
            ("2027-06-07T00:00", 14), ("2027-06-07T06:15", 20), ("2027-06-07T07:30", 23), ("2027-06-07T09:30", 16.5),
            ("2027-06-07T16:45", 21)])  # fmt: skip
        # An hour 3 K over 20, then an hour 6.5 K over 16.5.
        self.assertAlmostEqual(found["too_warm_kh"], 3 + 6.5)

    def test_another_temperature_ends_at_a_set_point_of_the_same_value(self):
        pairs = [("06:00", 20), ("12:00", 20), ("22:00", 15)]
        found = hall(heating(points(pairs), done=[("2027-06-07T09:00", {"c": 23})]), "2027-06-07", "2027-06-07")
        self.assertEqual(
            found["actual"][1:4], [("2027-06-07T06:00", 20), ("2027-06-07T09:00", 23), ("2027-06-07T12:00", 20)]
        )

    def test_frost_and_off_stay_until_automatic(self):
        done = (
            ("2027-06-07T12:00", {"frost": True}),
            ("2027-06-08T12:00", {"off": True}),
            ("2027-06-09T12:00", {"auto": True}),
        )
        found = self.actual(*done, last="2027-06-09")
        self.assertEqual([c for _, c in found["actual"]], [14, 20, 16.5, FROST_C, None, 16.5, 21, 14])
        self.assertAlmostEqual(found["off_h"], 24)
        # From noon to 16:45, to 22:20, to 06:15, to 08:30 and to noon, 24 hours at frost.
        want = 4.75 * 9.5 + (5 + 35 / 60) * 14 + (7 + 55 / 60) * 7 + 2.25 * 13 + 3.5 * 9.5
        self.assertAlmostEqual(found["too_cold_kh"], want)

    def test_a_holiday_by_days_with_today_counted_and_not(self):
        for counted, ends in (("today", "2027-06-10T00:00"), ("tomorrow", "2027-06-11T00:00")):
            with self.subTest(counted=counted):
                done = ("2027-06-07T09:00", {"holiday_days": 3, "from": counted})
                found = self.actual(done, last="2027-06-12")
                place = [at for at, _ in found["actual"]].index("2027-06-07T09:00")
                self.assertEqual(found["actual"][place : place + 2], [("2027-06-07T09:00", FROST_C), (ends, 14)])

    def test_a_holiday_until_a_moment(self):
        found = self.actual(("2027-06-07T09:00", {"holiday_until": "2027-06-08T18:00"}))
        self.assertEqual(found["actual"][3:5], [("2027-06-07T09:00", FROST_C), ("2027-06-08T18:00", 21)])

    def test_a_later_setting_replaces_an_earlier_one(self):
        found = self.actual(
            ("2027-06-07T09:00", {"holiday_until": "2027-06-09T18:00"}), ("2027-06-07T10:00", {"hold_min": 60, "c": 22})
        )  # fmt: skip
        self.assertEqual(found["actual"][2:7], [
            ("2027-06-07T08:30", 16.5), ("2027-06-07T09:00", FROST_C), ("2027-06-07T10:00", 22),
            ("2027-06-07T11:00", 16.5), ("2027-06-07T16:45", 21)])  # fmt: skip

    def test_at_one_instant_a_setting_acts_after_a_set_point(self):
        found = self.actual(("2027-06-07T16:45", {"c": 18}))
        self.assertIn(("2027-06-07T16:45", 18), found["actual"])
        self.assertNotIn(("2027-06-07T16:45", 21), found["actual"])

    def test_set_points_in_the_hour_that_is_skipped_act_at_the_jump_in_their_order(self):
        plan = heating(points([("02:45", 20), ("02:15", 18), ("06:00", 15)]))
        # New Zealand skips 02:00 to 03:00 on 26 September 2027 (tz database).
        self.assertEqual(
            hall(plan, "2027-09-26", "2027-09-26")["wanted"][1:3], [("2027-09-26T03:00", 18), ("2027-09-26T06:00", 15)]
        )

    def test_a_unit_that_knows_no_summer_time_is_an_hour_late_in_it(self):
        found = hall(heating(points(WORKDAY), dst="none"), "2027-01-11", "2027-01-11")
        self.assertEqual(found["actual"][1], ("2027-01-11T07:15", 20))
        each_hour = 6 + 3.5 + 4.5 + 7
        self.assertAlmostEqual(found["too_warm_kh"] + found["too_cold_kh"], each_hour)

    def test_without_a_set_point_a_zone_stands_at_frost_protection(self):
        found = hall(heating([], points([("06:00", 20)], "weekdays")), "2027-06-07", "2027-06-07")
        self.assertEqual(found["wanted"], [("2027-06-07T00:00", FROST_C)])
        once = points([("06:00", 20)], {"dates": ["2026-12-25"]})
        self.assertEqual(hall(heating(once), "2027-06-07", "2027-06-07")["actual"], [("2027-06-07T00:00", 20)])
        long_ago = points([("06:00", 20)], {"dates": ["2026-05-25"]})
        self.assertEqual(hall(heating(long_ago), "2027-06-07", "2027-06-07")["actual"], [("2027-06-07T00:00", FROST_C)])


class HeatCommandTest(CommandTest):
    def test_replay_prints_zones(self):
        plan = heating(points(WORKDAY), done=[("2027-06-07T09:00", {"off": True})])
        path = self.file("plan.json", json.dumps(plan.to_json()))
        found = self.prints("replay", path, "--from", "2027-06-07", "--to", "2027-06-07")
        self.assertEqual(found["zones"][0]["actual"][-1], ["2027-06-07T09:00:00+12:00", None])
        self.assertEqual((found["channels"], found["stations"]), ([], []))
