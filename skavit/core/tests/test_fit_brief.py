"""No period and no gap of a fit is too short to be of use; a summer and a winter program where the sun asks for one."""

import itertools
import json
import unittest
from dataclasses import replace
from datetime import date

from hypothesis import given, settings
from hypothesis import strategies as st

from skavit.core.fitting import fit, season_programs
from skavit.core.ground.strict_json import Node
from skavit.core.memory import place
from skavit.core.plan.document import read_plan
from skavit.core.simulation.replay import replay
from skavit.core.tests.builders import BAY, clock_times, make_plan, simple_days, sun_times, window
from skavit.core.tests.commanding import CommandTest

YEAR = 2027
TROMSO = {"name": "Shed", "latitude": 69.65, "longitude": 18.96, "timezone": "Europe/Oslo"}
GROUPS = {"day_groups": ["daily", "weekdays", "weekends", "single-days"], "sun_events": ["sunrise", "sunset"]}


def unasked(plan, years=3):
    """The short periods and gaps of a plan's channels that no wanted one as short explains: plainly, span by span."""
    run = replay(plan, date(YEAR, 1, 1), date(YEAR + years - 1, 12, 31))
    found = []
    for channel, done in zip(plan.channels, run.channels, strict=True):
        actual = [(int(a), int(b)) for a, b in zip(done.actual.on, done.actual.off, strict=True)]
        wanted = [(int(a), int(b)) for a, b in zip(done.wanted.on, done.wanted.off, strict=True)]
        gaps = [[(a[1], b[0]) for a, b in itertools.pairwise(spans)] for spans in (actual, wanted)]
        for least, spans, asked in (
            (channel.least_on_min * 60, actual, wanted),
            (channel.least_off_min * 60, gaps[0], gaps[1]),
        ):
            for on, off in spans:
                if off - on >= least or on == run.start or off == run.end:
                    continue
                if not any(a < off and b > on and b - a < least for a, b in asked):
                    found.append((on, off))
    return found


class BriefTest(unittest.TestCase):
    def test_minutes_that_nobody_can_use(self):
        """By hand: ON 05:50, OFF 05:51 in midsummer at 39 S; ON and OFF a minute apart each morning at 69 N."""
        for site, rows in (
            (BAY, [window("05:50", "sunrise", ends="same-day")]),
            (TROMSO, [window("06:00", "sunrise", ends="same-day")]),
            (TROMSO, [window("sunset", "22:00", ends="same-day"), window("06:00", "sunrise", ends="same-day")]),
        ):
            with self.subTest(rows):
                made = fit(make_plan(rows, limits=GROUPS, site=site), YEAR)
                self.assertEqual(unasked(made.plan, 11), [])
                self.assertTrue(all(loss.reason for loss in made.losses))

    def test_a_window_may_ask_for_a_short_one(self):
        made = fit(make_plan([window("09:00", "09:01", ends="same-day")], limits=GROUPS), YEAR)
        self.assertEqual((len(made.plan.unit.entries), made.losses), (2, ()))

    def test_how_short_is_the_channels_own(self):
        rows = [window("05:50", "sunrise", ends="same-day")]
        plan = make_plan(rows, limits=GROUPS)
        for least, off in ((0, "sunrise+12"), (2, "sunrise+15"), (20, "sunrise+33")):
            channels = tuple(replace(channel, least_on_min=least) for channel in plan.channels)
            made = fit(replace(plan, channels=channels), YEAR).plan
            self.assertEqual(unasked(made), [])
            self.assertEqual(made.unit.entries[-1].at.to_json(), off)

    def test_a_wrong_clock_is_not_fitted_around(self):
        """Its rule is another country's: an hour out it makes a morning's ON come after its OFF, and no entry is blamed."""
        evening, morning = window("sunset", "22:30", ends="same-day"), window("05:50", "sunrise", ends="same-day")
        wrong = fit(make_plan([evening], limits=GROUPS, clock={"dst": "us"}), YEAR)
        self.assertEqual(wrong.plan.unit.entries, fit(make_plan([evening], limits=GROUPS), YEAR).plan.unit.entries)
        foreign = fit(make_plan([evening, morning], limits=GROUPS, clock={"dst": "us"}), YEAR)
        self.assertEqual(
            foreign.plan.unit.entries, fit(make_plan([evening, morning], limits=GROUPS), YEAR).plan.unit.entries
        )
        self.assertIn("the unit's clock differs from the site's", foreign.losses[0].reason)
        # Six hours out it would be wrong for more hours than with nothing keyed: then nothing is, and the clock is named.
        (loss,) = fit(make_plan([evening, morning], limits=GROUPS, clock={"error_s": 21_600}), YEAR).losses
        self.assertIn("set its clock first, then fit", loss.reason)

    def test_what_is_left_out_takes_its_off_along(self):
        morning = window("06:00", "sunrise", ends="same-day")
        limits = {**GROUPS, "sun_offset_max_min": 90}
        made = fit(make_plan([morning, window("17:00", "19:00", "weekdays")], limits=limits, site=TROMSO), YEAR).plan
        self.assertEqual([str(entry.at) for entry in made.unit.entries], ["17:00", "19:00"])

    def test_the_file_keeps_it(self):
        plan = make_plan([window("05:50", "sunrise")]).to_json()
        plan["channels"][0] |= {"least_on_min": 5, "least_off_min": 0}
        read = read_plan(Node(plan))
        self.assertEqual((read.channels[0].least_on_min, read.channels[0].least_off_min), (5, 0))
        self.assertEqual(read.to_json()["channels"][0], plan["channels"][0])

    @settings(max_examples=25)
    @given(
        st.lists(
            st.builds(window, st.one_of(clock_times, sun_times), st.one_of(clock_times, sun_times), simple_days),
            min_size=1,
            max_size=2,
        ),
        st.sampled_from([GROUPS, {**GROUPS, "entries": 4}, {**GROUPS, "clock_step_s": 600}, {}]),
        st.sampled_from([BAY, TROMSO]),
        st.sampled_from([0, 2, 15]),
    )
    def test_any_windows(self, rows, limits, site, least):
        plan = make_plan(rows, limits=limits, site=site)
        channels = tuple(replace(channel, least_on_min=least, least_off_min=least) for channel in plan.channels)
        self.assertEqual(unasked(fit(replace(plan, channels=channels), YEAR).plan), [])


