"""Loads on the contacts: lamps on their cable and transformer, contact ratings, contact logic."""

from skavit.core.load.cable import volts
from skavit.core.load.demands import USUAL_SHARE, demand, power
from skavit.core.load.doubts import unusual
from skavit.core.load.heaters import hot_water
from skavit.core.load.logic import LOCKS, LOGIC, Logic, dead_of, state_of, tests_of
from skavit.core.load.remedies import load_remedies

__all__ = [
    "LOCKS",
    "LOGIC",
    "USUAL_SHARE",
    "Logic",
    "dead_of",
    "demand",
    "hot_water",
    "load_remedies",
    "power",
    "state_of",
    "tests_of",
    "unusual",
    "volts",
]
