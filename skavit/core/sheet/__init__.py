"""The entry sheet: the steps that key a plan into a unit, and what the display must read after each.

From the plan, the kind of unit and the moment, in the kind's own order. Without a kind the steps say what to do and
no keys. What does not apply is left out. Where a replay of what lies ahead is given, steps that depend on the moment carry
what they say until tomorrow's end.
"""

from skavit.core.sheet.assembly import steps, steps_of_changes, told_anew
from skavit.core.sheet.differences import Difference, keyed_differences, wanted_differences
from skavit.core.sheet.handing_over import MODE_TEXT, mode_words
from skavit.core.sheet.loads import ESCAPE
from skavit.core.sheet.occasion import Occasion, clock_runs, digits_to_set
from skavit.core.sheet.play import Frame, Played, played
from skavit.core.sheet.rekeying import changes, entry_text, held_set, next_set
from skavit.core.sheet.setting_up import date_words
from skavit.core.sheet.step import Display, DisplayRow, Spell, Step, keyed, press_rows
from skavit.core.sheet.water_seasons import program_text
from skavit.core.sheet.watering import SPRAY

__all__ = [
    "ESCAPE",
    "MODE_TEXT",
    "SPRAY",
    "Difference",
    "Display",
    "DisplayRow",
    "Frame",
    "Occasion",
    "Played",
    "Spell",
    "Step",
    "changes",
    "clock_runs",
    "date_words",
    "digits_to_set",
    "entry_text",
    "held_set",
    "keyed",
    "keyed_differences",
    "mode_words",
    "next_set",
    "played",
    "press_rows",
    "program_text",
    "steps",
    "steps_of_changes",
    "told_anew",
    "wanted_differences",
]
