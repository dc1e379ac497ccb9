"""Solar position, and sunrise, sunset and twilight at a place."""

from skavit.core.sun.days import FIRST_YEAR, LAST_YEAR, USUAL_ALTITUDES_DEG, SunDays, SunEvent, sun_days

__all__ = [
    "FIRST_YEAR",
    "LAST_YEAR",
    "USUAL_ALTITUDES_DEG",
    "SunDays",
    "SunEvent",
    "sun_days",
]
