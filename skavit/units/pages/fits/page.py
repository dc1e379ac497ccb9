"""The entries that fit makes and the ways beside them."""

from dataclasses import dataclass

from skavit.core.ground.strict_json import Node
from skavit.core.plan.document import Plan, read_plan
from skavit.core.text.wording import Words
from skavit.units.models import Unit
from skavit.units.pages.keyings.page import entry_lines
from skavit.units.services.fitting import ways_of


@dataclass(frozen=True, slots=True, kw_only=True)
class WayRow:
    """One of the ways to fit: what it loses, and its entries."""

    number: int
    name: str
    hours: str
    lost: str
    lines: list[str]


@dataclass(frozen=True, slots=True, kw_only=True)
class FitsPage:
    """The entries that fit makes and the ways beside them; None until they are worked out."""

    unit: Unit
    ways: list[WayRow] | None


def fits_page(unit: Unit, words: Words) -> FitsPage:
    """The whole page."""
    found = ways_of(unit)
    if found is None:
        return FitsPage(unit=unit, ways=None)
    names = ["Just what is wanted" if found[0]["hours"] is None else "Nearest to what is wanted"]
    names += [f"Another way, {number}" for number in range(1, len(found))]
    ways = [
        WayRow(
            number=number,
            name=name,
            hours="nothing" if way["hours"] is None else f"{way['hours']:,.1f} h a year",
            lost=way["lost"],
            lines=entry_lines(unit.plan, read_plan(Node(way["plan"])).unit.entries, words),
        )
        for number, (name, way) in enumerate(zip(names, found, strict=True))
    ]
    return FitsPage(unit=unit, ways=ways)


def way_of(unit: Unit, number: int) -> Plan | None:
    """The plan with one of the ways to fit keyed in; None where there is no such way, or none was worked out."""
    ways = ways_of(unit) or []
    return read_plan(Node(ways[number]["plan"])) if 0 <= number < len(ways) else None
