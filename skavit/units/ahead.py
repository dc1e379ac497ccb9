"""What lies ahead of units in lists: no year is worked out for them."""

from datetime import timedelta
from threading import Lock

from cachetools import LRUCache

from skavit.core.ground.arrays import DAY_S
from skavit.core.heat.state import ZoneNow, zones_now
from skavit.core.heat.targets import targets
from skavit.core.plan.times import day_of
from skavit.core.simulation.handover import SOON_DAYS, ChannelHandover, handover, look_ahead
from skavit.core.simulation.replay import Replay, replay
from skavit.core.water.state import WaterState, state_at
from skavit.core.water.year import water_year
from skavit.server.now import site_digits, year_at
from skavit.units.computing import KEPT, KEPT_BYTES
from skavit.units.models import Unit
from skavit.units.results import is_fresh
from skavit.units.years import array_bytes

# What lies ahead of units in lists, by content and date: a fortnight, or a year where little switches.
_LOOKING = Lock()
_AHEAD: LRUCache[tuple[str, int], Replay] = LRUCache(
    KEPT_BYTES // 4, getsizeof=lambda run: 2 * array_bytes(run) + 20_000
)


def _looked_ahead(unit: Unit, now: int) -> Replay:
    """A replay of what lies ahead of a unit, for a list, kept for the day: of what is at hand not even the plan is read."""
    today, kept = site_digits(unit.site.place, now) // DAY_S, unit.result
    if kept is not None and is_fresh(unit, year_at(unit.site.place, now)):
        if (year := KEPT.get((kept.content_hash, kept.year))) is not None:
            return year.ahead(now)
        with _LOOKING:
            ahead = _AHEAD.get((kept.content_hash, today))
        if ahead is not None:
            return ahead
    plan, first = unit.plan, day_of(today)
    found = look_ahead(plan, now) if plan.channels else replay(plan, first, first + timedelta(days=SOON_DAYS))
    with _LOOKING:
        if _AHEAD.getsizeof(found) <= _AHEAD.maxsize:
            _AHEAD[plan.content_hash(), today] = found
    return found


def leaving_now(unit: Unit, now: int) -> tuple[ChannelHandover, ...]:
    """Each channel of a unit at this moment, for a list; no year is worked out."""
    ahead = _looked_ahead(unit, now)
    return handover(ahead.plan, now, ahead)


def moment_now(unit: Unit, now: int) -> WaterState | None:
    """What a watering unit does at this moment and within a fortnight, for a list; None where it does not water."""
    water = water_year(_looked_ahead(unit, now))
    return None if water is None else state_at(water.stack, now)


def zones_at(unit: Unit, now: int) -> tuple[ZoneNow, ...]:
    """What a unit's zones are held at at this moment and within a fortnight, for a list; none where it holds none."""
    found = targets(_looked_ahead(unit, now))
    return () if found is None else zones_now(found, now)
