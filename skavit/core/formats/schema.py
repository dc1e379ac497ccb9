"""The plan file as a JSON Schema (draft 2020-12), made from the words and bounds that the readers themselves use.

It describes shape and ranges; rules between keys (an id used twice, a limit before another) are the readers'.
"""

import json
import sys
from typing import Any

from skavit.core.ground.arrays import DAY_S
from skavit.core.kinds import kind
from skavit.core.kinds.kind import RECORDS, Kind
from skavit.core.plan import clock_settings, days, entry, holidays, limits, overrides, sun_settings, window
from skavit.core.plan import document as plan
from skavit.core.plan import times as values
from skavit.core.sun.days import SunEvent

Schema = dict[str, Any]

CLOCK_PATTERN = "^([01][0-9]|2[0-3]):[0-5][0-9](:[0-5][0-9])?$"
SUN_PATTERN = "^(dawn|sunrise|sunset|dusk)([+-][0-9]{1,3})?$"
MONTH_DAY_PATTERN = "^[0-9]{2}-[0-9]{2}$"
DATE_PATTERN = "^[0-9]{4}-[0-9]{2}-[0-9]{2}$"
MOMENT_PATTERN = "^[0-9]{4}-[0-9]{2}-[0-9]{2}T[0-9]{2}:[0-9]{2}(:[0-9]{2})?$"


def _object(properties: Schema, required: tuple[str, ...] = ()) -> Schema:
    found: Schema = {"type": "object", "properties": properties, "additionalProperties": False}
    return found | ({"required": list(required)} if required else {})


def _text(pattern: str) -> Schema:
    return {"type": "string", "pattern": pattern}


def _whole(low: int, high: int) -> Schema:
    return {"type": "integer", "minimum": low, "maximum": high}


def _number(low: float, high: float) -> Schema:
    return {"type": "number", "minimum": low, "maximum": high}


def _list(items: Schema, least: int = 0) -> Schema:
    return {"type": "array", "items": items, "minItems": least, "maxItems": 10_000}


def _ref(name: str) -> Schema:
    return {"$ref": f"#/$defs/{name}"}


NAME: Schema = {"type": "string", "minLength": 1, "maxLength": 200}
IDENTITY: Schema = {"type": "string", "minLength": 1, "maxLength": 64}
WEEKDAYS: Schema = _list({"enum": list(days.WEEKDAYS)}, 1) | {"uniqueItems": True}
DATED: Schema = {"anyOf": [_text(MONTH_DAY_PATTERN), _text(DATE_PATTERN)]}


def _times() -> Schema:
    clock = _ref("clockTime")
    plain = {"anyOf": [clock, _text(SUN_PATTERN)]}
    limited = _object({"at": plain, "not_before": clock, "not_after": clock}, ("at",))
    return {"clockTime": _text(CLOCK_PATTERN), "time": {"anyOf": [plain, limited]}}


def _days() -> Schema:
    every = {"every": _whole(1, days.MAX_INTERVAL_DAYS), "from": _text(DATE_PATTERN)}
    narrowed = {
        "days": _ref("days"),
        "between": _list(_text(MONTH_DAY_PATTERN), 2) | {"maxItems": 2},
        "except": _list(_ref("days")),
    }
    return {
        "anyOf": [
            {"enum": list(days.NAMED)},
            WEEKDAYS,
            _object({"parity": {"enum": ["odd", "even"]}}, ("parity",)),
            _object(every, ("every", "from")),
            _object({"dates": _list(DATED, 1)}, ("dates",)),
            _object(narrowed, ("days",)),
        ]
    }


def _window() -> Schema:
    found = _object(
        {
            "from": _ref("time"),
            "to": {"anyOf": [_ref("time"), {"const": "24:00"}]},
            "for_min": _whole(1, window.MAX_FOR_MIN),
            "days": _ref("days"),
            "ends": {"enum": ["same-day", "next-day"]},
            "repeat": _object(
                {"on_s": _whole(1, window.MAX_CYCLE_S), "every_s": _whole(2, window.MAX_CYCLE_S)}, ("on_s", "every_s")
            ),
            "id": IDENTITY,
        },
        ("from",),
    )
    return found | {"oneOf": [{"required": ["to"]}, {"required": ["for_min"]}]}


