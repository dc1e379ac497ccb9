"""Results as plain JSON values, times as ISO 8601 in the site's local time with its UTC offset."""

import json
import math
from collections.abc import Callable, Iterable, Iterator
from typing import Any

import numpy as np

from skavit.core.causes import Causes, cause_text, check_text
from skavit.core.findings import Finding
from skavit.core.fitting import Fit, Other
from skavit.core.ground.arrays import DAY_S, Ints
from skavit.core.ground.spans import EMPTY, Spans
from skavit.core.heat.fitting import HeatFit
from skavit.core.heat.targets import Targets, Warmed
from skavit.core.plan.document import Plan
from skavit.core.plan.sun_settings import Adjust
from skavit.core.plan.times import day_of
from skavit.core.plan.water import Station
from skavit.core.repair import Repair, edit_text
from skavit.core.simulation.handover import ChannelHandover
from skavit.core.simulation.replay import Replay
from skavit.core.site.clock import WallClock, zone_clock
from skavit.core.site.sun_table import TableReading
from skavit.core.text.wording import PLAIN
from skavit.core.water.et0 import Et0
from skavit.core.water.fitting import WaterFit
from skavit.core.water.soil import Season
from skavit.core.water.stack import Stack
from skavit.core.water.weather import Weather
from skavit.core.water.weather_fit import WeatherFit

ITEMS_A_PART = 50_000
PLACE_KEYS = ("latitude", "longitude", "latitude_pm", "longitude_pm")


def iso(instants: Ints, clock: WallClock) -> list[str]:
    """The instants as local times with their UTC offset."""
    offsets = clock.offset(instants)
    digits = np.datetime_as_string((instants + offsets).astype("datetime64[s]"))
    each, which = np.unique(offsets, return_inverse=True)
    texts = np.array([_offset_text(int(offset)) for offset in each], dtype=np.str_)
    found: list[str] = np.char.add(digits, texts[which]).tolist() if instants.size else []
    return found


def _offset_text(seconds: int) -> str:
    hours, rest = divmod(abs(seconds), 3600)
    minutes, left = divmod(rest, 60)
    return f"{'-' if seconds < 0 else '+'}{hours:02d}:{minutes:02d}" + (f":{left:02d}" if left else "")


def _in_parts(length: int, texts: Callable[[slice], Iterable[str]]) -> Iterator[str]:
    """Yield a JSON list of so many items a part at a time; ``texts`` gives the items of a part."""
    yield "["
    for low in range(0, length, ITEMS_A_PART):
        listed = ", ".join(texts(slice(low, low + ITEMS_A_PART)))
        yield f", {listed}" if low else listed
    yield "]"


def _pairs(spans: Spans, clock: WallClock) -> Iterator[str]:
    """Yield spans as the text of a list of [on, off]."""

    def texts(part: slice) -> Iterator[str]:
        on, off = (iso(instants[part], clock) for instants in (spans.on, spans.off))
        return (f'["{a}", "{b}"]' for a, b in zip(on, off, strict=True))

    return _in_parts(len(spans), texts)


def _targets(found: Targets, clock: WallClock) -> Iterator[str]:
    """Yield targets as the text of a list of [instant, degrees or null]."""

    def texts(part: slice) -> Iterator[str]:
        degrees = ("null" if math.isnan(c) else json.dumps(c) for c in found.c[part].tolist())
        return (f'["{at}", {c}]' for at, c in zip(iso(found.at[part], clock), degrees, strict=True))

    return _in_parts(found.at.size, texts)


def zones_text(found: Warmed | None) -> Iterator[str]:
    """Yield what ``replay`` prints of zones, a part at a time, without the list's brackets."""
    for index, each in enumerate(found.zones if found else ()):
        assert found is not None
        clock = found.run.site_clock
        name = json.dumps(each.zone.name, ensure_ascii=False)
        yield f'{", " if index else ""}{{"name": {name}, "wanted": '
        yield from _targets(each.wanted, clock)
        yield ', "actual": '
        yield from _targets(each.actual, clock)
        sums = {name: getattr(each, name) for name in ("too_warm_kh", "too_cold_kh", "off_h")}
        yield f", {json.dumps(sums)[1:-1]}}}"


