"""The heating units of the demo: rooms, hours and figures are invented."""

from typing import Any

Row = dict[str, Any]


def _at(days: Any, *points: tuple[str, float]) -> list[Row]:
    return [{"days": days, "at": at, "c": c} for at, c in points]


# A thermostat whose weekends nobody keyed, and which somebody put on holiday with today counted.
READING_ROOM: Row = {
    "frost_c": 8,
    "zones": [
        {
            "name": "Reading room",
            "wanted": [
                *_at("weekdays", ("08:30", 20.5), ("12:30", 19), ("13:30", 20.5), ("17:40", 14)),
                *_at("weekends", ("10:00", 20), ("16:00", 14)),
            ],
            "keyed": _at("weekdays", ("08:30", 20.5), ("12:30", 19), ("13:30", 20.5), ("17:40", 14)),
            "room": {"loss_w_k": 140, "capacity_wh_k": 2600, "heater_w": 6000},
        },
    ],
    "outside": {"coldest_c": -2, "usual_c": 4, "frost_months": [6, 7, 8]},
    "overrides": [{"at": "2026-07-04T09:00", "zone": 1, "set": {"holiday_days": 9, "from": "today"}}],
}