def _entry() -> Schema:
    return _object(
        {
            "channels": _list({"type": "integer", "minimum": 1}, 1) | {"uniqueItems": True},
            "action": {"enum": ["on", "off", "pulse"]},
            "seconds": _whole(1, entry.MAX_PULSE_S),
            "at": _ref("time"),
            "days": _ref("days"),
            "repeat": _object(
                {
                    "on_s": _whole(1, entry.MAX_PAUSE_S),
                    "off_s": _whole(1, entry.MAX_PAUSE_S),
                    "until": _ref("clockTime"),
                },
                ("on_s", "off_s", "until"),
            ),
            "id": IDENTITY,
        },
        ("channels", "action", "at"),
    )


def _overrides() -> Schema:
    minutes = _number(overrides.LEAST_S / 60, overrides.MAX_TIMER_MIN)
    settings = (
        {"enum": list(overrides.MODES)},
        _object({"boost_min": minutes}, ("boost_min",)),
        _object({"countdown_min": minutes, "then": {"enum": ["on", "off"]}}, ("countdown_min", "then")),
        _object({"holiday_days": _whole(1, overrides.MAX_HOLIDAY_DAYS)}, ("holiday_days",)),
        _object({"power_cut_h": _number(overrides.LEAST_S / 3600, overrides.MAX_CUT_H)}, ("power_cut_h",)),
        _object({"clock_set": {"const": True}}, ("clock_set",)),
    )
    channel = {"type": "integer", "minimum": 1}
    return _list(
        _object({"at": _text(MOMENT_PATTERN), "channel": channel, "set": {"anyOf": list(settings)}}, ("at", "set"))
    )


def _rules() -> Schema:
    names = ("month", "week", "weekday", "time")
    weekday = {"enum": list(days.WEEKDAYS)}
    change = _object(
        {"month": _whole(1, 12), "week": _whole(1, 5), "weekday": weekday, "time": _ref("clockTime")}, names
    )
    own = {"from": change, "to": change, "shift_min": _whole(1, clock_settings.MAX_SHIFT_MIN)}
    ahead = _whole(-clock_settings.MAX_BY_HAND_MIN, clock_settings.MAX_BY_HAND_MIN)
    by_hand = {
        "changes": _list(_object({"on": _text(MOMENT_PATTERN), "shift_min": ahead}, ("on", "shift_min"))),
        "initial_min": ahead,
        "sun_follows": {"type": "boolean"},
    }
    return {
        "anyOf": [
            {"enum": list(clock_settings.NAMED_RULES)},
            _object(own, ("from", "to", "shift_min")),
            _object(by_hand, ("changes",)),
        ]
    }


def _adjust() -> Schema:
    minutes = _whole(-values.MAX_OFFSET_MIN, values.MAX_OFFSET_MIN)
    return _object({"sunrise_min": minutes, "sunset_min": minutes})


def _sun() -> Schema:
    offset = sun_settings.MAX_UTC_OFFSET_MIN
    keys = {
        "source": {"enum": list(sun_settings.SOURCES)},
        "latitude": _number(-90, 90),
        "longitude": _number(-180, 180),
        "altitude_deg": _number(*sun_settings.PHOTOCELL_ALTITUDES_DEG),
        "delay_min": _whole(0, values.MAX_OFFSET_MIN),
        "adjust": _adjust(),
        "utc_offset_min": _whole(-offset, offset),
        "when_no_sun": {"enum": ["limit", "skip"]},
    }
    return _object(keys) | {
        "allOf": [
            {
                "if": {"properties": {"source": {"const": source}}, "required": ["source"]},
                "then": {"required": list(required)},
            }
            for source, required in sun_settings.REQUIRED.items()
        ]
    }


