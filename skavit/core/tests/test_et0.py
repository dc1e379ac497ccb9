"""Reference evapotranspiration: FAO-56's worked examples, and the registry's libraries over a year of drawn weather."""

import unittest

import numpy as np
import pandas as pd
import pyet
import refet

from skavit.core.water.et0 import Method, et0, extraterrestrial_radiation, vapour_pressure
from skavit.core.water.weather import WeatherError, read_weather

HEADER = "date,tmin_c,tmax_c,rh_min_pct,rh_max_pct,wind_m_s,radiation_mj_m2"


def drawn(seed=7, columns=HEADER):
    """A year of invented weather about a mild place, in the columns asked for."""
    draw = np.random.default_rng(seed)
    lines = [columns]
    for day in np.arange("2027-01-01", "2028-01-01", dtype="M8[D]"):
        low, spread = draw.uniform(-4, 18), draw.uniform(1, 16)
        humid = sorted(draw.uniform(25, 100, 2))
        row = {
            "date": str(day),
            "tmin_c": f"{low:.1f}",
            "tmax_c": f"{low + spread:.1f}",
            "rh_min_pct": f"{humid[0]:.1f}",
            "rh_max_pct": f"{humid[1]:.1f}",
            "wind_m_s": f"{draw.uniform(0.2, 7):.1f}",
            "radiation_mj_m2": f"{draw.uniform(2, 30):.1f}",
            "rain_mm": "0",
            "et0_mm": "3.25",
        }
        lines.append(",".join(row[name] for name in columns.split(",")))
    return read_weather("\n".join(lines).encode())


def read(*rows, header="date,tmin_c,tmax_c"):
    return read_weather("\n".join([header, *rows]).encode())


class WorkedTest(unittest.TestCase):
    """Examples of FAO-56; their figures are quoted from memory."""

    def test_brussels_in_july(self):
        """Example 18, chapter 4: 50.80 N, 100 m, 6 July; wind of 2.78 m/s at 10 m is 2.078 m/s at 2 m; 3.9 mm."""
        weather = read("2027-07-06,12.3,21.5,63,84,2.078,22.07", header=HEADER)
        found = et0(weather, 50.80, 100)
        self.assertEqual(found.method, Method.PENMAN_MONTEITH)
        self.assertAlmostEqual(found.mm[0], 3.88, delta=0.01)

    def test_radiation_above_the_air(self):
        """Example 8, chapter 3: 20 S on 3 September (day 246), 32.2 MJ a square metre."""
        self.assertAlmostEqual(extraterrestrial_radiation(np.array([246.0]), -20)[0], 32.2, delta=0.05)

    def test_saturation(self):
        """Example 3, chapter 3: 3.168 kPa at 24.5 degrees is none of it; 24.5 gives 3.075 and 15 gives 1.705."""
        self.assertTrue(np.allclose(vapour_pressure(np.array([24.5, 15.0])), [3.075, 1.705], atol=0.001))


class LibrariesTest(unittest.TestCase):
    """refet takes the ASCE form of the same equation, pyet that of FAO-56."""

    def setUp(self):
        self.weather = drawn()
        self.days = np.arange(1, 366)
        self.vapour = (
            vapour_pressure(self.weather.columns["tmin_c"]) * self.weather.columns["rh_max_pct"]
            + vapour_pressure(self.weather.columns["tmax_c"]) * self.weather.columns["rh_min_pct"]
        ) / 200

    def usual(self, latitude, altitude):
        """Dates on which the sun shone as much as the libraries take for the least: 0.3 of a clear sky, after ASCE 2005."""
        clear = (0.75 + 2e-5 * altitude) * extraterrestrial_radiation(self.days, latitude)
        return self.weather.columns["radiation_mj_m2"] / clear > 0.3

    def test_penman_monteith_beside_refet(self):
        for latitude, altitude in ((-39.5, 20), (52.0, 300)):
            of = self.weather.columns
            expected = refet.Daily(
                tmin=of["tmin_c"], tmax=of["tmax_c"], ea=self.vapour, rs=of["radiation_mj_m2"], uz=of["wind_m_s"],
                zw=2, elev=altitude, lat=latitude, doy=self.days, method="refet", rso_type="simple",
                input_units={"lat": "deg"},
            ).eto()  # fmt: skip
            found = et0(self.weather, latitude, altitude).mm
            usual = self.usual(latitude, altitude)
            self.assertGreater(usual.sum(), 200)
            self.assertLess(np.abs(found - np.maximum(expected, 0))[usual].max(), 0.03)

    def test_penman_monteith_beside_pyet(self):
        series = {
            name: pd.Series(values, index=pd.date_range("2027-01-01", periods=365))
            for name, values in self.weather.columns.items()
        }
        expected = pyet.pm_fao56(
            tmean=(series["tmin_c"] + series["tmax_c"]) / 2, wind=series["wind_m_s"], rs=series["radiation_mj_m2"],
            tmax=series["tmax_c"], tmin=series["tmin_c"], rhmax=series["rh_max_pct"], rhmin=series["rh_min_pct"],
            elevation=20, lat=np.radians(-39.5),
        )  # fmt: skip
        found = et0(self.weather, -39.5, 20).mm
        self.assertLess(np.abs(found - expected.to_numpy())[self.usual(-39.5, 20)].max(), 0.03)

    def test_hargreaves_beside_pyet(self):
        bare = drawn(columns="date,tmin_c,tmax_c")
        low, high = (
            pd.Series(bare.columns[name], index=pd.date_range("2027-01-01", periods=365))
            for name in ("tmin_c", "tmax_c")
        )
        expected = pyet.hargreaves((low + high) / 2, high, low, np.radians(-39.5))
        found = et0(bare, -39.5)
        self.assertEqual(found.method, Method.HARGREAVES)
        # pyet has the heat of evaporation of the day's temperature, FAO-56 the same all year (equation 20).
        self.assertLess(np.abs(found.mm / expected.to_numpy() - 1).max(), 0.025)


