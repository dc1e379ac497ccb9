"""One soil-water balance a station over the dates of some weather, after chapter 8 of FAO Irrigation and Drainage Paper 56."""

from collections.abc import Iterable
from dataclasses import dataclass, replace

import numpy as np

from skavit.core.ground.arrays import DAY_S, Bools, Floats, Ints
from skavit.core.ground.errors import PlanError
from skavit.core.plan.days import Calendar
from skavit.core.plan.document import Plan
from skavit.core.plan.times import day_of
from skavit.core.plan.water import MONTHS, Climate, Station, Water
from skavit.core.simulation.replay import replay
from skavit.core.water.et0 import et0
from skavit.core.water.stack import Stack, stack
from skavit.core.water.weather import Weather

SETTLING_DAYS = 30
SLACK_MM = 1e-9  # sums of decimal millimetres differ by less: a soil that is used up exactly is not dry
SMALL_RAIN = 0.2  # rain of up to this share of the day's ET0 is left out (FAO-56 chapter 8, "Precipitation")


@dataclass(frozen=True, slots=True, kw_only=True)
class Season:
    """What became of the water, in mm; arrays of shape (dates, stations)."""

    days: Ints  # (dates,)
    irrigation: Floats
    rain: Floats  # (dates,), that counts
    crop_need: Floats  # ETc
    drainage: Floats
    depletion: Floats  # at each date's end
    ready: Floats  # (stations,), RAW

    @property
    def months(self) -> Ints:
        """Of each date, 0 for January."""
        return months_of(self.days)

    @property
    def dry(self) -> Bools:
        """Which stations end which dates with less water than keeps their plants well."""
        return self.depletion > self.ready + SLACK_MM

    @property
    def settled_dry(self) -> Bools:
        """The same without the first dates, which hang on how full the soil began."""
        found = self.dry
        found[:SETTLING_DAYS] = False
        return found


def months_of(days: Ints) -> Ints:
    """The month of each date, 0 for January."""
    return Calendar(days).month_day // 100 - 1


def needs_of(water: Water) -> None:
    """Refuse stations of which the plants' need is not known; raises :class:`PlanError`."""
    for place, station in enumerate(water.stations):
        for name in ("crop", "soil"):
            if getattr(station, name) is None:
                raise PlanError(f"water.stations[{place}].{name}", "is missing", "what the plants of each station need")
        if station.rate is None:
            raise PlanError(f"water.stations[{place}].rate_mm_h", "is missing", "rate_mm_h, or area_m2 beside the flow")


def irrigation_mm(found: Stack, numbers: Iterable[int] | None = None) -> Floats:
    """What each station's runs bring to the driest quarter, whole on the local date on which each begins.

    ``numbers`` (from 0; left out: all) are the stations. Shape (dates of the range, stations). Counts the part of a run
    inside the range, and of a run that begins while its valve is open the part after that.
    """
    run = found.run
    asked = list(range(len(found.water.stations)) if numbers is None else numbers)
    result = np.zeros((run.last - run.first + 1, len(asked)))
    for column, number in enumerate(asked):
        station = found.water.stations[number]
        own = found.runs.of_station(number)
        if not own.on.size:
            continue
        open_until = np.concatenate([[run.start], np.maximum.accumulate(own.off)[:-1]])
        # Runs of a cycle that began before the range may have ended before it.
        on = np.maximum(np.maximum(own.on, open_until), run.start)
        off = np.minimum(own.off, run.end)
        on, off = on[on < off], off[on < off]
        row = run.site_clock.digits(on) // DAY_S - run.first
        millimetres = (off - on) / 3600 * _rate(station) * station.du
        result[:, column] = np.bincount(row, weights=millimetres, minlength=len(result))
    return result


def _rate(station: Station) -> float:
    assert station.rate is not None
    return station.rate


def season_of(plan: Plan, weather: Weather, altitude_m: float = 0.0) -> Season:
    """The season that a plan's programs make of some weather.

    Raises :class:`PlanError` for a plan without water, or a station of which the need is not known, and
    :class:`RangeError` for too long a time.
    """
    if plan.water is None:
        raise PlanError("water", "is missing", "a plan with water")
    needs_of(plan.water)
    found = stack(replay(plan, day_of(int(weather.days[0])), day_of(int(weather.days[-1]))))
    assert found is not None
    need = et0(weather, plan.site.latitude, altitude_m).mm
    return season(plan.water, irrigation_mm(found), weather.days, need, weather.rain_mm)


def counted_rain(rain_mm: Floats, et0_mm: Floats) -> Floats:
    """Rain that wets more than leaves: whole where it is above :data:`SMALL_RAIN` of the day's ET0, else nothing."""
    found: Floats = np.where(rain_mm > SMALL_RAIN * et0_mm, rain_mm, 0.0)
    return found


def potential_mm(water: Water, days: Ints, et0_mm: Floats) -> Floats:
    """What plants that lack nothing use on each date; shape (dates, stations)."""
    crops = np.array([[station.crop_in(month) for station in water.stations] for month in range(MONTHS)])
    found: Floats = crops.reshape(MONTHS, -1)[months_of(days)] * et0_mm[:, None]
    return found


def average_season(found: Stack, climate: Climate, only: int | None = None) -> Season:
    """The balance over a replay's dates in the average year: each date has its month's mean.

    ``only`` (from 0): of one station alone. Raises :class:`PlanError` for a station of which the need is not known.
    """
    days = np.arange(found.run.first, found.run.last + 1)
    months = months_of(days)
    et0_mm, rain_mm = np.array(climate.et0_mm_day)[months], np.array(climate.rain_mm_day)[months]
    if only is None:
        return season(found.water, irrigation_mm(found), days, et0_mm, rain_mm)
    alone = replace(found.water, stations=(found.water.stations[only],))
    return season(alone, irrigation_mm(found, [only]), days, et0_mm, rain_mm)


def season(water: Water, irrigation: Floats, days: Ints, et0_mm: Floats, rain_mm: Floats) -> Season:
    """The balance of each station, starting full on the first date.

    ``irrigation`` of shape (dates, stations), the rest of shape (dates,). Raises :class:`PlanError` for a station
    of which the need is not known. Equations 82 to 85 of FAO-56, without the depth of the layers of a table: D is one store.
    """
    needs_of(water)
    soils = [station.soil for station in water.stations]
    total = np.array([soil.total_mm for soil in soils if soil])
    ready = np.array([soil.ready_mm for soil in soils if soil])
    potential, rain = potential_mm(water, days, et0_mm), counted_rain(rain_mm, et0_mm)
    shape = irrigation.shape
    need, drainage, depletion = np.zeros(shape), np.zeros(shape), np.zeros(shape)
    gain = irrigation + rain[:, None]
    # p may be 1: then nothing lies between RAW and TAW, and the plants never feel it before there is nothing left.
    stressed = np.where(total > ready, total - ready, 1.0)
    now = np.zeros(len(soils))
    for row in range(len(days)):
        stress = np.where(now <= ready, 1.0, (total - now) / stressed)  # equation 84
        need[row] = potential[row] * stress
        after = now - gain[row] + need[row]  # equation 85
        drainage[row] = np.maximum(-after, 0)
        now = depletion[row] = np.minimum(np.maximum(after, 0), total)
    return Season(
        days=days,
        irrigation=irrigation,
        rain=rain,
        crop_need=need,
        drainage=drainage,
        depletion=depletion,
        ready=ready,
    )
