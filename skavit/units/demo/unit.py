"""A unit of the demo."""

from dataclasses import dataclass, field
from typing import Any

BAY = "Pacific/Auckland"


Row = dict[str, Any]


@dataclass(frozen=True, kw_only=True)
class DemoUnit:
    """One site with one unit."""

    site: str
    latitude: float
    longitude: float
    timezone: str = BAY
    unit: str
    whereabouts: str
    channels: dict[str, list[Row]] = field(default_factory=dict)
    entries: list[Row] = field(default_factory=list)
    water: Row = field(default_factory=dict)
    heat: Row = field(default_factory=dict)
    clock: Row = field(default_factory=dict)
    limits: Row = field(default_factory=dict)
    on_return: str = "computes"
    kind: str = ""  # the slug of a kind that ships
    holidays: list[Row] = field(default_factory=list)
    loads: dict[str, Row] = field(default_factory=dict)  # by the channel's name
    pin: str = ""
    keyings: list[Row] = field(default_factory=list)
