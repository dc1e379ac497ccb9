"""The kinds that ship: general, in the trade's words. A crew copies one and adjusts it to the manual in hand.

All keys, counts and reserves here are common practice with no source: what units of such a kind usually have.
"""

from functools import lru_cache

from skavit.core.kinds.kind import Kind
from skavit.core.kinds.library.garden import garden_units
from skavit.core.kinds.library.heating import heating_units
from skavit.core.kinds.library.panel import panel_switches
from skavit.core.kinds.library.wall import wall_switches


@lru_cache(maxsize=1)
def shipped_kinds() -> tuple[Kind, ...]:
    """All of them, in the order in which a list shows them."""
    return panel_switches() + wall_switches() + garden_units() + heating_units()
