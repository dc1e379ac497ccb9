"""What is wanted of a channel: windows (docs/plan-file.md, "Windows")."""

from dataclasses import dataclass
from typing import Any

from skavit.core.ground.arrays import DAY_S
from skavit.core.ground.errors import PlanError
from skavit.core.ground.strict_json import Node, read_id
from skavit.core.plan.days import DAILY, Days, read_days_of
from skavit.core.plan.times import ClockTime, Time, optional, read_time

MAX_FOR_MIN = 366 * 1440
MAX_CYCLE_S = 86_400


@dataclass(frozen=True, slots=True, kw_only=True)
class Cycle:
    """On for ``on_s`` at the start of a window and each ``every_s`` after it, in elapsed seconds."""

    on_s: int
    every_s: int

    def to_json(self) -> dict[str, int]:
        """The form of the plan file."""
        return {"on_s": self.on_s, "every_s": self.every_s}


@dataclass(frozen=True, slots=True, kw_only=True)
class Window:
    """A stretch wanted on; it belongs to the day it starts on."""

    start: Time
    to: Time | None = None  # None: `for_min` ends it
    for_min: int | None = None
    days: Days = DAILY
    ends_next_day: bool = False
    repeat: Cycle | None = None
    id: str | None = None

    def to_json(self) -> dict[str, Any]:
        """The form of the plan file, with `ends` always given."""
        ends = None
        if self.to is not None and self.to != ClockTime(DAY_S):
            ends = "next-day" if self.ends_next_day else "same-day"
        return optional(
            {
                "id": self.id,
                "from": self.start.to_json(),
                "to": self.to.to_json() if self.to is not None else None,
                "for_min": self.for_min,
                "days": self.days.to_json(),
                "ends": ends,
                "repeat": self.repeat.to_json() if self.repeat else None,
            }
        )


def read_window(node: Node) -> Window:
    """A window; raises :class:`PlanError`."""
    keys = node.object(["from", "to", "for_min", "days", "ends", "repeat", "id"], required=["from"])
    to, minutes, ends, repeat = (keys.get(key) for key in ("to", "for_min", "ends", "repeat"))
    if to and minutes:
        minutes.refuse("either to or for_min", "for_min beside to")
    if not to and not minutes:
        raise PlanError(f"{node.path}.to", "is missing", "to or for_min")
    start = read_time(keys["from"])
    end = read_time(to, midnight_ends=True) if to else None
    ends_next_day = False
    if end is not None:
        ends_next_day = end.nominal_s <= start.nominal_s
    if ends:
        if end is None:
            ends.refuse("no ends beside for_min", "ends beside for_min")
        ends_next_day = ends.choice(["same-day", "next-day"]) == "next-day"
        if ends_next_day and end == ClockTime(DAY_S):
            ends.refuse('to "00:00" with next-day, or to "24:00" with same-day', '"next-day" with to 24:00')
    return Window(
        start=start,
        to=end,
        for_min=minutes.integer(1, MAX_FOR_MIN) if minutes else None,
        days=read_days_of(keys),
        ends_next_day=ends_next_day and end != ClockTime(DAY_S),
        repeat=_read_cycle(repeat) if repeat else None,
        id=read_id(keys),
    )


def _read_cycle(node: Node) -> Cycle:
    keys = node.object(["on_s", "every_s"], required=["on_s", "every_s"])
    found = Cycle(on_s=keys["on_s"].integer(1, MAX_CYCLE_S), every_s=keys["every_s"].integer(2, MAX_CYCLE_S))
    if found.on_s >= found.every_s:
        keys["on_s"].refuse("fewer seconds than every_s, the whole cycle", "on for the whole cycle")
    return found
