"""What somebody saw of a unit, or was told: a file of looks (docs/plan-file.md, "Looks at a unit")."""

from dataclasses import dataclass
from enum import Enum
from typing import Any, Final

from skavit.core.ground.arrays import DAY_S
from skavit.core.ground.records import Form, Record, listed, member, record
from skavit.core.ground.strict_json import Node
from skavit.core.plan.clock_settings import WEEKDAY
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


@dataclass(frozen=True, slots=True, kw_only=True)
class Look(Record):
    """One look: None for what nobody looked at, BLANK for a blank display."""

    at: int = member(LOCAL_DATETIME)  # true local digits, in seconds since 1970-01-01
    shows: ClockTime | Blank | None = member(_or_blank(CLOCK), default=None)
    date: int | Blank | None = member(_or_blank(DAY), default=None)  # a day number
    weekday: int | Blank | None = member(_or_blank(WEEKDAY), default=None)  # 0 for Monday
    outputs: tuple[bool | None, ...] = member(listed(_SEEN, "outputs"), default=())  # a channel each

    @property
    def display(self) -> tuple[Any, ...]:
        """What was read off the display."""
        return self.shows, self.date, self.weekday


LOOKS = listed(record(Look), "looks", least=1)


def read_looks(node: Node, channels: int) -> tuple[Look, ...]:
    """The looks of a file at a unit of so many channels, in order of time.

    Raises :class:`PlanError` for what is no look, for outputs that are not one a channel, for looks that are too many
    or too far apart.
    """
    looks = node.object(["looks"], required=["looks"])["looks"]
    found: tuple[Look, ...] = LOOKS.read(looks)
    if len(found) > MAX_LOOKS:
        looks.refuse(f"at most {MAX_LOOKS} looks", f"a list of {len(found)} looks")
    for place, look in enumerate(found):
        if len(look.outputs) not in (0, channels):
            outputs = looks.items("looks")[place].object(Look.schema()["properties"])["outputs"]
            outputs.refuse(f"one for each of {channels} channels", f"a list of {len(look.outputs)}")
    ordered = tuple(sorted(found, key=lambda look: look.at))
    days = (ordered[-1].at - ordered[0].at) // DAY_S
    if days > MAX_SPREAD_DAYS:
        looks.refuse(f"looks within {MAX_SPREAD_DAYS} days", f"looks over {days} days")
    return ordered
