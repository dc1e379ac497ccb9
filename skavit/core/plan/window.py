"""What is wanted of a channel: windows (docs/plan-file.md, "Windows")."""

from dataclasses import dataclass
from typing import Any, ClassVar

from skavit.core.ground.arrays import DAY_S
from skavit.core.ground.errors import PlanError
from skavit.core.ground.records import Record, Schema, meaning, member, record, whole, written
from skavit.core.ground.strict_json import ObjectNode, join
from skavit.core.plan.days import DAILY, DAYS_REF, Days
from skavit.core.plan.identity import IDENTITY
from skavit.core.plan.times import END, TIME, ClockTime, Time

MAX_FOR_MIN = 366 * 1440
MAX_CYCLE_S = 86_400
MIDNIGHT = ClockTime(DAY_S)


@dataclass(frozen=True, slots=True, kw_only=True)
class Cycle(Record):
    """On for ``on_s`` at the start of a window and each ``every_s`` after it, in elapsed seconds."""

    on_s: int = member(whole(1, MAX_CYCLE_S))
    every_s: int = member(whole(2, MAX_CYCLE_S))

    @classmethod
    def judged(cls, keys: ObjectNode, given: dict[str, Any]) -> dict[str, Any]:
        """Refuse a pulse as long as its cycle."""
        if given["on_s"] >= given["every_s"]:
            keys["on_s"].refuse("fewer seconds than the whole cycle takes", "on for the whole cycle")
        return given


@dataclass(frozen=True, slots=True, kw_only=True)
class Window(Record):
    """A stretch wanted on; it belongs to the day it starts on."""

    schema_rules: ClassVar[Schema] = {"oneOf": [{"required": ["to"]}, {"required": ["for_min"]}]}

    id: str | None = member(IDENTITY, default=None)
    start: Time = member(TIME, name="from")
    to: Time | None = member(END, default=None)  # None: `for_min` ends it
    for_min: int | None = member(whole(1, MAX_FOR_MIN), default=None)
    days: Days = member(DAYS_REF, default=DAILY, always=True)
    ends_next_day: bool = member(
        meaning({"same-day": False, "next-day": True}), name="ends", default=False, always=True
    )
    repeat: Cycle | None = member(record(Cycle), default=None)

    @classmethod
    def judged(cls, keys: ObjectNode, given: dict[str, Any]) -> dict[str, Any]:
        """Just one end; where `ends` is left out, the nominal clock tells on which date it comes."""
        to, ends = given.get("to"), keys.get("ends")
        if to is not None and "for_min" in keys:
            keys["for_min"].refuse("either to or for_min", "for_min beside to")
        if to is None:
            if "for_min" not in keys:
                raise PlanError(join(keys.path, "to"), "is missing", "to or for_min")
            if ends:
                ends.refuse("no ends beside for_min", "ends beside for_min")
            return given
        if to == MIDNIGHT:
            if ends and given["ends_next_day"]:
                ends.refuse('to "00:00" with next-day, or to "24:00" with same-day', '"next-day" with to 24:00')
            if not ends and to.nominal_s <= given["start"].nominal_s:
                keys["to"].refuse(
                    'ends "same-day", or to "00:00" with next-day', "24:00 after a start that may come later"
                )
            return given
        return {"ends_next_day": to.nominal_s <= given["start"].nominal_s} | given

    def to_json(self) -> dict[str, Any]:
        """The form of the plan file, with `ends` given wherever it says something."""
        found = written(self)
        late = self.to is not None and self.to.nominal_s <= self.start.nominal_s
        if self.to is None or (self.to == MIDNIGHT and not late):
            del found["ends"]
        return found


WINDOW_REF = record(Window).named("window")
