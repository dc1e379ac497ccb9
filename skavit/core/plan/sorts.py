"""The sorts of units: those that switch outputs by entries, that water by programs, that hold temperatures by set points."""

from enum import StrEnum


class Sort(StrEnum):
    """What a unit does."""

    SWITCHES = "switches"
    WATERS = "waters"
    HEATS = "heats"


SORT_TEXT = {
    Sort.SWITCHES: "a unit that switches channels",
    Sort.WATERS: "a unit that waters",
    Sort.HEATS: "a unit that holds temperatures",
}
