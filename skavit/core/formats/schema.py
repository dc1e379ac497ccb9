"""The plan file as a JSON Schema (draft 2020-12), made from the words and bounds that the readers themselves use.

It describes shape and ranges; rules between keys (an id used twice, a limit before another) are the readers'.
"""

import json
from typing import Any

from skavit.core import clock_settings, days, limits, plan, values
from skavit.core.sun import DAY_S, SunEvent

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


def _defs() -> Schema:
    name = {"type": "string", "minLength": 1, "maxLength": 200}
    clock, day_rule = _ref("clockTime"), _ref("days")
    plain = {"anyOf": [clock, _text(SUN_PATTERN)]}
    weekdays = _list({"enum": list(days.WEEKDAYS)}, 1) | {"uniqueItems": True}
    dated = {"anyOf": [_text(MONTH_DAY_PATTERN), _text(DATE_PATTERN)]}
    identity = {"type": "string", "minLength": 1, "maxLength": 64}
    change = _object(
        {"month": _whole(1, 12), "week": _whole(1, 5), "weekday": {"enum": list(days.WEEKDAYS)}, "time": clock},
        ("month", "week", "weekday", "time"),
    )
    by_hand = clock_settings.MAX_BY_HAND_MIN
    return {
        "clockTime": _text(CLOCK_PATTERN),
        "time": {
            "anyOf": [
                plain,
                _object({"at": plain, "not_before": clock, "not_after": clock}, ("at",)),
            ]
        },
        "days": {
            "anyOf": [
                {"enum": list(days.NAMED)},
                weekdays,
                _object({"parity": {"enum": ["odd", "even"]}}, ("parity",)),
                _object({"every": _whole(1, days.MAX_INTERVAL_DAYS), "from": _text(DATE_PATTERN)}, ("every", "from")),
                _object({"dates": _list(dated, 1)}, ("dates",)),
                _object(
                    {
                        "days": day_rule,
                        "between": _list(_text(MONTH_DAY_PATTERN), 2) | {"maxItems": 2},
                        "except": _list(day_rule),
                    },
                    ("days",),
                ),
            ]
        },
        "window": _object(
            {
                "from": _ref("time"),
                "to": {"anyOf": [_ref("time"), {"const": "24:00"}]},
                "for_min": _whole(1, plan.MAX_FOR_MIN),
                "days": day_rule,
                "ends": {"enum": ["same-day", "next-day"]},
                "id": identity,
            },
            ("from",),
        )
        | {"oneOf": [{"required": ["to"]}, {"required": ["for_min"]}]},
        "entry": _object(
            {
                "channels": _list({"type": "integer", "minimum": 1}, 1) | {"uniqueItems": True},
                "action": {"enum": ["on", "off"]},
                "at": _ref("time"),
                "days": day_rule,
                "id": identity,
            },
            ("channels", "action", "at"),
        ),
        "dst": {
            "anyOf": [
                {"enum": list(clock_settings.NAMED_RULES)},
                _object(
                    {"from": change, "to": change, "shift_min": _whole(1, clock_settings.MAX_SHIFT_MIN)},
                    ("from", "to", "shift_min"),
                ),
                _object(
                    {
                        "changes": _list(
                            _object(
                                {"on": _text(MOMENT_PATTERN), "shift_min": _whole(-by_hand, by_hand)},
                                ("on", "shift_min"),
                            )
                        ),
                        "initial_min": _whole(-by_hand, by_hand),
                        "sun_follows": {"type": "boolean"},
                    },
                    ("changes",),
                ),
            ]
        },
        "limits": _limits(weekdays),
        "channel": _object({"name": name, "windows": _list(_ref("window")), "id": identity}, ("name",)),
        "site": _object(
            {
                "name": name,
                "latitude": _number(-90, 90),
                "longitude": _number(-180, 180),
                "timezone": {"type": "string"},
            },
            ("name", "latitude", "longitude", "timezone"),
        ),
        "unit": _object(
            {
                "clock": _clock(),
                "sun": _object({"source": {"enum": ["site", "none"]}}),
                "on_return_to_auto": {"enum": ["computes", "waits"]},
                "channel_mode": {"enum": ["independent"]},
                "holidays": _list(_object({"from": dated, "days": _whole(1, plan.MAX_HOLIDAY_DAYS)}, ("from", "days"))),
                "limits": _ref("limits"),
                "entries": _list(_ref("entry")),
            }
        ),
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


def _limits(weekdays: Schema) -> Schema:
    return _object(
        {
            "entries": _whole(0, limits.MAX_ENTRIES),
            "day_groups": _list({"anyOf": [{"enum": [*days.NAMED, "any", "single-days"]}, weekdays]}, 1),
            "clock_step_s": _whole(1, DAY_S),
            "sun_offset_max_min": _whole(0, values.MAX_OFFSET_MIN),
            "sun_events": _list({"enum": [event.name.lower() for event in SunEvent]}),
            "actions": _list({"enum": list(limits.ACTIONS)}, 1),
            "holidays": _whole(0, limits.MAX_ENTRIES),
            "holiday_days_max": _whole(0, 366),
            "limited_times": {"type": "boolean"},
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
        },
        ("format", "site", "channels"),
    )
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Skavit plan file, skavit-plan/1",
        **top,
        "$defs": _defs(),
    }


if __name__ == "__main__":
    print(json.dumps(plan_schema(), indent=2))
