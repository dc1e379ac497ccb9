"""The usual programs: each holds in a plan, is fitted without loss, and is on for the hours that it says."""

import unittest
from datetime import date, timedelta
from zoneinfo import ZoneInfo

import astral
import astral.sun

from skavit.core.fitting import fit
from skavit.core.ground.strict_json import Node
from skavit.core.plan.document import read_plan
from skavit.core.plan.edits import add_windows
from skavit.core.plan.usual_programs import USUAL_PROGRAMS, usual_program
from skavit.core.simulation.replay import replay
from skavit.core.tests.builders import BAY, DESERT, make_plan

YEAR = date(2027, 1, 1), date(2027, 12, 31)
WORKDAYS_OF_2027 = sum((YEAR[0] + timedelta(days=n)).weekday() < 5 for n in range(365))


def planned(slug, site=BAY):
    return add_windows(make_plan([], site=site), 1, usual_program(slug).windows)


def hours(slug, site=BAY):
    return replay(planned(slug, site), *YEAR).channels[0].wanted.total_s / 3600


class UsualProgramsTest(unittest.TestCase):
    def test_each_is_found_by_its_own_name(self):
        self.assertEqual(len({found.slug for found in USUAL_PROGRAMS}), len(USUAL_PROGRAMS))
        for program in USUAL_PROGRAMS:
            self.assertIs(usual_program(program.slug), program)
        self.assertIsNone(usual_program("no-such"))

    def test_each_holds_in_a_plan_file(self):
        for program in USUAL_PROGRAMS:
            with self.subTest(program.slug):
                plan = planned(program.slug)
                self.assertEqual(read_plan(Node(plan.to_json())), plan)

    def test_each_is_fitted_without_loss(self):
        for program in USUAL_PROGRAMS:
            repeats = any(window.repeat for window in program.windows)
            with self.subTest(program.slug):
                result = fit(planned(program.slug), 2027)
                self.assertEqual(bool(result.losses), repeats, result.losses)  # an entry repeats where a kind says so

    def test_their_hours(self):
        for slug, expected in (
            ("hot-water", 4 * 365),
            ("working-week", 10 * WORKDAYS_OF_2027),
            ("door", 9 * WORKDAYS_OF_2027),
            ("mist", 365 * 135 * 8 / 3600),  # 9 h hold 135 cycles of 4 min
        ):
            with self.subTest(slug):
                self.assertAlmostEqual(hours(slug, DESERT), expected, places=6)

    def test_a_night_is_as_long_as_another_almanac_has_it(self):
        """`astral`, whose horizon is 0.833 degrees and whose civil twilight 6: sunset to sunrise, dusk to dawn; it says a minute."""
        observer, zone = astral.Observer(BAY["latitude"], BAY["longitude"]), ZoneInfo(BAY["timezone"])

        def whole(evening, morning):
            days = [YEAR[0] + timedelta(days=n) for n in range(365)]
            dark = (
                morning(observer, day + timedelta(days=1), tzinfo=zone) - evening(observer, day, tzinfo=zone)
                for day in days
            )
            return sum(span.total_seconds() for span in dark) / 3600

        for slug, evening, morning in (
            ("night", astral.sun.sunset, astral.sun.sunrise),
            ("civil-night", astral.sun.dusk, astral.sun.dawn),
        ):
            with self.subTest(slug):
                self.assertAlmostEqual(hours(slug), whole(evening, morning), delta=365 / 60)  # a minute a night
