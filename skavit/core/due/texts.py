"""Things to do in words."""

from skavit.core.due.due import Sort
from skavit.core.text.wording import Words, count

_TEXT = {
    Sort.BY_HAND: "left by hand: put it back into automatic",
    Sort.SUSPENDED: "suspended: let it go on",
    Sort.NOT_KEYED: "plan changed since the last visit: key it",
    Sort.RESERVE: "its reserve is too short for the power cuts",
    Sort.CLOCK_CHANGE: "move its clock by hand",
    Sort.SEASON: "key the program of the season",
    Sort.SUN: "its sun times are out: correct them",
    Sort.SEASON_LEFT: "its percentage stands away from 100",
    Sort.HOLIDAYS: "its holidays run out: key those of the next year",
    Sort.LINK: "the customer's link ends: make another",
    Sort.BATTERY: "change its battery",
    Sort.LAY_UP: "lay it up for the winter",
    Sort.START_UP: "start it up after the winter",
    Sort.PLANNED: "visit planned",
}


def due_text(sort: Sort, number: int, words: Words) -> str:
    """What there is to do."""
    if sort is Sort.FINDINGS:
        return f"{count(number, 'finding')}: look at its year"
    if sort is Sort.BATTERY and number:
        return f"{_TEXT[sort]}, by the {count(number, 'battery', 'batteries')} before it"
    if sort is Sort.CLOCK_CHANGE:
        return f"{_TEXT[sort]}, for {words.summer}"
    return _TEXT[sort]
