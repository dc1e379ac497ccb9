"""What the design promises of a plan that does just what is wanted, and of every plan: over random plans and limits."""

import json
import unittest
from datetime import date, datetime
from zoneinfo import ZoneInfo

import numpy as np
from hypothesis import HealthCheck, example, given, settings
from hypothesis import strategies as st

from skavit.core.findings import Severity, audit, read_kept
from skavit.core.fitting import fit
from skavit.core.fitting.fewest_wrong import SAMPLE_EVERY_DAYS, Weeks
from skavit.core.fitting.trial import Draft, Trial
from skavit.core.ground.spans import Spans, intersection, symmetric_difference_s
from skavit.core.ground.strict_json import Node
from skavit.core.memory.banks import place
from skavit.core.plan.document import read_plan
from skavit.core.plan.times import day_number
from skavit.core.simulation.replay import replay
from skavit.core.tests.builders import BAY, DESERT, clock_times, document, simple_days, window
from skavit.core.text.wording import Words

NEVER = {"order-flips", "never-off", "days-uncovered", "cuts-short", "extra", "missing"}
SANTIAGO = {"name": "Vine terrace", "latitude": -33.45, "longitude": -70.65, "timezone": "America/Santiago"}
SPAN = date(2027, 1, 1), date(2027, 12, 31)

times = st.one_of(clock_times, st.sampled_from(["sunset", "sunrise", "dusk+10", "dawn-15"]))
days = st.one_of(
    simple_days,
    st.sampled_from(
        [{"parity": "odd"}, {"every": 3, "from": "2027-01-04"}, {"days": "daily", "between": ["10-01", "03-31"]}]
    ),
)
windows = st.lists(st.builds(window, times, times, days), max_size=2)
limits = st.fixed_dictionaries(
    {},
    optional={
        "entries": st.sampled_from([2, 4, 12]),
        "day_groups": st.sampled_from([["daily", "weekdays", "weekends"], ["daily", "single-days"], ["any"]]),
        "offset_by": st.just("correction"),
        "clock_step_s": st.sampled_from([60, 900]),
        "slots": st.sampled_from([
            [{"shape": "pair", "count": 3}],
            [{"shape": "pair", "count": 3, "off_days": "same"}],
            [{"shape": "single", "count": 3, "times": ["clock"]}, {"shape": "single", "count": 3, "times": ["sun"]}],
            [{"shape": "on", "count": 3}, {"shape": "off", "count": 3}],
            [{"shape": "pair", "count": 2, "per": "day-group", "off_days": "same"}],
        ]),
    },
)  # fmt: skip
# An ON that loses against an OFF of the same instant, in a week of its own: most of what is missing comes days later.
UNHEARD = (
    [[window("00:00", "00:00", "weekdays"), window("00:00", "sunset", "daily")]],
    [{"channels": [1], "action": action, "at": "sunset", "days": ["mon"]} for action in ("on", "off")],
)
# An ON that wins at sunset, and is wanted there on even dates: their nights go wrong from dusk only.
LATER = (
    [[window("dusk+10", "dusk+10", {"parity": "odd"})]],
    [{"channels": [1], "action": action, "at": "sunset", "days": "daily"} for action in ("off", "on")],
)
SLOWLY = settings(max_examples=30, suppress_health_check=[HealthCheck.too_slow])


