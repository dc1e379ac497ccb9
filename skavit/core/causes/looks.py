"""What somebody saw of a unit, or was told: a file of looks (docs/plan-file.md, "Looks at a unit")."""

from dataclasses import dataclass
from enum import Enum
from typing import Any, Final, Literal

from skavit.core.ground.arrays import DAY_S
from skavit.core.ground.records import Form, Record, listed, member, record, whole, word
from skavit.core.ground.strict_json import MAX_ITEMS, Node, ObjectNode
from skavit.core.plan.clock_settings import WEEKDAY
from skavit.core.plan.document import Plan
from skavit.core.plan.times import CLOCK, DAY, LOCAL_DATETIME, ClockTime

MAX_LOOKS = 60
# All looks at one fault lie within so many days of each other.
MAX_SPREAD_DAYS = 400


class Blank(Enum):
    """A display that shows nothing, or flashes unset."""

    BLANK = "blank"


BLANK: Final = Blank.BLANK


def _or_blank(form: Form) -> Form:
    """A form that may also be null: the display was blank."""
    return Form(
        read=lambda node: BLANK if node.value is None else form.read(node),
        write=lambda value: None if value is BLANK else form.write(value),
        schema=lambda: {"anyOf": [form.schema(), {"type": "null"}]},
    )


_SEEN = Form(
    read=lambda node: None if node.value is None else node.flag(),
    write=lambda value: value,
    schema=lambda: {"type": ["boolean", "null"]},
)


BED_STATES, BED_PARTS = ("dry", "wet"), ("all", "near", "far")


@dataclass(frozen=True, slots=True, kw_only=True)
class Bed(Record):
    """The ground that a station waters, dry or wet in all of it or in a part: near its valve, or at the far end."""

    station: int = member(whole(1, MAX_ITEMS))  # from 1
    state: str = member(word(BED_STATES), name="is")
    part: str = member(word(BED_PARTS), default="all")


@dataclass(frozen=True, slots=True)
class Happened:
    """Something that the record of a unit tells: somebody was there, or the power failed."""

    at: int  # true local digits
    what: Literal["visit", "power-cut"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Look(Record):
    """One look: None for what nobody looked at, BLANK for a blank display."""

    at: int = member(LOCAL_DATETIME)  # true local digits, in seconds since 1970-01-01
    since: int | None = member(LOCAL_DATETIME, default=None)  # it was so at some time from then on
    shows: ClockTime | Blank | None = member(_or_blank(CLOCK), default=None)
    date: int | Blank | None = member(_or_blank(DAY), default=None)  # a day number
    weekday: int | Blank | None = member(_or_blank(WEEKDAY), default=None)  # 0 for Monday
    outputs: tuple[bool | None, ...] = member(listed(_SEEN, "outputs"), default=())  # a channel each
    watering: bool | None = member(_SEEN, default=None)  # whether any station ran
    stations: tuple[bool | None, ...] = member(listed(_SEEN, "stations"), default=())
    warm: tuple[bool | None, ...] = member(listed(_SEEN, "zones"), default=())  # a zone each; false: cold
    beds: tuple[Bed, ...] = member(listed(record(Bed), "beds"), default=())

    @property
    def display(self) -> tuple[Any, ...]:
        """What was read off the display."""
        return self.shows, self.date, self.weekday


LOOKS = listed(record(Look), "looks", least=1)


def read_looks(node: Node, plan: Plan) -> tuple[Look, ...]:
    """The looks of a file at a plan's unit, in order of time.

    Raises :class:`PlanError` for what is no look, for outputs that are not one a channel (stations, zones likewise), for
    looks that are too many or too far apart.
    """
    looks = node.object(["looks"], required=["looks"])["looks"]
    found: tuple[Look, ...] = LOOKS.read(looks)
    if len(found) > MAX_LOOKS:
        looks.refuse(f"at most {MAX_LOOKS} looks", f"a list of {len(found)} looks")
    for place, look in enumerate(found):
        _judge(looks.items("looks")[place].object(Look.schema()["properties"]), look, plan)
    ordered = tuple(sorted(found, key=lambda look: look.at))
    days = (ordered[-1].at - min(look.since or look.at for look in ordered)) // DAY_S
    if days > MAX_SPREAD_DAYS:
        looks.refuse(f"looks within {MAX_SPREAD_DAYS} days", f"looks over {days} days")
    return ordered


def _judge(keys: ObjectNode, look: Look, plan: Plan) -> None:
    stations = len(plan.water.stations) if plan.water is not None else 0
    zones = len(plan.heat.zones) if plan.heat is not None else 0
    for name, there, what in (
        ("outputs", len(plan.channels), "channels"),
        ("stations", stations, "stations"),
        ("warm", zones, "zones"),
    ):
        given = len(getattr(look, name))
        if given not in (0, there):
            keys[name].refuse(f"one for each of {there} {what}", f"a list of {given}")
    if look.watering is not None and plan.water is None:
        keys["watering"].refuse("outputs: this unit does not water")
    if any(bed.station > stations for bed in look.beds):
        keys["beds"].refuse(
            f"beds of stations from 1 to {stations}" if stations else "no beds: this unit does not water"
        )
    if look.since is not None and look.since > look.at:
        keys["since"].refuse('a time before "at"')