def _unit() -> Schema:
    holiday = _object({"from": DATED, "days": _whole(1, holidays.MAX_HOLIDAY_DAYS)}, ("from", "days"))
    return _object(
        {
            "clock": _clock(),
            "sun": _sun(),
            "on_return_to_auto": {"enum": ["computes", "waits"]},
            "channel_mode": {"enum": list(plan.CHANNEL_MODES)},
            "operating": {"enum": list(plan.OPERATING)},
            "pulse_s": _whole(1, entry.MAX_PULSE_S),
            "reserve_h": _number(0, plan.MAX_RESERVE_H),
            "holidays": _list(holiday),
            "limits": _ref("limits"),
            "entries": _list(_ref("entry")),
            "keyings": _list(
                _object({"from": DATED, "name": NAME, "entries": _list(_ref("entry"))}, ("from", "entries"))
            ),
        }
    )


def _site() -> Schema:
    keys = {
        "name": NAME,
        "latitude": _number(-90, 90),
        "longitude": _number(-180, 180),
        "timezone": {"type": "string"},
    }
    return _object(keys, tuple(keys))


def _defs() -> Schema:
    return {
        **_times(),
        "days": _days(),
        "window": _window(),
        "entry": _entry(),
        "dst": _rules(),
        "limits": _limits(),
        "channel": _object(
            {"name": NAME, "windows": _list(_ref("window")), "adjust": _adjust(), "id": IDENTITY}, ("name",)
        ),
        "site": _site(),
        "unit": _unit(),
    }


def _clock() -> Schema:
    error, drift = clock_settings.MAX_ERROR_S, clock_settings.MAX_DRIFT_S_PER_DAY
    found = _object(
        {
            "dst": _ref("dst"),
            "error_s": _number(-error, error),
            "fast_s_per_day": _number(-drift, drift),
            "set_on": _text(MOMENT_PATTERN),
        }
    )
    return found | {"dependentRequired": {"fast_s_per_day": ["set_on"]}}


def _limits() -> Schema:
    return _object(
        {
            "entries": _whole(0, limits.MAX_ENTRIES),
            "slots": _list(limits.BANKS.schema(limits.Bank), 1),
            "day_groups": _list({"anyOf": [{"enum": [*days.NAMED, "any", "single-days"]}, WEEKDAYS]}, 1),
            "clock_step_s": _whole(1, DAY_S),
            "sun_offset_max_min": _whole(0, values.MAX_OFFSET_MIN),
            "sun_events": _list({"enum": [event.name.lower() for event in SunEvent]}),
            "actions": _list({"enum": list(limits.ACTIONS)}, 1),
            "holidays": _whole(0, limits.MAX_ENTRIES),
            "holiday_days_max": _whole(0, 366),
            "limited_times": {"type": "boolean"},
            "offset_by": {"enum": ["entry", "correction"]},
        }
    )


def plan_schema() -> Schema:
    """The JSON Schema of the plan file as this release reads it."""
    top = _object(
        {
            "format": {"const": plan.FORMAT},
            "site": _ref("site"),
            "unit": _ref("unit"),
            "channels": _list(_ref("channel"), 1),
            "overrides": _overrides(),
        },
        ("format", "site", "channels"),
    )
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Skavit plan file, skavit-plan/1",
        **top,
        "$defs": _defs(),
    }


def kind_schema() -> Schema:
    """The JSON Schema of the file of a kind of unit."""
    found = RECORDS.schema(Kind)
    found["properties"] = {"format": {"const": kind.FORMAT}, **found["properties"]}
    found["required"] = ["format", *found["required"]]
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Skavit kind of unit, skavit-kind/1",
        **found,
        "$defs": _defs(),
    }


if __name__ == "__main__":
    print(json.dumps(kind_schema() if sys.argv[1:] == ["kind"] else plan_schema(), indent=2))
