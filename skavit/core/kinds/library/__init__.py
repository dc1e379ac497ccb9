"""The kinds that ship: general, in the trade's words. A crew copies one and adjusts it to the manual in hand.

All keys, counts and reserves here are common practice with no source: what units of such a kind usually have.
"""

from skavit.core.kinds.kind import Kind
from skavit.core.kinds.library.garden import GARDEN_UNITS
from skavit.core.kinds.library.heating import HEATING_UNITS
from skavit.core.kinds.library.panel import PANEL_SWITCHES
from skavit.core.kinds.library.wall import WALL_SWITCHES
from skavit.core.kinds.library.watering import WATERING_UNITS

_ALL = (*PANEL_SWITCHES, *WALL_SWITCHES, *GARDEN_UNITS, *HEATING_UNITS, *WATERING_UNITS)


def shipped_kinds() -> tuple[Kind, ...]:
    """All of them, in the order in which a list shows them."""
    return _ALL
