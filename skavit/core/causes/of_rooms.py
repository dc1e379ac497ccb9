"""Faults of a unit that holds temperatures: set points that are lost, or keyed in the other half of the day."""

from collections.abc import Iterator
from dataclasses import replace

from skavit.core.causes.fault import Cause, Fault
from skavit.core.causes.shown import Shown, Simulator
from skavit.core.causes.things import first_of
from skavit.core.ground.arrays import HALF_DAY_S
from skavit.core.plan.document import Plan
from skavit.core.plan.heat import SetPoint, Zone
from skavit.core.plan.heat_edits import heat_of, with_heat


def heat_faults(unit: Simulator) -> Iterator[Fault]:
    """Each single fault of the set points of the rooms that were looked at."""
    heat = unit.plan.heat
    if heat is None:
        return
    first = first_of(unit.plan, "room")
    looked_at = {place - first for row in unit.looked.seen for place, seen in enumerate(row) if seen is not None}
    for number, zone in enumerate(heat.zones):
        if number not in looked_at:
            continue
        for place, point in enumerate(zone.keyed):
            rest = (*zone.keyed[:place], *zone.keyed[place + 1 :])
            moved = replace(point, at=point.at.later(HALF_DAY_S))
            for cause, keyed in ((Cause.POINT_LOST, rest), (Cause.POINT_HALF_DAY, (*rest, moved))):
                shown = Shown(unit.run(_with(unit, number, zone, keyed)))
                yield Fault(
                    cause=cause, shown=shown, station=number, at=point.at, place=(number, place),
                    days=point.days, as_keyed=moved.at if cause is Cause.POINT_HALF_DAY else None,
                )  # fmt: skip


def _with(unit: Simulator, number: int, zone: Zone, keyed: tuple[SetPoint, ...]) -> Plan:
    zones = heat_of(unit.plan).with_zone(number, replace(zone, keyed=keyed)).zones
    return with_heat(unit.plan, zones=zones)
