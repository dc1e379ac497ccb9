"""The trades, one object each: switching, watering, heating. A new trade adds a line here."""

from skavit.core.plan.trade import Trade
from skavit.core.trades.heating import HEATING
from skavit.core.trades.switching import SWITCHING
from skavit.core.trades.watering import WATERING

# A plan is of the first trade that it has a part of; a unit that does nothing else switches.
TRADES: tuple[Trade, ...] = (WATERING, HEATING, SWITCHING)

__all__ = ["HEATING", "SWITCHING", "TRADES", "WATERING", "Trade"]
