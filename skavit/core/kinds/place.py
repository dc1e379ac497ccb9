"""The place that a unit of a kind can be told: the nearest of its list, its table or its steps."""

import math
from dataclasses import replace

import numpy as np

from skavit.core.ground.errors import PlanError
from skavit.core.kinds.fields import degrees_word, utc_word
from skavit.core.kinds.kind import Kind
from skavit.core.kinds.parts import Region
from skavit.core.plan.document import Plan, Site
from skavit.core.plan.edits import set_sun
from skavit.core.plan.sun_settings import SunSettings
from skavit.core.plan.trade import trades
from skavit.core.site.almanac import unit_almanac
from skavit.core.site.clock import UnitClock, standard_offset_s
from skavit.core.sun import SunEvent

# When a garden light's eye usually switches, and how long it waits so that a passing lamp does not: common practice,
# no source.
USUAL_PHOTOCELL = SunSettings(source="photocell", altitude_deg=-3.0, delay_min=1)


def place_for(kind: Kind, site: Site, sun: SunSettings) -> SunSettings:
    """The sun settings of a unit of this kind at a site, told what ``sun`` says as nearly as it can be."""
    latitude = site.latitude if sun.latitude is None else sun.latitude
    longitude = site.longitude if sun.longitude is None else sun.longitude
    if kind.sun.meaning == "light":
        return sun if sun.is_photocell else USUAL_PHOTOCELL
    if kind.sun.place == "none":
        return sun
    if kind.sun.place == "table":
        nearest = min(kind.sun.latitudes, key=lambda degrees: abs(degrees - latitude))
        return SunSettings(source="table", latitude=nearest, adjust=sun.adjust, skips_without_sun=sun.skips_without_sun)
    if kind.sun.place == "region":
        region = _nearest(kind, latitude, longitude)
        latitude, longitude = region.latitude, region.longitude
    else:
        step = kind.sun.step_deg
        latitude, longitude = round(latitude / step) * step, round(longitude / step) * step
    told = sun if sun.source in ("site", "coordinates") else SunSettings(adjust=sun.adjust)
    return replace(told, source="coordinates", latitude=latitude, longitude=longitude)


def _nearest(kind: Kind, latitude: float, longitude: float) -> Region:
    def away(region: Region) -> float:
        east = (region.longitude - longitude + 180) % 360 - 180
        return math.hypot(region.latitude - latitude, east * math.cos(math.radians(latitude)))

    return min(kind.sun.regions, key=away)


def place_values(kind: Kind, site: Site, sun: SunSettings, year: int) -> tuple[dict[str, str], str]:
    """What is keyed for the place, by field, and what to say of it."""
    told = place_for(kind, site, sun)
    latitude, longitude = told.latitude or 0.0, told.longitude or 0.0
    if kind.sun.place == "region":
        return {"region": _nearest(kind, latitude, longitude).name}, "The region of its list that is nearest."
    if kind.sun.place == "table":
        return {"table": degrees_word(latitude, "latitude")}, "The latitude of its table that is nearest."
    standard = standard_offset_s(site.timezone, year) // 60
    values = {
        "latitude": degrees_word(latitude, "latitude"),
        "longitude": degrees_word(longitude, "longitude"),
        "utc": utc_word(standard if told.utc_offset_min is None else told.utc_offset_min),
    }
    return values, "Look at N and S, E and W. The zone is that of standard time, without daylight saving."


def plan_for_kind(plan: Plan, kind: Kind) -> Plan:
    """The plan for a unit of a kind: its limits, its way back to automatic, and its sun as the kind takes it.

    Windows, entries, stations, programs, set points and the clock stay as they are; corrections go where the sun table is
    another's. Raises :class:`PlanError` where an entry cannot go with its sun, or the plan is of a unit that waters or holds
    temperatures and the kind is not, or the other way about.
    """
    plan = _of_its_trade(plan, kind)
    unit = replace(plan.unit, limits=kind.plan_limits, contact=kind.contact)
    if kind.modes:
        unit = replace(unit, on_return_to_auto=kind.modes.returns)
    told, channels = place_for(kind, plan.site, plan.unit.sun), plan.channels
    if _place(told) != _place(plan.unit.sun):
        # A correction is keyed for one table: another's has its own.
        told = replace(told, adjust=None)
        channels = tuple(replace(channel, adjust=None) for channel in channels)
    return set_sun(replace(plan, unit=unit, channels=channels), told)


def _of_its_trade(plan: Plan, kind: Kind) -> Plan:
    """The plan as one of a kind's trade; a unit that switches nothing yet may become any."""
    there, wanted = plan.trade, kind.trade
    if there is not wanted:
        if there is not trades()[-1]:
            raise PlanError(there.key, f"this unit {there.does}", f"a kind that {there.does}")
        if plan.unit.all_entries or any(channel.windows for channel in plan.channels):
            accepted = f"a kind that switches, or a new unit for {wanted.work}"
            raise PlanError("channels", "this unit switches outputs", accepted)
    return wanted.for_kind(plan, kind)


def _place(sun: SunSettings) -> tuple[object, ...]:
    return sun.source, sun.latitude, sun.longitude, sun.altitude_deg


def sun_pair(kind: Kind | None) -> tuple[SunEvent, SunEvent]:
    """The events that a unit's two sun words stand for; sunrise and sunset without a kind."""
    listed = kind.sun_events if kind else ()
    morning = next((event for event in listed if event.morning), SunEvent.SUNRISE)
    return morning, next((event for event in listed if not event.morning), SunEvent.SUNSET)


def sun_shown(kind: Kind | None, site: Site, sun: SunSettings, clock: UnitClock, day: int) -> list[int | None]:
    """The digits that a unit shows for its two sun words on a day, by its own place and margin, without correction.

    None where that day has no such event.
    """
    book = unit_almanac(site, place_for(kind, site, sun) if kind else sun, day, day)
    row = book.rows(day, day).start
    margin = kind.margin_min * 60 if kind else 0
    found: list[int | None] = []
    for event in sun_pair(kind):
        if not book.sun.crosses[event, row]:
            found.append(None)
            continue
        digits = int(clock.sun.digits(np.array([book.sun.times[event, row]]))[0])
        found.append(digits - margin if event.morning else digits + margin)
    return found
