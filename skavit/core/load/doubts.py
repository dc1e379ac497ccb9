"""Figures of a load that may be right, and are far from what is usual: what to ask about before they are kept.

The bounds are common practice, no source.
"""

from skavit.core.heat.store import reheat
from skavit.core.plan.load import Load
from skavit.core.text.wording import Words, duration_text

LONGEST_MIN = 24 * 60  # a store is hot within a day
MOST_A_DAY = 10  # times its litres


def unusual(load: Load, words: Words) -> list[tuple[str, str]]:
    """Return what to ask: the path within the load that it is about, and a sentence."""
    store, found = load.store, []
    if store is None:
        return []
    takes = reheat(store.litres, store.cold_c, store.hot_c, store.heater_w, store.loss_w)
    if takes.minutes is None:
        found.append(("store.heater_w", "The store loses as much as the heater gives: it never gets hot."))
    elif takes.minutes > LONGEST_MIN:
        found.append(("store.heater_w", f"From cold it would take {duration_text(round(takes.minutes) * 60)}."))
    drawn = sum(draw.litres for draw in store.draws)
    if drawn > MOST_A_DAY * store.litres:
        found.append(("store.draws", f"{words.volume(drawn)} a day from a store of {words.volume(store.litres)}."))
    return found