class SeasonsTest(unittest.TestCase):
    def test_a_summer_and_a_winter_program(self):
        rows = [window("05:50", "sunrise", ends="same-day"), window("sunset", "20:50", ends="same-day")]
        plan = make_plan(rows, limits=GROUPS)
        found = season_programs(plan, YEAR)
        self.assertEqual([program.name for program in found.plan.unit.keyings], ["Winter", "Summer"])
        self.assertEqual([len(program.entries) for program in found.plan.unit.keyings], [4, 2])
        # Sunrise comes before 05:50 from 13 November to 3 January (by the replay of what is wanted).
        self.assertEqual([program.start.month_day for program in found.plan.unit.keyings], [106, 1111])
        self.assertLess(found.hours_a_year, 0.5)
        self.assertGreater(sum(loss.hours_a_year for loss in fit(plan, YEAR).losses), 5)
        run = replay(found.plan, date(YEAR, 1, 1), date(YEAR + 10, 12, 31))
        self.assertAlmostEqual(sum(c.wrong_s for c in run.channels) / 3600 / 11, found.hours_a_year, 6)

    def test_two_windows_of_the_far_north_in_four_programs(self):
        rows = [window("sunset", "22:00", ends="same-day"), window("06:00", "sunrise", ends="same-day")]
        found = season_programs(make_plan(rows, limits=GROUPS, site=TROMSO), YEAR)
        self.assertEqual([program.name for program in found.plan.unit.keyings], ["", "Summer", "", "Winter"])
        self.assertEqual([len(program.entries) for program in found.plan.unit.keyings], [2, 0, 2, 4])
        self.assertLess(found.hours_a_year, 3)

    def test_none_where_one_program_does(self):
        for rows, limits in (
            ([window("sunset", "22:00", ends="same-day")], GROUPS),  # never empty
            ([window("05:50", "sunrise", ends="same-day")], {}),  # its days name the dates themselves
        ):
            self.assertIsNone(season_programs(make_plan(rows, limits=limits), YEAR))


class SeasonsCommandTest(CommandTest):
    def test_it_prints_the_seasons_beside_the_year(self):
        plan = make_plan([window("05:50", "sunrise", ends="same-day")], limits=GROUPS)
        found = self.prints("fit", self.file("plan.json", json.dumps(plan.to_json())))
        self.assertEqual(len(found["seasons"]["plan"]["unit"]["keyings"]), 2)
        self.assertLess(found["seasons"]["hours_a_year"], sum(loss["hours_a_year"] for loss in found["fit"]))


class PairTest(unittest.TestCase):
    def test_what_is_left_of_a_pair_has_a_slot(self):
        """Around the whole day and from 05:37 until sunrise: of what is left out no half of a pair stays without a slot."""
        limits = {"slots": [{"shape": "pair", "count": 3}]}
        plan = make_plan([window("00:00", "00:00"), window("05:37", "sunrise")], limits=limits)
        self.assertEqual(place(fit(plan, 2027).plan.unit.entries, plan.unit.limits).left, ())
