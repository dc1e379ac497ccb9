"""The sets of entries that stand in a unit in turn."""

from dataclasses import dataclass

from skavit.core.plan.document import Plan
from skavit.core.plan.entry import Entry
from skavit.core.sheet import changes, entry_text
from skavit.core.text.wording import Words
from skavit.units.models import Unit
from skavit.units.pages.seasonal_tabs import SeasonalTab, seasonal_tabs


@dataclass(frozen=True, slots=True, kw_only=True)
class SeasonalRow:
    """One set of entries, and what it changes of the one before."""

    tab: SeasonalTab
    lines: list[str]
    changes: tuple[str, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class SeasonalPage:
    """The sets of entries that stand in the unit in turn; what was typed of a new one, where it was refused."""

    unit: Unit
    rows: list[SeasonalRow]
    refused: str = ""
    start: str = ""
    name: str = ""


def seasonal_page(unit: Unit, words: Words) -> SeasonalPage:
    """The whole page."""
    plan = unit.plan
    rows = []
    for tab in seasonal_tabs(plan, 0):
        entries = plan.unit.sets[tab.number]
        changed = changes(plan.unit.sets[tab.number - 1], entries, words) if tab.number else ()
        rows.append(SeasonalRow(tab=tab, lines=entry_lines(plan, entries, words), changes=changed))
    return SeasonalPage(unit=unit, rows=rows)


def entry_lines(plan: Plan, entries: tuple[Entry, ...], words: Words) -> list[str]:
    """Entries in words, a line each, with their channels where there are several."""
    several = len(plan.channels) > 1
    return [
        entry_text(e, words) + (f" ({', '.join(plan.channels[n - 1].name for n in e.channels)})" if several else "")
        for e in entries
    ]
