"""The simulated unit against a reference in plain Python that knows dates, zoneinfo and nothing of the core's arrays."""

import unittest
from datetime import UTC, date, datetime, timedelta
from zoneinfo import ZoneInfo

from hypothesis import given, settings
from hypothesis import strategies as st

from skavit.core.plan.document import Site
from skavit.core.plan.times import day_number
from skavit.core.simulation.replay import replay
from skavit.core.site.almanac import sun_on
from skavit.core.tests import builders
from skavit.core.tests.builders import WEEK, entry, make_plan, window

ZONE = ZoneInfo("Pacific/Auckland")
SITE = Site(**builders.BAY)
NAMES = {"daily": WEEK, "weekdays": WEEK[:5], "weekends": WEEK[5:]}


def holds(days, day):
    """Whether a day rule of the plan file holds on a date."""
    if isinstance(days, str):
        return WEEK[day.weekday()] in NAMES[days]
    if isinstance(days, list):
        return WEEK[day.weekday()] in days
    if "parity" in days:
        return (day.day % 2 == 1) == (days["parity"] == "odd")
    if "every" in days:
        return (day - date.fromisoformat(days["from"])).days % days["every"] == 0
    if "dates" in days:
        return any(on_date(dated, day) for dated in days["dates"])
    first, last = days.get("between", ["01-01", "12-31"])
    here = f"{day:%m-%d}"
    inside = first <= here <= last if first <= last else here >= first or here <= last
    return holds(days["days"], day) and inside and not any(holds(rule, day) for rule in days.get("except", []))


def on_date(dated, day):
    """Whether a day is a date, comes each year, or lies in so many days from one, begun that year or the one before."""
    if isinstance(dated, str):
        return dated in (day.isoformat(), f"{day:%m-%d}")
    if len(dated["from"]) == 10:
        starts = [date.fromisoformat(dated["from"])]
    else:
        month, number = (int(part) for part in dated["from"].split("-"))
        starts = [date(year, month, number) for year in (day.year - 1, day.year)]  # no strategy draws 29 February
    return any(0 <= (day - start).days < dated["days"] for start in starts)


def first_shown(digits):
    """The instant at which the zone's clock first shows naive digits; the jump where it skips them."""
    moment = digits.replace(tzinfo=ZONE, fold=0).astimezone(UTC)
    if moment.astimezone(ZONE).replace(tzinfo=None) == digits:
        return moment
    while moment.astimezone(ZONE).utcoffset() == (moment - timedelta(seconds=60)).astimezone(ZONE).utcoffset():
        moment -= timedelta(seconds=60)
    return moment.replace(second=0, microsecond=0)


def at_clock(day, text):
    hours, minutes = map(int, text.split(":")[:2])
    return datetime(day.year, day.month, day.day) + timedelta(hours=hours, minutes=minutes)


def moment_of(time, day, *, through_digits):
    """The instant of a time of the plan file on a date."""
    if isinstance(time, dict):
        plain = moment_of(time["at"], day, through_digits=through_digits)
        digits = plain.astimezone(ZONE).replace(tzinfo=None)
        limited = max(digits, at_clock(day, time.get("not_before", "00:00"))) if "not_before" in time else digits
        limited = min(limited, at_clock(day, time["not_after"])) if "not_after" in time else limited
        return plain if limited == digits else first_shown(limited)
    if time[0].isdigit():
        return first_shown(at_clock(day, time))
    name = time.split("+")[0].split("-")[0]
    offset = int(time[len(name) :] or 0)
    at = datetime.fromtimestamp(sun_on(SITE, day_number(day))[name], UTC) + timedelta(minutes=offset)
    return first_shown(at.astimezone(ZONE).replace(tzinfo=None)) if through_digits else at


def reference_actual(entries, first, last):
    """Spans of the output by sorting all events and letting the last one win."""
    start, end = first_shown(at_clock(first, "00:00")), first_shown(at_clock(last, "24:00"))
    events = []
    for slot, row in enumerate(entries):
        for back in range((last - first).days + 379):
            day = last + timedelta(days=1) - timedelta(days=back)
            if holds(row["days"], day):
                moment = moment_of(row["at"], day, through_digits=True)
                if start - timedelta(days=375) <= moment < end:
                    events.append((moment, slot, row["action"] == "on"))
    state, since, found = False, None, []
    for moment, _, on in sorted(events):
        if on and not state:
            since = moment
        if state and not on and moment > since:
            found.append((since, moment))
        state = on
    found += [(since, end)] if state else []
    merged = []
    for a, b in found:
        if merged and merged[-1][1] == a:
            merged[-1] = (merged[-1][0], b)
        else:
            merged.append((a, b))
    return [(max(a, start), b) for a, b in merged if b > start]


