"""Repair: the fewest changes of entries after which a unit does what is wanted."""

from skavit.core.repair.edits import Edit, changed_fields, edit_text, edited, listing, slip_text
from skavit.core.repair.found import Search
from skavit.core.repair.search import REPAIR_STEPS, changes
from skavit.core.repair.steps import Repair, repair
from skavit.core.repair.worlds import clock_is_right, with_right_clock

__all__ = [
    "REPAIR_STEPS",
    "Edit",
    "Repair",
    "Search",
    "changed_fields",
    "changes",
    "clock_is_right",
    "edit_text",
    "edited",
    "listing",
    "repair",
    "slip_text",
    "with_right_clock",
]
