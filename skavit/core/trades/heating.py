"""Heating: zones that are held at set points."""

from collections.abc import Iterable, Mapping
from dataclasses import replace
from typing import TYPE_CHECKING, Any

from skavit.core.findings.case import Case
from skavit.core.findings.finding import Finding
from skavit.core.findings.heating import (
    FrostOff,
    HeatRule,
    HeldLong,
    HolidayEndsWrong,
    PeriodUnreached,
    heated,
    zones_left,
)
from skavit.core.findings.heating_apart import TooCold, TooWarm
from skavit.core.ground.errors import PlanError
from skavit.core.kinds.kind import Kind
from skavit.core.plan.document import Plan
from skavit.core.plan.heat import Heat, Zone
from skavit.core.plan.heat_edits import heat_of
from skavit.core.plan.trade import Trade
from skavit.core.sheet import heating

if TYPE_CHECKING:
    from skavit.core.plan.trade import Builder

RULES: tuple[type[HeatRule], ...] = (TooCold, TooWarm, PeriodUnreached, FrostOff, HolidayEndsWrong, HeldLong)
POINTS_AN_ENTRY = 4  # so many set points take as long as an entry: they are drawn by day groups
_SECTIONS: "dict[str, Builder]" = {
    **dict.fromkeys(("correction", "operating", "place", "suncheck", "holidays"), lambda _: []),
    "channels": heating.zones,
    "slots": heating.set_points,
    "readback": heating.readback,
    "mode": heating.mode,
    "cover": heating.by_set_points(heating.cover),
}


class Heating(Trade):
    """Units that hold temperatures."""

    slug = "heats"
    key = "heat"
    does = "holds temperatures"
    heading = "Units that hold temperatures"
    work = "the heating"
    held = "set point"
    rules = RULES

    def is_in(self, plan: Plan) -> bool:
        return plan.heat is not None

    def makes(self, kind: Kind) -> bool:
        return kind.heating is not None

    def begun(self, plan: Plan) -> Plan:
        return replace(plan, heat=empty_heat())

    def for_kind(self, plan: Plan, kind: Kind) -> Plan:
        has = kind.heating
        assert has is not None
        heat = plan.heat or Heat(frost_c=has.frost_c, zones=(Zone(name="Zone 1"),))
        there = len(heat.zones)
        if there > has.zones:
            raise PlanError("heat.zones", f"{there} zones", f"a kind with so many; this one has {has.zones}")
        return replace(plan, channels=(), heat=replace(heat, limits=has.limits))

    def keyed(self, plan: Plan) -> dict[str, Any]:
        heat = heat_of(plan)
        zones = [[point.to_json() for point in zone.keyed] for zone in heat.zones]
        return {"heat": {"frost_c": heat.frost_c, "keyed": zones}}

    def size(self, plan: Plan) -> int:
        return sum(len(zone.wanted) + len(zone.keyed) for zone in heat_of(plan).zones) // POINTS_AN_ENTRY

    def identities(self, plan: Plan) -> Iterable[tuple[str, str | None]]:
        return [(f"heat.{path}", name) for path, name in heat_of(plan).identities()]

    def findings(self, case: Case) -> list[Finding]:
        found = heated(case)
        if found is None:
            return []
        return [*zones_left(found), *(finding for rule in RULES for finding in rule().find(found))]

    def sections(self, plan: Plan) -> "Mapping[str, Builder]":
        return {} if plan.channels else _SECTIONS


def empty_heat() -> Heat:
    """The heating side of a new unit of no known kind: one zone, and nothing wanted of it."""
    return Heat(zones=(Zone(name="Zone 1"),))


HEATING = Heating()