def replay_text(result: Replay, water: Stack | None, heat: Warmed | None = None) -> Iterator[str]:
    """What ``replay`` prints, a part at a time: a year may hold two million pulses."""
    yield '{"channels": ['
    for index, channel in enumerate(result.channels):
        name = json.dumps(channel.name, ensure_ascii=False)
        yield f'{", " if index else ""}{{"name": {name}, "wanted": '
        yield from _pairs(channel.wanted, result.site_clock)
        yield ', "actual": '
        yield from _pairs(channel.actual, result.site_clock)
        yield f', "extra_h": {json.dumps(channel.extra_h)}, "missing_h": {json.dumps(channel.missing_h)}}}'
    yield '], "stations": ['
    for index, station in enumerate(water.water.stations if water else ()):
        assert water is not None
        name = json.dumps(station.name, ensure_ascii=False)
        yield f'{", " if index else ""}{{"name": {name}, "runs": '
        yield from _pairs(water.stations[index], result.site_clock)
        yield f', "litres": {json.dumps(water.litres(index))}}}'
    yield '], "master_valve": '
    yield from _pairs(water.master_valve if water else EMPTY, result.site_clock)
    yield ', "zones": ['
    yield from zones_text(heat)
    yield "]}"


def et0_json(weather: Weather, found: Et0) -> dict[str, Any]:
    """What ``et0`` prints."""
    return {
        "days": [
            {"date": day_of(day).isoformat(), "et0_mm": mm, "method": found.method.value}
            for day, mm in zip(weather.days.tolist(), found.mm.tolist(), strict=True)
        ]
    }


def season_json(found: Season, stations: Iterable[Station]) -> dict[str, Any]:
    """What ``season`` prints."""
    return {
        "stations": [
            {
                "name": station.name,
                "irrigation_mm": float(found.irrigation[:, number].sum()),
                "rain_mm": float(found.rain.sum()),
                "etc_mm": float(found.crop_need[:, number].sum()),
                "drainage_mm": float(found.drainage[:, number].sum()),
                "dry_days": int(found.dry[:, number].sum()),
                "depletion_mm": found.depletion[:, number].tolist(),
            }
            for number, station in enumerate(stations)
        ]
    }


def finding_json(finding: Finding) -> dict[str, Any]:
    """One finding of what ``audit`` prints."""
    return {
        "code": finding.code,
        "severity": finding.severity.value,
        "channel": finding.channel,
        "first": finding.first.isoformat(),
        "last": finding.last.isoformat(),
        "days": finding.days,
        "hours": finding.hours,
        "message": finding.message,
        "remedy": finding.remedy.label if finding.remedy else None,
    }


def audit_json(findings: Iterable[Finding]) -> dict[str, Any]:
    """What ``audit`` prints."""
    return {"findings": [finding_json(finding) for finding in findings]}


def water_years_json(result: WeatherFit) -> dict[str, Any]:
    """How stations fare over the years of some weather, as ``fit --weather`` prints it."""
    stations = [
        {
            "name": one.name,
            "dry_days_a_year": round(one.dry_days_a_year, 2),
            "worst_year": one.worst_year,
            "worst_year_dry_days": one.worst_year_dry_days,
            "irrigation_mm_a_year": round(one.irrigation_mm_a_year, 1),
            "litres_a_year": round(one.litres_a_year, 1),
        }
        for one in result.stations
    ]
    return {"years": round(result.years, 2), "stations": stations}


def water_fit_json(result: WaterFit) -> list[dict[str, Any]]:
    """What a fit of water could not hold, as ``fit`` prints it; ``station`` is its number, or null for the unit."""
    return [
        {
            "channel": None,
            "station": loss.station,
            "reason": loss.reason,
            "first": loss.first.isoformat(),
            "last": loss.last.isoformat(),
            "hours_a_year": 0.0,
            "nearest": loss.nearest,
        }
        for loss in result.losses
    ]


