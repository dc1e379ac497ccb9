"""Windows into the fewest entries that a unit's memory can hold, proven by replay; and where it is too small, the least wrong."""

from skavit.core.fitting.groups import cover
from skavit.core.fitting.proof import Loss, Other
from skavit.core.fitting.search import Fit, fit

__all__ = ["Fit", "Loss", "Other", "cover", "fit"]
