"""Fit: windows into the fewest entries that a unit can hold, proven by replay, or the nearest that it can hold."""

from skavit.core.fitting.groups import cover
from skavit.core.fitting.proof import Loss, Other
from skavit.core.fitting.search import Fit, fit

__all__ = ["Fit", "Loss", "Other", "cover", "fit"]
