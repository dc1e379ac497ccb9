"""What the calculators of watering answer."""

import math
from dataclasses import dataclass

import numpy as np

from skavit.calculators.watering_forms import CansForm, DayEt0Form, RateForm, SoakForm
from skavit.core.plan.times import day_number
from skavit.core.plan.water import Soil, Station
from skavit.core.text.quantities import depth_text, rate_text
from skavit.core.text.wording import Words
from skavit.core.water.et0 import Method, et0
from skavit.core.water.need import least_soak_min, longest_run_min, scheduling_multiplier
from skavit.core.water.rates import rate_by_area, rate_by_spacing
from skavit.core.water.weather import Weather

# What a soil's store is does not matter for how fast it takes water in.
_ANY_STORE = {"available_mm_m": 100.0, "root_m": 0.3, "depletion": 0.5}
HOW = {
    Method.PENMAN_MONTEITH: "By Penman-Monteith (FAO-56), from the sun and the air.",
    Method.HARGREAVES: "By Hargreaves-Samani, from the temperatures alone: good over weeks, rough for a day.",
}


def minutes_text(minutes: float) -> str:
    """Minutes as a run time is keyed."""
    return f"{minutes:.0f} min" if minutes >= 10 else f"{minutes:.1f} min"


@dataclass(frozen=True, slots=True, kw_only=True)
class RateAnswer:
    """How fast a station waters, and how long it must run."""

    rate: str
    minutes: str  # at perfect uniformity; empty where nothing is wanted
    by_du: str
    milder: str


def rate(form: RateForm, words: Words) -> RateAnswer:
    """The precipitation rate of a station, and the run time of a depth of water by both schools of uniformity."""
    data = form.cleaned_data
    if data["by"] == "grid":
        found = rate_by_spacing(data["flow"], data["spacing"], data["rows"])
    else:
        found = rate_by_area(data["flow"], data["area"])
    minutes = (data["need"] or 0.0) / found * 60
    du = (data["du"] or 100) / 100
    uneven = minutes > 0 and du < 1
    return RateAnswer(
        rate=rate_text(found),
        minutes=minutes_text(minutes) if minutes else "",
        by_du=minutes_text(minutes / du) if uneven else "",
        milder=minutes_text(minutes * scheduling_multiplier(du)) if uneven else "",
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class CansAnswer:
    """What cans say."""

    rate: str
    lower: str
    du: int
    cans: int
    by_du: str
    milder: str


def cans(form: CansForm, words: Words) -> CansAnswer:
    """Rate and uniformity, and by how much longer a station must run for it."""
    found = form.test
    return CansAnswer(
        rate=rate_text(found.rate_mm_h),
        lower=rate_text(found.lower_mm_h),
        du=round(found.du * 100),
        cans=found.cans,
        by_du=f"{1 / found.du:.2f}" if found.du else "",
        milder=f"{scheduling_multiplier(found.du):.2f}",
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class SoakAnswer:
    """How a run is split."""

    longest: str  # empty where no water stays on the surface
    soak: str
    cycles: int
    each: str
    apart: str  # from one start to the next


def soak(form: SoakForm, words: Words) -> SoakAnswer:
    """The longest run before water runs off, the soak after it, and the cycles of what is wanted."""
    data = form.cleaned_data
    soil = Soil(intake_mm_h=data["intake"], surface_mm=data["surface"], **_ANY_STORE)
    station = Station(name="-", flow_l_min=1.0, rate_mm_h=data["rate"], soil=soil)
    longest, rest = longest_run_min(station), least_soak_min(station)
    cycles = 1 if math.isinf(longest) else math.ceil(data["minutes"] / longest - 1e-9)
    each = data["minutes"] / cycles
    return SoakAnswer(
        longest="" if math.isinf(longest) else minutes_text(longest),
        soak=minutes_text(rest),
        cycles=cycles,
        each=minutes_text(each),
        apart=minutes_text(math.ceil(each + rest)),
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class Et0Answer:
    """A day's reference evapotranspiration."""

    depth: str
    how: str


def day_et0(form: DayEt0Form, words: Words) -> Et0Answer:
    """What grass that lacks nothing uses on a day."""
    data = form.cleaned_data
    typed = {
        "tmin_c": data["low"], "tmax_c": data["high"], "radiation_mj_m2": data["radiation"],
        "rh_min_pct": data["humid_low"], "rh_max_pct": data["humid_high"], "wind_m_s": data["wind"],
    }  # fmt: skip
    columns = {name: np.array([float(value)]) for name, value in typed.items() if value is not None}
    weather = Weather(days=np.array([day_number(data["date"])]), columns=columns)
    found = et0(weather, data["latitude"], data["altitude"] or 0.0)
    return Et0Answer(depth=depth_text(float(found.mm[0])), how=HOW[found.method])
