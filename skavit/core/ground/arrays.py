"""The arrays of the core: whole seconds and day numbers, truths, and quantities."""

import numpy as np
from numpy.typing import NDArray

Ints = NDArray[np.int64]
Bools = NDArray[np.bool_]
Floats = NDArray[np.float64]

DAY_S = 86400
HALF_DAY_S = 43200
HOUR_S = 3600
MINUTE_S = 60
YEAR_DAYS = 366  # the longest: a year looked ahead never ends a day short
