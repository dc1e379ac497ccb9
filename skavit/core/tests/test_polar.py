"""The far north by a plain scan: altitudes of PyEphem (libastro) minute by minute, and the plan file's own rule."""

import math
import unittest
from datetime import UTC, date, datetime

import ephem
import numpy as np

from skavit.core.plan.times import day_number
from skavit.core.site.clock import standard_offsets_s
from skavit.core.sun.days import SunEvent, sun_days

EPOCH = ephem.Date("1970/1/1")
ALTITUDES = {SunEvent.DAWN: -6.0, SunEvent.SUNRISE: -0.8333, SunEvent.SUNSET: -0.8333, SunEvent.DUSK: -6.0}


def scanned(latitude, longitude, days, zone):
    """(instant or None, whether the sun is up at noon) of each event, by scanning each half-day."""
    place, sun = ephem.Observer(), ephem.Sun()
    place.lat, place.lon, place.pressure = str(latitude), str(longitude), 0
    standard = standard_offsets_s(zone, days)

    def altitude(moment):
        place.date = moment
        sun.compute(place)
        return math.degrees(float(sun.alt))

    for day, offset in zip(days, standard, strict=True):
        middle = EPOCH + (int(day) + 0.5) - int(offset) / 86400
        place.date = middle - 0.5
        noon = place.next_transit(sun)
        place.date = noon
        before, after = place.previous_antitransit(sun), place.next_antitransit(sun)
        halves = {True: np.arange(before, noon, 1 / 1440), False: np.arange(noon, after, 1 / 1440)}
        heights = {half: np.array([altitude(moment) for moment in moments]) for half, moments in halves.items()}
        for event, threshold in ALTITUDES.items():
            moments, height = halves[event.morning], heights[event.morning] - threshold
            signs = height >= 0
            turns = np.nonzero(signs[1:] & ~signs[:-1] if event.morning else ~signs[1:] & signs[:-1])[0]
            at = None
            if turns.size:
                row = turns[-1] if event.morning else turns[0]
                share = height[row] / (height[row] - height[row + 1])
                at = (moments[row] + share / 1440 - EPOCH) * 86400
            yield int(day), event, at, altitude(noon) > threshold, (noon - EPOCH) * 86400


class ScanTest(unittest.TestCase):
    CASES = [
        (59.9, 10.7, "Europe/Oslo", [date(2027, 6, 20), date(2027, 12, 20)]),
        (65.0, -147.7, "America/Anchorage", [date(2027, 5, 15), date(2027, 6, 12), date(2027, 6, 21)]),
        (66.4, 25.0, "Europe/Helsinki", [date(2027, 6, 5), date(2027, 6, 21), date(2027, 12, 21)]),
        (69.6, 18.9, "Europe/Oslo", [date(2027, 5, 17), date(2027, 5, 19), date(2027, 7, 25), date(2027, 11, 27)]),
        (78.2, 15.6, "Arctic/Longyearbyen", [date(2027, 4, 18), date(2027, 8, 23), date(2027, 10, 26)]),
        (-77.8, 166.7, "Antarctica/McMurdo", [date(2027, 2, 20), date(2027, 10, 22), date(2027, 4, 24)]),
    ]

    def test_crossings_and_limits_are_those_of_the_scan(self):
        for latitude, longitude, zone, dates in self.CASES:
            days = np.array([day_number(d) for d in dates])
            ours = sun_days(latitude, longitude, days, standard_offsets_s(zone, days))
            for day, event, at, up, noon in scanned(latitude, longitude, days, zone):
                row = int(np.nonzero(days == day)[0][0])
                when = datetime.fromtimestamp(int(ours.times[event, row]), UTC)
                with self.subTest(f"{latitude} {event.name} {when}"):
                    self.assertEqual(bool(ours.crosses[event, row]), at is not None)
                    if at is not None:
                        # A grazing sun moves little in altitude: a minute there is a hundredth of a degree.
                        self.assertAlmostEqual(at, float(ours.times[event, row]), delta=60)
                    else:
                        self.assertEqual(bool(ours.up_at_noon[event, row]), up)
                        limit = 43_082 if up else 0  # half a sidereal day, near enough
                        self.assertAlmostEqual(abs(float(ours.times[event, row]) - noon), limit, delta=300)
