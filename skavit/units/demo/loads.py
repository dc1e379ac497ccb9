"""What hangs on the channels of the demo: rooms, cables and figures are invented."""

from typing import Any

Row = dict[str, Any]


def _chain(vas: list[float], metres: list[float], **more: Any) -> Row:
    cables = [{"a": n, "b": n + 1, "m": m} for n, m in enumerate(metres)]
    return {"supply_v": 12, "cable": {"mm2": 2.5}, "lamps": [{"va": va} for va in vas], "cables": cables, **more}


HALL_HEATING: Row = {"sort": "heater", "character": "inductive", "watts": 180, "price_kwh": 0.32}
# By the boiler, not by an element on the contact.
HALL_WATER: Row = {
    "sort": "heater",
    "store": {
        "litres": 180, "heater_w": 3000, "loss_w": 70,
        "draws": [{"at": "09:30", "litres": 60}, {"at": "19:00", "litres": 70}],
    },
}  # fmt: skip
# Near its limit, and too far for thin cable.
PATH_LAMPS: Row = {
    "sort": "transformer", "character": "led", "rating_va": 100, "taps_v": [12, 13, 14], "low_v": 10.8, "high_v": 12.6,
    "price_kwh": 0.32, "wired": "open", "run": _chain([12, 12, 12, 12, 12, 12, 12], [18, 6, 6, 6, 7, 7, 9]),
}  # fmt: skip
GATE: Row = {"sort": "gate", "wired": "open"}
ESCAPE_DOOR: Row = {
    "sort": "lock-holds",
    "wired": "closed",
    "escape": True,
    "volts": 24,
    "watts": 12,
    "character": "inductive",
}
DEPOT_HOLIDAYS: list[Row] = [
    {"from": "2027-01-01", "days": 2}, {"from": "2027-01-04", "days": 1}, {"from": "02-06", "days": 1},
    {"from": "2027-03-26", "days": 1}, {"from": "2027-03-29", "days": 1}, {"from": "2027-04-26", "days": 1},
    {"from": "2027-06-07", "days": 1}, {"from": "2027-06-25", "days": 1}, {"from": "2027-10-25", "days": 1},
    {"from": "12-25", "days": 2}, {"from": "2027-12-27", "days": 2},
]  # fmt: skip
