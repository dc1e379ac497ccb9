"""Reference evapotranspiration of a day, in millimetres.

Equations by their numbers in FAO Irrigation and Drainage Paper 56 (Allen, Pereira, Raes and Smith, 1998), chapters 3 and 4.
"""

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from skavit.core.ground.arrays import Floats
from skavit.core.water.weather import Weather

SOLAR_CONSTANT = 0.0820  # MJ a square metre and minute (below equation 21)
STEFAN_BOLTZMANN = 4.903e-9  # MJ a square metre, day and K^4 (equation 39)
ALBEDO = 0.23  # of the reference grass (equation 38)
USUAL_WIND_M_S = 2.0  # where nobody measured it (chapter 4, "Wind speed")
MM_OF_MJ = 0.408  # millimetres of water that a MJ a square metre evaporates (equation 20)
KELVIN = 273.16  # as equation 39 has it


class Method(StrEnum):
    """How a day's value was found."""

    GIVEN = "given"
    PENMAN_MONTEITH = "penman-monteith"
    HARGREAVES = "hargreaves"


@dataclass(frozen=True, slots=True, kw_only=True)
class Et0:
    """Millimetres of each date of some weather, and how they were found."""

    mm: Floats
    method: Method


def et0(weather: Weather, latitude_deg: float, altitude_m: float = 0.0) -> Et0:
    """The reference evapotranspiration of each date: as given, by Penman-Monteith, or without radiation by Hargreaves-Samani.

    A value below 0 is 0.
    """
    given = weather.column("et0_mm")
    if given is not None:
        return Et0(mm=np.maximum(given, 0), method=Method.GIVEN)
    extraterrestrial = extraterrestrial_radiation(_day_of_year(weather), latitude_deg)
    radiation = weather.column("radiation_mj_m2")
    low, high = weather.columns["tmin_c"], weather.columns["tmax_c"]
    if radiation is None:
        return Et0(mm=np.maximum(hargreaves(low, high, extraterrestrial), 0), method=Method.HARGREAVES)
    humid = weather.column("rh_min_pct"), weather.column("rh_max_pct")
    # Without both humidities the air is taken to be saturated at the day's lowest temperature (equation 48).
    vapour = vapour_pressure(low)
    if humid[0] is not None and humid[1] is not None:
        vapour = (vapour_pressure(low) * humid[1] + vapour_pressure(high) * humid[0]) / 200  # equation 17
    wind = weather.column("wind_m_s")
    net = _net_radiation(low, high, vapour, radiation, extraterrestrial, altitude_m)
    found = penman_monteith(low, high, vapour, USUAL_WIND_M_S if wind is None else wind, net, altitude_m)
    return Et0(mm=np.maximum(found, 0), method=Method.PENMAN_MONTEITH)


def _day_of_year(weather: Weather) -> Floats:
    days = weather.days
    dates = days.astype("datetime64[D]")
    return (days - dates.astype("datetime64[Y]").astype("datetime64[D]").astype(np.int64) + 1).astype(np.float64)


def vapour_pressure(temperature_c: Floats) -> Floats:
    """Saturation vapour pressure in kPa at a temperature (equation 11)."""
    found: Floats = 0.6108 * np.exp(17.27 * temperature_c / (temperature_c + 237.3))
    return found


def extraterrestrial_radiation(day_of_year: Floats, latitude_deg: float) -> Floats:
    """MJ a square metre on each day of the year, 1 for 1 January (equations 21 to 25)."""
    latitude = np.radians(latitude_deg)
    angle = 2 * np.pi * day_of_year / 365
    distance = 1 + 0.033 * np.cos(angle)
    declination = 0.409 * np.sin(angle - 1.39)
    # Beyond the polar circles the sun may not set, or not rise.
    sunset = np.arccos(np.clip(-np.tan(latitude) * np.tan(declination), -1, 1))
    sines = sunset * np.sin(latitude) * np.sin(declination)
    found: Floats = (
        24 * 60 / np.pi * SOLAR_CONSTANT * distance
        * (sines + np.cos(latitude) * np.cos(declination) * np.sin(sunset))
    )  # fmt: skip
    return np.maximum(found, 0)


def hargreaves(low_c: Floats, high_c: Floats, extraterrestrial: Floats) -> Floats:
    """Millimetres a day from the temperatures alone (equation 52)."""
    mean = (low_c + high_c) / 2
    found: Floats = 0.0023 * (mean + 17.8) * np.sqrt(high_c - low_c) * extraterrestrial * MM_OF_MJ
    return found


def _net_radiation(
    low_c: Floats, high_c: Floats, vapour: Floats, radiation: Floats, extraterrestrial: Floats, altitude_m: float
) -> Floats:
    """MJ a square metre and day that stay with the grass (equations 37 to 40)."""
    clear = (0.75 + 2e-5 * altitude_m) * extraterrestrial
    # At most what a clear sky lets through (below equation 39); where the sun stays down, the sky is as it may be: clear.
    share = np.where(clear > 0, np.minimum(radiation / np.where(clear > 0, clear, 1), 1), 1)
    warmth = ((high_c + KELVIN) ** 4 + (low_c + KELVIN) ** 4) / 2
    lost = STEFAN_BOLTZMANN * warmth * (0.34 - 0.14 * np.sqrt(vapour)) * (1.35 * share - 0.35)
    return (1 - ALBEDO) * radiation - lost


def penman_monteith(
    low_c: Floats, high_c: Floats, vapour: Floats, wind_m_s: Floats | float, net: Floats, altitude_m: float
) -> Floats:
    """Millimetres a day (equation 6, no heat stored in the ground); may be below 0."""
    mean = (low_c + high_c) / 2
    pressure = 101.3 * ((293 - 0.0065 * altitude_m) / 293) ** 5.26  # equation 7
    psychrometric = 0.665e-3 * pressure  # equation 8
    slope = 4098 * vapour_pressure(mean) / (mean + 237.3) ** 2  # equation 13
    deficit = (vapour_pressure(low_c) + vapour_pressure(high_c)) / 2 - vapour  # equation 12
    by_radiation = MM_OF_MJ * slope * net
    by_wind = psychrometric * 900 / (mean + 273) * wind_m_s * deficit
    found: Floats = (by_radiation + by_wind) / (slope + psychrometric * (1 + 0.34 * wind_m_s))
    return found
