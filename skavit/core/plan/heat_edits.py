"""Edits of the heating side of a plan as pure functions: each takes a plan and gives the plan after it.

The set points of one day rule stand together as a group: a zone's side is edited group by group.
"""

from dataclasses import replace
from typing import Any, Literal

from skavit.core.plan.days import Days
from skavit.core.plan.document import Plan
from skavit.core.plan.edits import GONE, EditError
from skavit.core.plan.heat import Heat, HeatOverride, Room, SetPoint, Zone

Side = Literal["wanted", "keyed"]
Group = tuple[Days, tuple[SetPoint, ...]]


def heat_of(plan: Plan) -> Heat:
    """The heating side; raises :class:`EditError` where the plan has none."""
    if plan.heat is None:
        raise EditError("this unit holds no temperatures; accepted: a unit of a kind that does")
    return plan.heat


def with_heat(plan: Plan, **changes: Any) -> Plan:
    """The plan with some of its heating side changed."""
    return replace(plan, heat=replace(heat_of(plan), **changes))


def zone_of(plan: Plan, index: int) -> Zone:
    """A zone (from 0); raises :class:`EditError` where there is none."""
    zones = heat_of(plan).zones
    if not 0 <= index < len(zones):
        raise EditError(GONE)
    return zones[index]


def groups(points: tuple[SetPoint, ...]) -> tuple[Group, ...]:
    """Set points by their day rule, in the order in which each comes first; by their time within it."""
    found: dict[Days, list[SetPoint]] = {}
    for point in points:
        found.setdefault(point.days, []).append(point)
    return tuple((days, tuple(sorted(own, key=lambda p: p.at.seconds))) for days, own in found.items())


def _of(zone: Zone, side: Side) -> tuple[SetPoint, ...]:
    return zone.wanted if side == "wanted" else zone.keyed


def put_group(plan: Plan, zone: int, side: Side, index: int | None, points: tuple[SetPoint, ...]) -> Plan:
    """The set points of a group of a zone (both from 0) in place of those that it has, or of a new one.

    Raises :class:`EditError` where another group has the same days.
    """
    held = zone_of(plan, zone)
    rows = [own for _, own in groups(_of(held, side))]
    if index is not None and not 0 <= index < len(rows):
        raise EditError(GONE)
    days = {point.days for point in points}
    if any(own[0].days in days for place, own in enumerate(rows) if place != index):
        raise EditError("these days have set points already; accepted: other days, or a change of those")
    rows = [*rows, points] if index is None else [*rows[:index], points, *rows[index + 1 :]]
    return _with_points(plan, zone, side, tuple(point for own in rows for point in own))


def remove_group(plan: Plan, zone: int, side: Side, index: int) -> Plan:
    """The zone without a group."""
    rows = groups(_of(zone_of(plan, zone), side))
    if not 0 <= index < len(rows):
        raise EditError(GONE)
    return _with_points(
        plan, zone, side, tuple(p for place, (_, own) in enumerate(rows) if place != index for p in own)
    )


def _with_points(plan: Plan, zone: int, side: Side, points: tuple[SetPoint, ...]) -> Plan:
    held = zone_of(plan, zone)
    changed = replace(held, wanted=points) if side == "wanted" else replace(held, keyed=points)
    return with_heat(plan, zones=heat_of(plan).with_zone(zone, changed).zones)


def put_zone(plan: Plan, index: int | None, name: str, room: Room | None) -> Plan:
    """Name and room of a zone (from 0), or one more."""
    zones = heat_of(plan).zones
    if index is None:
        return with_heat(plan, zones=(*zones, Zone(name=name, room=room)))
    changed = replace(zone_of(plan, index), name=name, room=room)
    return with_heat(plan, zones=heat_of(plan).with_zone(index, changed).zones)


def remove_zone(plan: Plan, index: int) -> Plan:
    """The plan without a zone (from 0) and what was done to it; the last one stays. Raises :class:`EditError`."""
    heat = heat_of(plan)
    zone_of(plan, index)
    if len(heat.zones) == 1:
        raise EditError("this is its only zone; accepted: a unit with one zone at least")
    overrides = tuple(
        replace(done, zone=done.zone - (done.zone > index + 1)) for done in heat.overrides if done.zone != index + 1
    )
    zones = (*heat.zones[:index], *heat.zones[index + 1 :])
    return with_heat(plan, zones=zones, overrides=overrides)


def copy_wanted(plan: Plan, index: int, to: int) -> Plan:
    """What is wanted of a zone (both from 0) for another one too."""
    points = tuple(replace(point, id=None) for point in zone_of(plan, index).wanted)
    return _with_points(plan, to, "wanted", points)


def add_done(plan: Plan, done: HeatOverride) -> Plan:
    """The plan with one more thing done by hand."""
    return with_heat(plan, overrides=(*heat_of(plan).overrides, done))


def remove_done(plan: Plan, index: int) -> Plan:
    """The plan without one thing done by hand (from 0)."""
    done = heat_of(plan).overrides
    if not 0 <= index < len(done):
        raise EditError(GONE)
    return with_heat(plan, overrides=(*done[:index], *done[index + 1 :]))
