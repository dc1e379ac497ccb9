"""Reading a unit's sun table: places recovered from rounded times of an independent ephemeris, and what is left over."""

import json
import subprocess
import sys
import unittest
from datetime import UTC, date, datetime
from zoneinfo import ZoneInfo

import ephem
import numpy as np

from skavit.core.ground.errors import UserError
from skavit.core.plan.document import Site
from skavit.core.plan.sun_settings import Adjust
from skavit.core.plan.times import ClockTime
from skavit.core.site.sun_table import Meaning, SunReading, guess_meaning, read_table, table_errors

BAY = Site(name="Harbour walk", latitude=-39.49, longitude=176.91, timezone="Pacific/Auckland")
# (zone, latitude and longitude of the table, dates of the readings). The seasons are those at which a single reading
# says something; near an equinox it takes two.
TABLES = [
    ("Pacific/Auckland", -44.0, 180.0, ["2027-02-15"]),
    ("Pacific/Auckland", -39.5, 176.9, ["2027-06-20"]),
    ("Europe/Dublin", 53.3, -6.3, ["2027-05-02"]),
    ("Europe/Dublin", 51.0, 0.0, ["2027-11-20"]),
    ("Asia/Kolkata", 19.1, 72.9, ["2027-12-21"]),
    ("Asia/Kolkata", 23.5, 82.5, ["2027-07-01", "2027-10-10"]),
    ("America/Denver", 39.7, -105.0, ["2027-03-21", "2027-08-01"]),
    ("Europe/Helsinki", 65.0, 25.5, ["2027-04-20", "2027-10-01"]),
]


