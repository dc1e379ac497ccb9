"""Findings with the numbers that the year sheet and the lists share."""

from dataclasses import dataclass

from skavit.charts.year_sheet import Mark
from skavit.core.findings import Finding
from skavit.core.memory import slot_names
from skavit.core.plan.document import Plan
from skavit.core.text.wording import Words, dates_text, duration_text
from skavit.units.pages.seasonal_tabs import seasonal_label
from skavit.units.years import UnitYear


@dataclass(frozen=True, slots=True, kw_only=True)
class NumberedFinding:
    """A finding in the list."""

    number: int
    finding: Finding
    headline: str
    why: str
    remedy: str  # what it does; empty where there is none
    dates: str
    hours: str
    column: int
    keying: str  # of which set of entries it is, where there are several


def slot_words(plan: Plan, words: Words, keying: int = 0) -> Words:
    """The words in which the slots of a unit are named as its memory has them."""
    return words.of_slots(slot_names(plan.unit.sets[keying], plan.unit.limits))


# Nobody reads on: what is worst is mended first, and the others are told then.
MOST_TOLD = 60


def numbered_findings(found: UnitYear, words: Words) -> list[NumberedFinding]:
    """The worst findings with the numbers that the sheet and the list share; of very many the rest is not told."""
    plan = found.replay.plan
    of_set = [words if words.slots else slot_words(plan, words, keying) for keying in range(len(plan.unit.sets))]
    return [
        NumberedFinding(
            number=number,
            finding=finding,
            headline=finding.facts.headline(of_set[finding.keying]),
            why=finding.facts.why(of_set[finding.keying]),
            remedy=finding.remedy.text(of_set[finding.keying]) if finding.remedy else "",
            dates=dates_text(finding.dates),
            hours=_hours(finding),
            column=max(int(finding.dates[0]) - found.replay.first, 0) if finding.days else 0,
            keying=_keying_name(found, finding),
        )
        for number, finding in enumerate(found.findings[:MOST_TOLD], start=1)
    ]


def _hours(finding: Finding) -> str:
    """What it explains; in minutes below an hour, nothing below a minute."""
    if finding.hours >= 1:
        return f"{finding.hours:.0f} h"
    return duration_text(finding.hours * 3600 // 60 * 60) if finding.hours * 60 >= 1 else ""


def marks_of(listed: list[NumberedFinding], channel: int) -> list[Mark]:
    """The marks of a channel (from 1) on its year sheet, with those of the unit."""
    return [
        Mark(number=n.number, severity=n.finding.severity.value, dates=n.finding.dates)
        for n in listed
        if n.finding.channel in (None, channel)
    ]


def _keying_name(found: UnitYear, finding: Finding) -> str:
    keyings = found.replay.plan.unit.keyings
    if not keyings or not finding.slots:
        return ""
    return seasonal_label(keyings[finding.keying - 1]) if finding.keying else "Before any date"
