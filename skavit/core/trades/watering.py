"""Watering: stations that run one after another by programs, for what grows there."""

from collections.abc import Iterable, Mapping
from dataclasses import replace
from typing import TYPE_CHECKING, Any

from skavit.core.findings.case import Case
from skavit.core.findings.finding import Finding
from skavit.core.findings.watering import WaterRule, watered
from skavit.core.findings.watering_hours import IntervalDrifts, OddTwice, OutsideAllowed, OverFlow, TwoDaysRunning
from skavit.core.findings.watering_limits import LeftHigh, RoundedAway, RunTooLong
from skavit.core.findings.watering_need import RunsOff, TooDry
from skavit.core.findings.watering_starts import LeftOff, StartLost, StartsStack
from skavit.core.findings.watering_surplus import TooWet
from skavit.core.ground.errors import PlanError
from skavit.core.kinds.kind import Kind
from skavit.core.plan.document import Plan, Site
from skavit.core.plan.entry import judge_time
from skavit.core.plan.trade import Trade
from skavit.core.plan.water import Water
from skavit.core.plan.water_edits import water_of
from skavit.core.sheet import water_seasons, watering, watering_checks
from skavit.core.sheet.carried import by_date
from skavit.core.water.usual_climate import usual_climate

if TYPE_CHECKING:
    from skavit.core.plan.trade import Builder

RULES: tuple[type[WaterRule], ...] = (
    StartsStack,
    StartLost,
    OutsideAllowed,
    IntervalDrifts,
    OverFlow,
    RunsOff,
    TooDry,
    TooWet,
    RunTooLong,
    RoundedAway,
    OddTwice,
    TwoDaysRunning,
    LeftHigh,
    LeftOff,
)
_KEYED = ("programs", "off_dates", "master_valve", "station_delay_s")
_SECTIONS: "dict[str, Builder]" = {
    "channels": watering.stations,
    "correction": lambda _: [],
    "operating": lambda _: [],
    "place": lambda _: [],
    "slots": by_date(watering.programs),
    "suncheck": lambda _: [],
    "holidays": watering.off_dates,
    "readback": lambda occasion: [*watering_checks.readback(occasion), *watering_checks.walk(occasion)],
    "mode": watering_checks.mode,
    "cover": lambda occasion: [
        *watering_checks.by_turns(watering_checks.cover)(occasion),
        *water_seasons.seasons(occasion),
    ],
}


class Watering(Trade):
    """Units that water."""

    slug = "waters"
    key = "water"
    does = "waters"
    heading = "Units that water"
    work = "the water"
    held = "program"
    rules = RULES

    def is_in(self, plan: Plan) -> bool:
        return plan.water is not None

    def makes(self, kind: Kind) -> bool:
        return kind.watering is not None

    def begun(self, plan: Plan) -> Plan:
        return replace(plan, water=empty_water(plan.site))

    def for_kind(self, plan: Plan, kind: Kind) -> Plan:
        has = kind.watering
        assert has is not None
        water = plan.water or empty_water(plan.site)
        there = len(water.stations)
        if there > has.stations:
            accepted = f"a kind with so many; this one has {has.stations}"
            raise PlanError("water.stations", f"{there} stations", accepted)
        water = replace(
            water,
            limits=has.plan_limits,
            when_busy=has.when_busy,
            run_step_s=has.run_step_s,
            manual_while_off=has.manual_while_off,
        )
        return replace(plan, channels=(), water=water)

    def keyed(self, plan: Plan) -> dict[str, Any]:
        water = water_of(plan).to_json()
        return {"water": {key: water[key] for key in _KEYED if key in water}}

    def size(self, plan: Plan) -> int:
        return water_of(plan).turns_a_day

    def identities(self, plan: Plan) -> Iterable[tuple[str, str | None]]:
        return [(f"water.{path}", name) for path, name in water_of(plan).identities()]

    def judge(self, plan: Plan) -> None:
        for path, start in water_of(plan).placed_starts():
            judge_time(f"water.{path}", start, plan.unit.sun)

    def findings(self, case: Case) -> list[Finding]:
        found = watered(case)
        return [] if found is None else [finding for rule in RULES for finding in rule().find(found)]

    def sections(self, plan: Plan) -> "Mapping[str, Builder]":
        return _SECTIONS


def empty_water(site: Site) -> Water:
    """The watering side of a new unit: nothing yet, and the usual year of its latitude."""
    return Water(stations=(), programs=(), climate=usual_climate(site.latitude))


WATERING = Watering()