class CleanTest(unittest.TestCase):
    @SLOWLY
    @given(st.lists(windows, min_size=1, max_size=2), limits, st.sampled_from([BAY, DESERT, SANTIAGO]))
    def test_a_fit_that_loses_nothing_gives_no_finding_but_notes(self, rows, held, site):
        plan = read_plan(Node(document(channels=rows, entries=[], site=site, limits=held)))
        result = fit(plan, 2027)
        entries, bounds = result.plan.unit.entries, plan.unit.limits
        self.assertLessEqual(len(entries), bounds.entries if bounds.entries is not None else 10_000)
        self.assertEqual(place(entries, bounds).left, ())
        self.assertTrue(all(bounds.holds_days(entry.days) for entry in entries))
        self.assertEqual(read_plan(Node(result.plan.to_json())), result.plan)
        found = audit(replay(result.plan, *SPAN))
        if not result.losses:
            self.assertEqual({f.code for f in found} & NEVER, set())
            self.assertEqual({f.severity for f in found} - {Severity.NOTE}, set())

    @SLOWLY
    @given(st.lists(windows, min_size=1, max_size=2), st.lists(st.builds(
        lambda action, at, days: {"channels": [1], "action": action, "at": at, "days": days},
        st.sampled_from(["on", "off"]), times, days), max_size=5))  # fmt: skip
    @example(*UNHEARD)
    @example(*LATER)
    def test_every_difference_is_told_and_no_remedy_does_harm(self, rows, entries):
        """Each date on which an output is wrong for over a minute, by Python's own clock of the zone, is named somewhere."""
        result = replay(read_plan(Node(document(channels=rows, entries=entries))), *SPAN)
        found = audit(result)
        zone, first = ZoneInfo(BAY["timezone"]), day_number(SPAN[0])
        for index, channel in enumerate(result.channels):
            told = {day for finding in found if index in finding.explains for day in finding.dates.tolist()}
            for wrong in (channel.extra.longer_than(60), channel.missing.longer_than(60)):
                begun = {day_number(datetime.fromtimestamp(on, zone).date()) for on in wrong.on.tolist()}
                # What began in the night before is told on the date of that night.
                self.assertEqual({day for day in begun if day not in told and max(day - 1, first) not in told}, set())
        for finding in found:
            if finding.remedy:
                mended = replay(finding.remedy.applied(result.plan), *SPAN)
                self.assertLessEqual(_wrong_s(mended), _wrong_s(result))
            self.assertEqual((finding.days, finding.first <= finding.last), (len(finding.dates), True))
            again = read_kept(json.loads(json.dumps(finding.kept())))
            for words in (Words(), Words(twelve_hour=True)):
                self.assertEqual(again.text(words), finding.text(words))
            self.assertEqual((again.dates.tolist(), again.hours), (finding.dates.tolist(), finding.hours))
            if finding.remedy:
                read_plan(Node(finding.remedy.applied(result.plan).to_json()))


def _wrong_s(result):
    return sum(channel.extra.total_s + channel.missing.total_s for channel in result.channels)


class WeeksTest(unittest.TestCase):
    @SLOWLY
    @given(windows, st.lists(st.tuples(st.booleans(), st.sampled_from(["18:00", "23:00", "sunset", "06:10"])), min_size=1,
                             max_size=4, unique=True), st.data())  # fmt: skip
    def test_a_batch_is_measured_as_each_set_is_by_replay(self, rows, made, data):
        plan = read_plan(Node(document(rows, [])))
        trial = Trial(plan, 2027)
        at = read_plan(Node(document([], [{"channels": [1], "action": "on", "at": t} for _, t in made]))).unit.entries
        rule = read_plan(Node(document([window("01:00", "02:00", data.draw(simple_days))]))).channels[0].windows[0].days
        drafts = tuple(Draft(on=on, at=e.at, days=rule) for (on, _), e in zip(made, at, strict=True))
        chosen = np.array([[bool(bits >> i & 1) for i in range(len(drafts))] for bits in range(1 << len(drafts))])
        starts = np.arange(trial.base.start, trial.base.start + 364 * 86400, SAMPLE_EVERY_DAYS * 86400)
        weeks = Spans(starts, starts + 7 * 86400)
        measured = Weeks(trial, 0, drafts).wrong(chosen)
        for row, wrong in zip(chosen, measured.tolist(), strict=True):
            kept = tuple(d for d, here in zip(drafts, row, strict=True) if here)
            output, wanted = (intersection(s, weeks) for s in (trial.output(0, kept), trial.wanted(0)))
            self.assertEqual(wrong, symmetric_difference_s(output, wanted))