class EdgesTest(unittest.TestCase):
    def test_what_is_given_stands(self):
        found = et0(drawn(columns=HEADER + ",et0_mm"), -39.5)
        self.assertEqual((found.method, set(found.mm)), (Method.GIVEN, {3.25}))
        below = read("2027-07-06,12,21,-0.3", header="date,tmin_c,tmax_c,et0_mm")
        self.assertEqual(et0(below, 50.8).mm[0], 0)

    def test_without_wind_and_humidity(self):
        """Wind of 2 m/s, and air that is saturated at the lowest temperature."""
        bare = read("2027-07-06,12.3,21.5,22.07", header="date,tmin_c,tmax_c,radiation_mj_m2")
        same = read("2027-07-06,12.3,21.5,22.07,2", header="date,tmin_c,tmax_c,radiation_mj_m2,wind_m_s")
        self.assertEqual(et0(bare, 50.8).mm[0], et0(same, 50.8).mm[0])
        one = read("2027-07-06,12.3,21.5,22.07,80", header="date,tmin_c,tmax_c,radiation_mj_m2,rh_max_pct")
        self.assertEqual(et0(bare, 50.8).mm[0], et0(one, 50.8).mm[0])

    def test_polar_night(self):
        night = read("2027-12-21,-20,-12,0", header="date,tmin_c,tmax_c,radiation_mj_m2")
        found = et0(night, 80).mm
        self.assertTrue(np.isfinite(found).all() and (found >= 0).all())


class WeatherTest(unittest.TestCase):
    def refused(self, line, pattern, *rows, **more):
        with self.assertRaisesRegex(WeatherError, pattern) as caught:
            read(*rows, **more)
        self.assertEqual(caught.exception.line, line)

    def test_other_forms_that_people_have(self):
        """Semicolons with decimal commas, tabs, and units named in the header; conversions by definition (25.4 mm, 1.8 °F)."""
        plain = read_weather(b"date,tmin_c,tmax_c,rain_mm,wind_m_s\n2027-01-01,10,25,12.7,5\n")
        for text in (
            "date;tmin_c;tmax_c;rain_mm;wind_m_s\n2027-01-01;10,0;25,0;12,7;5,0\n",
            "Date\tTmin (°C)\tTmax (°C)\tRain (mm)\tWind (km/h)\n2027-01-01\t10\t25\t12,7\t18\n",
            "date,tmin (F),tmax (F),rain (in),wind (m/s)\n2027-01-01,50,77,0.5,5\n",
        ):
            found = read_weather(text.encode())
            with self.subTest(text=text):
                for name, values in plain.columns.items():
                    self.assertAlmostEqual(float(found.columns[name][0]), float(values[0]), places=9)
        with self.assertRaisesRegex(WeatherError, "unknown unit 'furlongs' of rain; accepted: mm, cm, in"):
            read_weather(b"date,tmin_c,tmax_c,rain (furlongs)\n2027-01-01,1,2,3\n")
        with self.assertRaisesRegex(WeatherError, "rain_mm '1,5' is not accepted"):
            read_weather(b'date,tmin_c,tmax_c,rain_mm\n2027-01-01,1,2,"1,5"\n')

    def test_bad_rows_are_named_by_their_line(self):
        good = "2027-01-01,10,20"
        self.refused(3, "the date after", good, "2027-01-03,10,20")
        self.refused(3, "the date after", good, good)
        self.refused(2, "tmax_c is empty", "2027-01-01,10,")
        self.refused(2, "tmin_c '21'.*at most tmax_c", "2027-01-01,21,20")
        self.refused(2, "a number from", "2027-01-01,nan,20")
        self.refused(2, "a number from", "2027-01-01,1_0,20")
        self.refused(2, "a date such as", "20270101,10,20")
        self.refused(2, "2 values", "2027-01-01,10")
        self.refused(1, "no dates", "")
        self.refused(2, "rh_min_pct", "2027-01-01,10,20,90,80", header="date,tmin_c,tmax_c,rh_min_pct,rh_max_pct")
        self.refused(2, "from 0 to 100", "2027-01-01,10,20,90,101", header="date,tmin_c,tmax_c,rh_min_pct,rh_max_pct")

    def test_bad_headers(self):
        self.refused(1, "unknown column", header="date,tmin_c,tmax_c,dew_c")
        self.refused(1, "stands twice", header="date,tmin_c,tmax_c,tmin_c")
        self.refused(1, "no column tmax_c", header="date,tmin_c")
        self.refused(1, "no dates", header="date,tmin_c,tmax_c")

    def test_what_is_no_text(self):
        with self.assertRaisesRegex(WeatherError, "UTF-8"):
            read_weather(b"date,tmin_c,tmax_c\n\xff")