def reference_wanted(rows, first, last):
    """Seconds wanted, minute by minute, of windows by their own dates."""
    start, end = first_shown(at_clock(first, "00:00")), first_shown(at_clock(last, "24:00"))
    spans = []
    for row in rows:
        for ahead in range(-3, (last - first).days + 2):
            day = first + timedelta(days=ahead)
            if not holds(row["days"], day):
                continue
            a = moment_of(row["from"], day, through_digits=False)
            if "for_min" in row:
                b = a + timedelta(minutes=row["for_min"])
            else:
                ends = day + timedelta(days=row["ends"] == "next-day")
                b = moment_of(row["to"], ends, through_digits=False)
            if a < b:
                spans.append((a, b))
    total, reach = timedelta(0), start
    for a, b in sorted(spans):
        low, high = max(a, reach), min(b, end)
        if low < high:
            total += high - low
            reach = high
    return total.total_seconds()


def pairs(spans):
    return [
        (datetime.fromtimestamp(a, UTC), datetime.fromtimestamp(b, UTC))
        for a, b in zip(spans.on.tolist(), spans.off.tolist(), strict=True)
    ]


RANGES = st.sampled_from(
    [
        (date(2027, 4, 2), date(2027, 4, 6)),
        (date(2027, 9, 24), date(2027, 9, 28)),
        (date(2028, 2, 26), date(2028, 3, 2)),
    ]
)
entries = st.builds(entry, st.sampled_from(["on", "off"]), builders.times, builders.all_days)
windows = st.one_of(
    st.builds(
        lambda a, b, days, ends: window(a, b, days, ends=ends),
        builders.times, builders.times, builders.all_days, st.sampled_from(["same-day", "next-day"]),
    ),
    st.builds(
        lambda a, minutes, days: {"from": a, "for_min": minutes, "days": days},
        builders.times, st.integers(1, 2000), builders.all_days,
    ),
)  # fmt: skip


class ReferenceTest(unittest.TestCase):
    @settings(max_examples=40)
    @given(st.lists(entries, max_size=3), RANGES)
    def test_the_output_is_the_references(self, rows, dates):
        result = replay(make_plan([], rows), *dates)
        self.assertEqual(pairs(result.channels[0].actual), reference_actual(rows, *dates))

    @settings(max_examples=60)
    @given(st.lists(windows, max_size=3), RANGES)
    def test_what_is_wanted_is_the_references(self, rows, dates):
        result = replay(make_plan(rows), *dates)
        self.assertEqual(result.channels[0].wanted.total_s, reference_wanted(rows, *dates))

    @settings(max_examples=20)
    @given(st.lists(st.tuples(entries, st.sampled_from([[1], [2], [1, 2]])), max_size=4), RANGES)
    def test_channels_run_side_by_side(self, rows, dates):
        given_rows = [{**row, "channels": channels} for row, channels in rows]
        both = replay(make_plan(channels=[[], []], entries=given_rows), *dates)
        for number in (1, 2):
            own = [row for row, channels in rows if number in channels]
            alone = replay(make_plan([], own), *dates)
            self.assertEqual(both.channels[number - 1].actual, alone.channels[0].actual)

    @settings(max_examples=20)
    @given(st.lists(entries, min_size=1, max_size=3), RANGES)
    def test_a_range_is_the_sum_of_its_days(self, rows, dates):
        plan = make_plan([], rows)
        whole = replay(plan, *dates).channels[0].actual
        day, total = dates[0], 0
        while day <= dates[1]:
            total += replay(plan, day, day).channels[0].actual.total_s
            day += timedelta(days=1)
        # The run-up of a later day begins later: a plan whose last event lies over a year back may differ, none here.
        self.assertAlmostEqual(total, whole.total_s, delta=0 if _acts_often(rows) else 86400 * 6)


def _acts_often(rows):
    return all(isinstance(row["days"], str | list) for row in rows)


class EventsTest(unittest.TestCase):
    def test_events_carry_slot_cause_and_the_units_date(self):
        plan = make_plan(
            [], [entry("on", {"at": "sunset", "not_before": "20:00"}), entry("off", "01:00"), entry("off", "dawn")]
        )
        result = replay(plan, date(2027, 6, 1), date(2027, 6, 2))
        here = result.events.instant >= result.start
        told = [
            (int(slot), int(cause), int(day) - result.first)
            for slot, cause, day in zip(
                result.events.slot[here], result.events.cause[here], result.events.day[here], strict=True
            )
        ]
        self.assertEqual(told[:4], [(1, 0, 0), (2, 1, 0), (0, 2, 0), (1, 0, 1)])

    def test_a_clock_a_year_early_runs_last_years_sun(self):
        right = make_plan([], [entry("on", "sunset"), entry("off", "23:00")])
        early = make_plan([], [entry("on", "sunset"), entry("off", "23:00")], clock={"error_s": -365 * 86400})
        a = replay(right, date(2026, 7, 1), date(2026, 7, 1)).channels[0].actual
        b = replay(early, date(2027, 7, 1), date(2027, 7, 1)).channels[0].actual
        self.assertEqual(a.on.tolist(), [t - 365 * 86400 for t in b.on.tolist()])
