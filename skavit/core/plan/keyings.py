"""Keyings: a unit holds one set of entries at a time, and people key another with the seasons (`unit.keyings`).

A keying holds from the local midnight that begins its date until another begins. Given with its year it is keyed
once; given as a month and day, each year. Before the first one `unit.entries` stands in the unit.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from skavit.core.ground.strict_json import Node
from skavit.core.plan.days import dated_form, read_dated
from skavit.core.plan.entry import Entry, read_entry
from skavit.core.plan.holidays import dated_in
from skavit.core.plan.sun_settings import SunSettings
from skavit.core.plan.times import day_of, optional


@dataclass(frozen=True, slots=True, kw_only=True)
class Keying:
    """The entries that stand in the unit from a date on."""

    once: int | None = None  # days since 1970-01-01
    yearly: int | None = None  # month times 100 plus day
    name: str = ""
    entries: tuple[Entry, ...] = ()

    @property
    def start_text(self) -> str:
        """Its date in the form of the plan file."""
        return dated_form(self.once, self.yearly)

    def to_json(self) -> dict[str, Any]:
        """The form of the plan file."""
        return optional(
            {
                "from": self.start_text,
                "name": self.name or None,
                "entries": [entry.to_json() for entry in self.entries],
            }
        )


@dataclass(frozen=True, slots=True, kw_only=True)
class Stretch:
    """Dates on which one set of entries stands in the unit: ``first`` to ``last``, both included."""

    keying: int  # 0: unit.entries; n: the n-th of unit.keyings
    first: int
    last: int


def read_keyings(node: Node, channel_count: int, sun: SunSettings) -> tuple[Keying, ...]:
    """``unit.keyings``; raises :class:`PlanError`."""
    found: list[Keying] = []
    for item in node.items("keyings"):
        keys = item.object(["from", "name", "entries"], required=["from", "entries"])
        once, yearly = read_dated(keys["from"])
        if any((old.once, old.yearly) == (once, yearly) for old in found):
            keys["from"].refuse("each date once", "two keyings of one date")
        name = keys.get("name")
        entries = tuple(read_entry(entry, channel_count, sun) for entry in keys["entries"].items("entries"))
        found.append(Keying(once=once, yearly=yearly, name=name.text("a name") if name else "", entries=entries))
    return tuple(found)


def stretches(keyings: Iterable[Keying], first: int, last: int) -> tuple[Stretch, ...]:
    """Which set stands in the unit on the dates ``first`` to ``last`` (days since 1970), in order of time.

    Of two that begin on one date the one given with its year holds.
    """
    years = range(day_of(first).year - 1, day_of(last).year + 1)
    starts: dict[int, int] = {}
    for number, keying in sorted(enumerate(keyings, start=1), key=lambda found: found[1].once is not None):
        starts |= dict.fromkeys(dated_in(keying.once, keying.yearly, years), number)
    begun = max((day for day in starts if day <= first), default=None)
    found = [(first, starts[begun] if begun is not None else 0)]
    found += [(day, starts[day]) for day in sorted(starts) if first < day <= last]
    ends = [day - 1 for day, _ in found[1:]] + [last]
    return tuple(Stretch(keying=n, first=day, last=end) for (day, n), end in zip(found, ends, strict=True))
