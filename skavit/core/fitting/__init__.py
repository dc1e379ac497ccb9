"""Fit: windows into the fewest entries that a unit can hold, proven by replay, or the nearest that it can hold."""

from skavit.core.fitting.covering import Covering, Keyed
from skavit.core.fitting.covers import Option, solve
from skavit.core.fitting.groups import cover
from skavit.core.fitting.proof import Loss, Other
from skavit.core.fitting.search import Fit, fit
from skavit.core.fitting.seasons import season_programs
from skavit.core.fitting.trial import Draft, Trial

__all__ = [
    "Covering",
    "Draft",
    "Fit",
    "Keyed",
    "Loss",
    "Option",
    "Other",
    "Trial",
    "cover",
    "fit",
    "season_programs",
    "solve",
]
