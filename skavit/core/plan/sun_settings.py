"""Where a unit takes its sun times from (`unit.sun` of the plan file), and the corrections keyed into it."""

from dataclasses import dataclass
from typing import Any

from skavit.core.ground.strict_json import Node
from skavit.core.plan.times import MAX_OFFSET_MIN, optional
from skavit.core.sun.days import SunEvent

SOURCES = ("site", "coordinates", "table", "photocell", "none")
# The keys that each source has beside its own name.
_KEYS = {
    "site": ("adjust", "utc_offset_min", "when_no_sun"),
    "coordinates": ("latitude", "longitude", "adjust", "utc_offset_min", "when_no_sun"),
    "table": ("latitude", "adjust", "when_no_sun"),
    "photocell": ("altitude_deg", "delay_min", "when_no_sun"),
    "none": (),
}
REQUIRED = {
    "coordinates": ("latitude", "longitude"),
    "table": ("latitude",),
    "photocell": ("altitude_deg", "delay_min"),
}
MAX_UTC_OFFSET_MIN = 16 * 60
PHOTOCELL_ALTITUDES_DEG = (-18, 30)


@dataclass(frozen=True, slots=True, kw_only=True)
class Adjust:
    """A correction in minutes: the one of sunrise also shifts dawn, the one of sunset also dusk."""

    sunrise_min: int = 0
    sunset_min: int = 0

    def of(self, event: SunEvent) -> int:
        """The minutes by which an event is shifted."""
        return self.sunrise_min if event.morning else self.sunset_min

    def to_json(self) -> dict[str, int]:
        """The form of the plan file."""
        return {"sunrise_min": self.sunrise_min, "sunset_min": self.sunset_min}


NO_ADJUST = Adjust()


@dataclass(frozen=True, slots=True, kw_only=True)
class SunSettings:
    """The whole of ``unit.sun``; what its source does not have is None."""

    source: str = "site"
    latitude: float | None = None
    longitude: float | None = None
    altitude_deg: float | None = None
    delay_min: int | None = None
    adjust: Adjust | None = None
    utc_offset_min: int | None = None
    skips_without_sun: bool = False

    @property
    def is_photocell(self) -> bool:
        """Whether light and not a clock switches its sun entries."""
        return self.source == "photocell"

    @property
    def is_true(self) -> bool:
        """Whether its sun times are the site's own."""
        return self.source in ("site", "none") and self.adjust in (None, NO_ADJUST) and self.utc_offset_min is None

    def to_json(self) -> dict[str, Any]:
        """The form of the plan file."""
        return optional(
            {
                "source": self.source,
                "latitude": self.latitude,
                "longitude": self.longitude,
                "altitude_deg": self.altitude_deg,
                "delay_min": self.delay_min,
                "adjust": self.adjust.to_json() if self.adjust else None,
                "utc_offset_min": self.utc_offset_min,
                "when_no_sun": "skip" if self.skips_without_sun else None,
            }
        )


def read_adjust(node: Node) -> Adjust:
    """A correction; a missing half is 0."""
    keys = node.object(["sunrise_min", "sunset_min"])
    rise, fall = keys.get("sunrise_min"), keys.get("sunset_min")
    return Adjust(
        sunrise_min=rise.integer(-MAX_OFFSET_MIN, MAX_OFFSET_MIN) if rise else 0,
        sunset_min=fall.integer(-MAX_OFFSET_MIN, MAX_OFFSET_MIN) if fall else 0,
    )


def read_sun(node: Node) -> SunSettings:
    """``unit.sun``; raises :class:`PlanError`."""
    named = sorted({key for keys in _KEYS.values() for key in keys})
    keys = node.object(["source", *named])
    given = keys.get("source")
    source = given.choice(SOURCES) if given else "site"
    for key in named:
        if key in keys and key not in _KEYS[source]:
            keys[key].refuse(f"with source {source}: {', '.join(_KEYS[source]) or 'no further key'}", f"{key} here")
    keys = node.object(["source", *_KEYS[source]], required=REQUIRED.get(source, ()))
    latitude, longitude, adjust = keys.get("latitude"), keys.get("longitude"), keys.get("adjust")
    altitude, delay = keys.get("altitude_deg"), keys.get("delay_min")
    offset, no_sun = keys.get("utc_offset_min"), keys.get("when_no_sun")
    return SunSettings(
        source=source,
        latitude=latitude.number(-90, 90) if latitude else None,
        longitude=longitude.number(-180, 180) if longitude else None,
        altitude_deg=altitude.number(*PHOTOCELL_ALTITUDES_DEG) if altitude else None,
        delay_min=delay.integer(0, MAX_OFFSET_MIN) if delay else None,
        adjust=read_adjust(adjust) if adjust else None,
        utc_offset_min=offset.integer(-MAX_UTC_OFFSET_MIN, MAX_UTC_OFFSET_MIN) if offset else None,
        skips_without_sun=no_sun.choice(["limit", "skip"]) == "skip" if no_sun else False,
    )
