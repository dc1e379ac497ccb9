"""What a year of a watering unit uses beside other ways of watering, over the same weather."""

from dataclasses import dataclass
from datetime import date

from skavit.core.ground.errors import PlanError
from skavit.core.text.error_text import error_text
from skavit.core.text.wording import Words, count
from skavit.core.water.comparison import compare
from skavit.core.water.stand_in import stand_in
from skavit.units.models import Unit

# The same weather for whoever asks.
SEED = 1
WAY_TEXT = {
    "as keyed": "as keyed in",
    "same all year": "the same run times all year",
    "by seasons": "a percentage for each season",
    "by months": "a percentage for each month",
    "by the weather": "by the weather of each day",
}


@dataclass(frozen=True, slots=True, kw_only=True)
class ComparedRow:
    """One way of watering."""

    name: str
    water: str
    money: str
    dry: str
    share: int  # of the thirstiest, per cent


@dataclass(frozen=True, slots=True, kw_only=True)
class SavedPage:
    """Ways of watering side by side."""

    year: int
    rows: list[ComparedRow]
    refused: str  # why nothing can be compared; empty where it can


def saved_page(unit: Unit, year: int, words: Words) -> SavedPage:
    """Five ways over a year of stand-in weather around the average year of the site."""
    water = unit.plan.water
    assert water is not None
    if water.climate is None or not water.programs:
        return SavedPage(
            year=year, rows=[], refused="There is nothing to compare yet: programs and the average year first."
        )
    weather = stand_in(water.climate, date(year, 1, 1), date(year, 12, 31), SEED)
    try:
        ways = compare(unit.plan, weather, per_m3=water.price_m3)
    except PlanError as error:
        return SavedPage(year=year, rows=[], refused=error_text(error))
    most = max(way.total_l for way in ways) or 1.0
    return SavedPage(
        year=year,
        refused="",
        rows=[
            ComparedRow(
                name=WAY_TEXT[way.way],
                water=words.volume(way.total_l),
                money=f"{way.cost:,.2f}" if way.cost is not None else "",
                dry=count(way.dry_days, "dry day"),
                share=round(100 * way.total_l / most),
            )
            for way in ways
        ],
    )
