"""What zones are held at, at a moment and next."""

from dataclasses import dataclass

import numpy as np

from skavit.core.heat.targets import Warmed


@dataclass(frozen=True, slots=True, kw_only=True)
class ZoneNow:
    """A zone at a moment; None of degrees is no target at all."""

    name: str
    c: float | None
    wanted_c: float
    by_hand: bool  # something done by hand applies
    until: int | None  # the instant of the next change, where one comes in the range
    then_c: float | None


def zones_now(warmed: Warmed, instant: int) -> tuple[ZoneNow, ...]:
    """Each zone at an instant of the range."""
    at = np.array([instant])
    found = []
    for number, zone in enumerate(warmed.zones, start=1):
        following = int(np.searchsorted(zone.actual.at, instant, "right"))
        comes = following < zone.actual.at.size
        found.append(
            ZoneNow(
                name=zone.zone.name,
                c=_degrees(zone.actual.value_at(at)[0]),
                wanted_c=float(zone.wanted.value_at(at)[0]),
                by_hand=any(d.override.zone == number and d.begin <= instant < d.end for d in warmed.done),
                until=int(zone.actual.at[following]) if comes else None,
                then_c=_degrees(zone.actual.c[following]) if comes else None,
            )
        )
    return tuple(found)


def _degrees(c: float) -> float | None:
    return None if np.isnan(c) else float(c)
