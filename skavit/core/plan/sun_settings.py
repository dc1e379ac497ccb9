"""Where a unit takes its sun times from (`unit.sun` of the plan file), and the corrections keyed into it."""

from dataclasses import dataclass
from typing import Any, ClassVar

from skavit.core.ground.records import Record, Schema, meaning, member, number, record, whole, word
from skavit.core.ground.strict_json import ObjectNode
from skavit.core.plan.times import MAX_OFFSET_MIN
from skavit.core.sun import SunEvent

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


MINUTES = whole(-MAX_OFFSET_MIN, MAX_OFFSET_MIN)
DEGREES_NORTH, DEGREES_EAST = number(-90, 90), number(-180, 180)


@dataclass(frozen=True, slots=True, kw_only=True)
class Adjust(Record):
    """A correction in minutes: the one of sunrise also shifts dawn, the one of sunset also dusk."""

    sunrise_min: int = member(MINUTES, default=0, always=True)
    sunset_min: int = member(MINUTES, default=0, always=True)

    def of(self, event: SunEvent) -> int:
        """The minutes by which an event is shifted."""
        return self.sunrise_min if event.morning else self.sunset_min


NO_ADJUST = Adjust()


@dataclass(frozen=True, slots=True, kw_only=True)
class SunSettings(Record):
    """The whole of ``unit.sun``; what its source does not have is None."""

    schema_rules: ClassVar[Schema] = {
        "allOf": [
            {
                "if": {"properties": {"source": {"const": source}}, "required": ["source"]},
                "then": {"required": list(required)},
            }
            for source, required in REQUIRED.items()
        ]
    }

    source: str = member(word(SOURCES), default="site", always=True)
    latitude: float | None = member(DEGREES_NORTH, default=None)
    longitude: float | None = member(DEGREES_EAST, default=None)
    altitude_deg: float | None = member(number(*PHOTOCELL_ALTITUDES_DEG), default=None)
    delay_min: int | None = member(whole(0, MAX_OFFSET_MIN), default=None)
    adjust: Adjust | None = member(record(Adjust), default=None)
    utc_offset_min: int | None = member(whole(-MAX_UTC_OFFSET_MIN, MAX_UTC_OFFSET_MIN), default=None)
    skips_without_sun: bool = member(meaning({"limit": False, "skip": True}), name="when_no_sun", default=False)

    @property
    def is_photocell(self) -> bool:
        """Whether light and not a clock switches its sun entries."""
        return self.source == "photocell"

    @property
    def is_true(self) -> bool:
        """Whether its sun times are the site's own."""
        return self.source in ("site", "none") and self.adjust in (None, NO_ADJUST) and self.utc_offset_min is None

    @classmethod
    def judged(cls, keys: ObjectNode, given: dict[str, Any]) -> dict[str, Any]:
        """Just the keys that the source has."""
        source = given.get("source", "site")
        for name in keys.value:
            if name != "source" and name not in _KEYS[source]:
                keys[name].refuse(
                    f"with source {source}: {', '.join(_KEYS[source]) or 'no further key'}", f"{name} here"
                )
        for name in REQUIRED.get(source, ()):
            if name not in keys:
                keys.must(name)
        return given
