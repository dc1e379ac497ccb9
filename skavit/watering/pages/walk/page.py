"""The sheet for walking the stations: each run by hand, looked at, and what it should do."""

from dataclasses import dataclass

from skavit.core.sheet import SPRAY
from skavit.core.text.wording import Words, minutes_text
from skavit.core.water.need import longest_run_min
from skavit.core.water.tables import told_by
from skavit.units.models import Unit

LOOK_MIN = 2


@dataclass(frozen=True, slots=True, kw_only=True)
class WalkRow:
    """One station to look at."""

    number: int
    name: str
    waters: str
    should: str


@dataclass(frozen=True, slots=True, kw_only=True)
class WalkPage:
    """All stations in order."""

    rows: list[WalkRow]
    total: str
    caution: str
    suspended: str  # what the unit does by hand while watering is suspended; empty where that is as usual


def walk_page(unit: Unit, words: Words) -> WalkPage:
    """The whole sheet."""
    water = unit.plan.water
    assert water is not None
    rows = []
    for number, station in enumerate(water.stations, start=1):
        told = told_by(station)
        longest = longest_run_min(station)
        should = words.rate(station.rate) if station.rate else words.flow(station.flow_l_min)
        if longest < float("inf"):
            should += f", runs off after {minutes_text(int(longest))}"
        waters = ", ".join(part for part in (told.head, told.plant, told.ground) if part)
        rows.append(WalkRow(number=number, name=station.name, waters=waters, should=should))
    kept = (
        ""
        if water.manual_while_off
        else "This unit runs nothing by hand while watering is suspended: let it go on first."
    )
    return WalkPage(rows=rows, total=minutes_text(LOOK_MIN * len(rows)), caution=SPRAY, suspended=kept)