def shown_by_ephem(zone, latitude, longitude, day, meaning=Meaning.SUNRISE):
    """The pair that a table at the place shows, by PyEphem (libastro), rounded to the minute."""
    place = ephem.Observer()
    place.lat, place.lon, place.pressure = str(latitude), str(longitude), 0
    place.horizon = "-0:49:59.88" if meaning is Meaning.SUNRISE else "-6"
    noon = datetime.fromisoformat(f"{day}T12:00").replace(tzinfo=ZoneInfo(zone)).astimezone(UTC)
    place.date = ephem.Date(noon.replace(tzinfo=None))
    place.date = min(
        (place.previous_transit(ephem.Sun()), place.next_transit(ephem.Sun())), key=lambda t: abs(t - place.date)
    )
    found = []
    for at in (
        place.previous_rising(ephem.Sun(), use_center=True),
        place.next_setting(ephem.Sun(), use_center=True),
    ):
        local = at.datetime().replace(tzinfo=UTC).astimezone(ZoneInfo(zone))
        found.append((local.hour * 3600 + local.minute * 60 + local.second + 30) // 60 * 60)
    return SunReading(day=date.fromisoformat(day), sunrise_s=found[0], sunset_s=found[1])


class ImpliedPlaceTest(unittest.TestCase):
    def test_known_places_are_recovered_within_the_stated_bounds(self):
        for zone, latitude, longitude, days in TABLES:
            for meaning in Meaning:
                with self.subTest(zone, latitude=latitude, meaning=meaning.value):
                    site = Site(name="x", latitude=latitude * 0.95, longitude=longitude - 1.3, timezone=zone)
                    readings = tuple(shown_by_ephem(zone, latitude, longitude, day, meaning) for day in days)
                    place = read_table(site, readings, meaning).place
                    self.assertLessEqual(abs(place.latitude - latitude), place.latitude_pm)
                    self.assertLessEqual(abs((place.longitude - longitude + 180) % 360 - 180), place.longitude_pm)
                    self.assertLess(place.longitude_pm, 0.35)
                    self.assertFalse(place.is_vague)

    def test_an_equinox_says_nothing_of_the_latitude_and_a_second_reading_does(self):
        march = shown_by_ephem(BAY.timezone, -44, 180, "2027-03-20")
        june = shown_by_ephem(BAY.timezone, -44, 180, "2027-06-10")
        alone, both = read_table(BAY, (march,)), read_table(BAY, (march, june))
        self.assertTrue(alone.place.is_vague)
        self.assertLess(both.place.latitude_pm, 0.4)
        self.assertEqual(both.correction, read_table(BAY, (june,)).correction)

    def test_the_bounds_are_those_of_the_rounding(self):
        # Every place on a fine grid, by our own forward computation: none outside the bounds shows the same minutes.
        reading = shown_by_ephem("Europe/Dublin", 53.3, -6.3, "2027-05-02")
        site = Site(name="x", latitude=53.3, longitude=-6.3, timezone="Europe/Dublin")
        place = read_table(site, (reading,)).place
        fits = [
            (latitude, longitude)
            for latitude in np.arange(52.6, 54, 0.04)
            for longitude in np.arange(-6.6, -6, 0.03)
            if shown_by_ephem("Europe/Dublin", latitude, longitude, "2027-05-02") == reading
        ]
        spread = np.ptp(np.array(fits), axis=0) / 2
        self.assertAlmostEqual(float(spread[0]), place.latitude_pm, delta=0.04)
        self.assertAlmostEqual(float(spread[1]), place.longitude_pm, delta=0.03)

    def test_readings_that_no_place_has(self):
        readings = (
            shown_by_ephem(BAY.timezone, -44, 180, "2027-02-15"),
            shown_by_ephem(BAY.timezone, -20, 150, "2027-02-16"),
        )
        found = read_table(BAY, readings)
        self.assertIsNone(found.place)
        self.assertIsNone(found.errors)


class CorrectionTest(unittest.TestCase):
    def test_what_is_right_in_february_is_wrong_in_june(self):
        reading = shown_by_ephem(BAY.timezone, -44, 180, "2027-02-15")
        found = read_table(BAY, (reading,))
        true = shown_by_ephem(BAY.timezone, BAY.latitude, BAY.longitude, "2027-02-15")
        self.assertEqual(found.correction.sunrise_min, (true.sunrise_s - reading.sunrise_s) / 60)
        self.assertEqual(found.correction.sunset_min, (true.sunset_s - reading.sunset_s) / 60)
        today, best = found.errors.worst(found.correction), found.errors.worst(found.errors.best)
        june = table_errors(BAY, found.place, 2027)
        row = date(2027, 6, 21).timetuple().tm_yday - 1
        # By PyEphem: the error in June is that of the two tables on the longest night, corrected as in February.
        theirs, here = (shown_by_ephem(BAY.timezone, *p, "2027-06-21") for p in ((-44, 180), (-39.49, 176.91)))
        left = (theirs.sunrise_s - here.sunrise_s) / 60 + found.correction.sunrise_min
        self.assertAlmostEqual(float(june.morning[row]) + found.correction.sunrise_min, left, delta=2)
        self.assertGreater(today[0], 20)
        self.assertLess(best[0], today[0])

    def test_no_whole_minute_is_better_than_the_best(self):
        found = read_table(BAY, (shown_by_ephem(BAY.timezone, -41, 174, "2027-05-02"),))
        best = found.errors.worst(found.errors.best)
        for rise in range(-30, 31):
            other = found.errors.worst(Adjust(sunrise_min=rise, sunset_min=rise))
            self.assertGreaterEqual(other[0], best[0])
            self.assertGreaterEqual(other[1], best[1])

    def test_a_date_without_sunrise_is_refused(self):
        north = Site(name="x", latitude=78.2, longitude=15.6, timezone="Arctic/Longyearbyen")
        with self.assertRaisesRegex(UserError, "no sunrise at this place"):
            read_table(north, (SunReading(day=date(2027, 6, 20), sunrise_s=3600, sunset_s=7200),))


class MeaningTest(unittest.TestCase):
    def shown(self, rise, fall):
        return SunReading(
            day=date(2027, 2, 15),
            sunrise_s=ClockTime(rise[0] * 3600 + rise[1] * 60).seconds,
            sunset_s=ClockTime(fall[0] * 3600 + fall[1] * 60).seconds,
        )

    def test_evenly_outside_the_day_is_twilight_or_a_margin(self):
        true = shown_by_ephem(BAY.timezone, BAY.latitude, BAY.longitude, "2027-02-15")
        twilight = shown_by_ephem(BAY.timezone, BAY.latitude, BAY.longitude, "2027-02-15", Meaning.DAWN)
        self.assertEqual(guess_meaning(BAY, true), (Meaning.SUNRISE, 0))
        self.assertEqual(guess_meaning(BAY, twilight), (Meaning.DAWN, 0))
        wide = SunReading(day=true.day, sunrise_s=true.sunrise_s - 900, sunset_s=true.sunset_s + 960)
        meaning, margin = guess_meaning(BAY, wide)
        self.assertEqual(meaning, Meaning.SUNRISE)
        self.assertIn(margin, (15, 16))

    def test_another_place_is_no_margin(self):
        table = shown_by_ephem(BAY.timezone, -44, 180, "2027-02-15")
        self.assertEqual(guess_meaning(BAY, table), (Meaning.SUNRISE, 0))


class CommandLineTest(unittest.TestCase):
    def run_line(self, *words):
        call = [sys.executable, "-m", "skavit.core", "reading", "--timezone", "Pacific/Auckland", *words]
        return subprocess.run(call, capture_output=True, text=True, check=False)

    def test_prints_the_reading_and_refuses_with_a_path(self):
        place = ("--latitude", "-39.49", "--longitude", "176.91")
        readings = []
        for day in ("2027-02-15", "2027-06-15"):
            reading = shown_by_ephem(BAY.timezone, -42, 177, day)
            readings += ["--reading", f"{day},{ClockTime(reading.sunrise_s)},{ClockTime(reading.sunset_s)}"]
        good = self.run_line(*place, *readings)
        found = json.loads(good.stdout)
        self.assertEqual(set(found), {"correction", "place", "best_correction", "worst_min_today", "worst_min_best"})
        self.assertEqual(set(found["place"]), {"latitude", "longitude", "latitude_pm", "longitude_pm"})
        for words, path in [
            (("--reading", "2027-02-30,06:33,20:19"), "--reading[0]"),
            (("--reading", "2027-02-15,06:33:20,20:19"), "--reading[0]"),
            (("--reading", "2027-02-15,06:33,20:19", "--events", "noon"), "--events"),
        ]:
            with self.subTest(words=words, path=path):
                bad = self.run_line(*place, *words)
                self.assertEqual(bad.returncode, 2)
                self.assertTrue(bad.stderr.startswith(path), bad.stderr)
                self.assertEqual(bad.stderr.count("\n"), 1)
