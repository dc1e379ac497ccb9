"""What the words of a kind's file are called on pages."""

PLACE_TEXT = {
    "coordinates": "coordinates",
    "region": "a region from a list",
    "table": "a table of latitudes",
    "none": "none",
}
OFFSET_TEXT = {
    "none": "none",
    "entry": "with each entry",
    "minutes": "a correction in minutes",
    "clock-time": "today's corrected clock time",
}
SECTION_TEXT = {
    "before": "before mounting",
    "found": "as found",
    "power": "battery and reserve",
    "reset": "reset",
    "channels": "channels at first power",
    "clock": "clock",
    "date": "date",
    "rule": "daylight saving",
    "summer": "daylight saving by hand",
    "place": "place",
    "suncheck": "sun check",
    "correction": "correction",
    "operating": "operating mode",
    "slots": "entries",
    "holidays": "holidays",
    "readback": "all read back",
    "mode": "mode",
    "lock": "keypad and screen",
    "pin": "PIN",
    "cover": "cover and output",
}
HAND_TEXT = {
    "boost": "boost", "advance": "advance", "hold": "hold", "warmer": "another temperature", "holiday": "holiday",
    "frost": "frost protection", "off": "off", "auto": "automatic", "exit": "exit button", "summer": "summer",
    "party": "party",
}  # fmt: skip
ANCHOR_TEXT = {
    "asked": "asks how many days are left",
    "keyed": "from the day it is keyed",
    "reset": "from the last reset",
    "watered": "from the last watering",
}
BUSY_TEXT = {
    "queue": "waits until the one before ends",
    "ignore": "is lost",
    "parallel": "runs beside it",
}
DAY_RULE_TEXT = {"any": "weekdays", "parity": "odd or even dates", "interval": "every few days"}
UNUSED_TEXT = {"dashes": "by dashes", "equal-times": "by the time of the one before", "skipped": "left out"}
HOLIDAY_TEXT = {
    "until": "until a date and time",
    "today": "by days, today counted",
    "tomorrow": "by days, today not counted",
}