def heat_fit_json(result: HeatFit) -> list[dict[str, Any]]:
    """What a fit of set points could not hold, as ``fit`` prints it; ``zone`` is its number."""
    return [
        {
            "channel": None,
            "zone": loss.zone,
            "reason": loss.reason,
            "first": loss.first.isoformat(),
            "last": loss.last.isoformat(),
            "hours_a_year": 0.0,
            "too_warm_kh": loss.too_warm_kh,
            "too_cold_kh": loss.too_cold_kh,
            "nearest": loss.nearest,
        }
        for loss in result.losses
    ]


def seasons_json(result: Other) -> dict[str, Any]:
    """A program for each part of the year, as ``fit`` prints it beside the one for the whole."""
    return {"plan": result.plan.to_json(), "hours_a_year": result.hours_a_year}


def fit_json(result: Fit) -> dict[str, Any]:
    """What ``fit`` prints."""
    return {
        "plan": result.plan.to_json(),
        "fit": [
            {
                "channel": loss.channel,
                "reason": loss.reason,
                "first": loss.first.isoformat(),
                "last": loss.last.isoformat(),
                "hours_a_year": loss.hours_a_year,
                "nearest": loss.nearest,
            }
            for loss in result.losses
        ],
    }


def repair_json(found: Repair) -> dict[str, Any]:
    """What ``repair`` prints; slots from 1, of the set of entries that is changed."""
    sets = found.before.unit.sets
    return {
        "edits": [
            {
                "does": step.edit.does,
                "slot": None if step.edit.slot is None else step.edit.slot + 1,
                "hours": step.hours,
                "text": edit_text(step.edit, sets[step.keying], PLAIN),
            }
            for step in found.steps
        ],
        "plan": found.plan.to_json(),
        "before_h": found.before_h,
        "left_h": found.left_h,
    }


def causes_json(found: Causes) -> dict[str, Any]:
    """What ``causes`` prints; slots from 1."""
    return {
        "causes": [
            {
                "cause": likely.fault.cause.value,
                "slot": likely.fault.slot,
                "explains": likely.explains,
                "of": len(found.looked.looks),
                "text": cause_text(likely.fault, found.plan, PLAIN),
                "check": check_text(likely, found.plan, PLAIN),
            }
            for likely in found.likely
        ],
        "pairs": [
            {
                "causes": [one.fault.cause.value for one in (pair.first, pair.second)],
                "slots": [one.fault.slot for one in (pair.first, pair.second)],
                "explains": pair.explains,
                "of": len(found.looked.looks),
                "texts": [cause_text(one.fault, found.plan, PLAIN) for one in (pair.first, pair.second)],
                "checks": [check_text(one, found.plan, PLAIN) for one in (pair.first, pair.second)],
            }
            for pair in found.pairs
        ],
    }


def handover_json(channels: Iterable[ChannelHandover], plan: Plan) -> dict[str, Any]:
    """What ``handover`` prints; entries by their slots from 1, in the set that the unit holds then."""
    years = [day_of(s.instant // DAY_S).year for channel in channels for s in channel.next]
    clock = zone_clock(plan.site.timezone, min(years, default=2000) - 1, max(years, default=2000) + 1)
    return {
        "channels": [
            {
                "name": channel.name,
                "wanted": "on" if channel.wanted else "off",
                "program": "on" if channel.program else "off",
                "leave_in": channel.leave_in,
                "next": [
                    {
                        "at": iso(np.array([switching.instant]), clock)[0],
                        "action": "on" if switching.on else "off",
                        "entry": switching.slot,
                    }
                    for switching in channel.next
                ],
            }
            for channel in channels
        ]
    }


def reading_json(found: TableReading) -> dict[str, Any]:
    """What ``reading`` prints; what hangs on the place is null where no place fits."""
    place, errors = found.place, found.errors

    def worst(correction: Adjust) -> dict[str, float] | None:
        pair = errors.worst(correction) if errors else None
        return {"sunrise": round(pair[0], 2), "sunset": round(pair[1], 2)} if pair else None

    best = errors.best if errors else None
    return {
        "correction": found.correction.to_json(),
        "place": {key: round(getattr(place, key), 4) for key in PLACE_KEYS} if place else None,
        "best_correction": best.to_json() if best else None,
        "worst_min_today": worst(found.correction),
        "worst_min_best": worst(best) if best else None,
    }
