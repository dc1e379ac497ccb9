"""A clock and a sun table that are both out, at twenty places: the clock is named first, and no correction is offered."""

import itertools
import unittest
from dataclasses import replace
from datetime import date

import numpy as np

from skavit.core.ground.arrays import DAY_S
from skavit.core.ground.strict_json import Node
from skavit.core.plan.document import read_plan
from skavit.core.plan.times import day_number
from skavit.core.site.almanac import sun_on
from skavit.core.site.clock import zone_clock
from skavit.core.tests.builders import make_plan, window
from skavit.core.text.wording import PLAIN
from skavit.units.pages.clock.reading import read_display, sun_answer

# Towns by their degrees, north and east, and zones: of both hemispheres, near the date line, on half hours.
PLACES = [
    (-39.5, 176.9, "Pacific/Auckland"), (-43.9, -176.5, "Pacific/Chatham"), (-33.9, 151.2, "Australia/Sydney"),
    (-34.9, 138.6, "Australia/Adelaide"), (-31.9, 115.9, "Australia/Perth"), (35.7, 139.7, "Asia/Tokyo"),
    (28.6, 77.2, "Asia/Kolkata"), (25.2, 55.3, "Asia/Dubai"), (-26.2, 28.0, "Africa/Johannesburg"),
    (59.9, 10.8, "Europe/Oslo"), (52.5, 13.4, "Europe/Berlin"), (51.5, -0.1, "Europe/London"),
    (40.4, -3.7, "Europe/Madrid"), (64.1, -21.9, "Atlantic/Reykjavik"), (-22.9, -43.2, "America/Sao_Paulo"),
    (47.6, -52.7, "America/St_Johns"), (43.7, -79.4, "America/Toronto"), (39.7, -105.0, "America/Denver"),
    (49.3, -123.1, "America/Vancouver"), (21.3, -157.9, "Pacific/Honolulu"),
]  # fmt: skip
DAY = date(2027, 5, 11)
NOON_S, MINUTE_S = 12 * 3600, 60


def plan_at(latitude, longitude, timezone):
    site = {"name": "Here", "latitude": latitude, "longitude": longitude, "timezone": timezone}
    return read_plan(Node(make_plan([window("sunset", "22:00")], site=site).to_json()))


def table_times(plan, north_by, ahead_s):
    """What a unit shows whose table is that of a place further north, by a clock that is ahead: seconds of the day."""
    there = replace(plan.site, latitude=plan.site.latitude + north_by)
    sun = sun_on(there, day_number(DAY))
    clock = zone_clock(plan.site.timezone, DAY.year - 1, DAY.year + 1)
    digits = [int(clock.digits(np.array([sun[name]]))[0]) for name in ("sunrise", "sunset")]
    return tuple((at + ahead_s) % DAY_S // MINUTE_S * MINUTE_S for at in digits)


def answer(plan, shown, clock_s):
    """What is said of sun times shown while the display reads ``clock_s`` at noon."""
    right = day_number(DAY) * DAY_S + NOON_S
    read = read_display(plan, right, PLAIN, time=clock_s, day=DAY, weekday="", sun=shown)
    return sun_answer(plan, None, read, DAY, shown)


class BothOutTest(unittest.TestCase):
    def test_the_clock_is_named_first_at_twenty_places(self):
        self.assertEqual(len(PLACES), 20)
        errors = zip(itertools.cycle((-3600, 3600, -1800, 7200)), itertools.cycle((0, 4, -6)), strict=False)
        for number, (place, (ahead_s, north_by)) in enumerate(zip(PLACES, errors, strict=False)):
            plan = plan_at(*place)
            # Its sun times move with its clock, or stay where they were: either way nothing is to be corrected.
            with_clock = ahead_s * (number // 2 % 2)
            with self.subTest(place=place, ahead_s=ahead_s, north_by=north_by, with_clock=with_clock):
                found = answer(plan, table_times(plan, north_by, with_clock), NOON_S + ahead_s)
                self.assertTrue(found.clock_first)
                self.assertIsNone(found.takes)
                if north_by == 0:
                    self.assertIn("right", found.clock_first)

    def test_with_the_clock_right_the_same_table_is_corrected(self):
        for place in PLACES[::4]:
            with self.subTest(place=place):
                plan = plan_at(*place)
                shown = table_times(plan, 6, 0)
                found = answer(plan, shown, NOON_S)
                self.assertEqual(found.clock_first, "")
                sun = sun_on(plan.site, day_number(DAY))
                clock = zone_clock(plan.site.timezone, DAY.year - 1, DAY.year + 1)
                true = [int(clock.digits(np.array([sun[name]]))[0]) % DAY_S for name in ("sunrise", "sunset")]
                wanted = [(t - s) / MINUTE_S for t, s in zip(true, shown, strict=True)]
                given = (found.adjust.sunrise_min, found.adjust.sunset_min)
                for minutes, corrected in zip(wanted, given, strict=True):
                    self.assertLess(abs((minutes - corrected + 720) % 1440 - 720), 1.01)
