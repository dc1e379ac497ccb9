"""Whether the periods of a water heater suffice for what is drawn: the heat in a store, through the hours of a replay.

The store is told by the heat in it (a fully mixed balance of energy, with the draw taken at the hot temperature as long as there is
heat for it): ``litres`` at ``hot_c`` when full, nothing at ``cold_c``.
"""

from dataclasses import dataclass

import numpy as np

from skavit.core.ground.arrays import DAY_S, Ints
from skavit.core.ground.spans import Spans
from skavit.core.heat.store import J_KWH, J_L_K
from skavit.core.plan.load import Store
from skavit.core.site.clock import WallClock

OFF, ON, DRAWN, ENDS = range(4)


@dataclass(frozen=True, slots=True, kw_only=True)
class HotWater:
    """What a store gave in a range."""

    short: Ints  # the dates on which a draw was not covered, each once
    worst_litres: float  # that lacked at worst
    worst_at_s: int  # seconds after midnight of that draw
    heated: Ints  # the dates on which it was hot all through at some time
    kwh: float  # that the heater took: for what is drawn and lost, no more once the store is full


def hot_water(store: Store, heating: Spans, clock: WallClock, first: int, last: int) -> HotWater:
    """A store from the date ``first`` to ``last``, full at its beginning, heated in some spans of instants."""
    days = np.arange(first, last + 1)
    litre_j = J_L_K * (store.hot_c - store.cold_c)
    full = store.litres * litre_j
    start, end = (int(i) for i in clock.first(np.array([first, last + 1]) * DAY_S))
    # Off before on before a draw at one instant, and the end of all.
    turns = [(int(at), DRAWN, d.litres) for d in store.draws for at in clock.first(days * DAY_S + d.at.seconds)]
    turns += [(int(at), ON, 0.0) for at in heating.on] + [(int(at), OFF, 0.0) for at in heating.off]
    held, now, on = full, start, False
    short: dict[int, float] = {}
    heated: list[int] = []
    worst, joules = (0.0, 0), 0.0
    for at, what, litres in sorted([*turns, (end, ENDS, 0.0)]):
        lasts, power = max(at - now, 0), (store.heater_w if on else 0.0) - store.loss_w
        if on:
            heats = min((full - held) / power, lasts) if power > 0 else lasts
            joules += store.heater_w * heats + min(store.loss_w, store.heater_w) * (lasts - heats)
        held = min(max(held + power * lasts, 0.0), full)
        now += lasts
        if on and held >= full:
            heated.append(at)
        if what in (ON, OFF):
            on = what == ON
        elif what == DRAWN:
            asked = litres * litre_j
            if asked > held + 1:
                lacking = (asked - held) / litre_j
                digits = int(clock.digits(np.array([at]))[0])
                short[digits // DAY_S] = max(short.get(digits // DAY_S, 0.0), lacking)
                worst = max(worst, (lacking, digits % DAY_S))
            held = max(held - asked, 0.0)
    dates = clock.digits(np.array(heated, dtype=np.int64)) // DAY_S if heated else np.zeros(0, dtype=np.int64)
    return HotWater(
        short=np.array(sorted(short), dtype=np.int64),
        worst_litres=worst[0],
        worst_at_s=worst[1],
        heated=np.unique(dates),
        kwh=joules / J_KWH,
    )
