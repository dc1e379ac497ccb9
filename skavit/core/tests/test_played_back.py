"""What a unit holds once the keys of its sheet are pressed: the plan, and after the sheet of changes the plan after it."""

import unittest
from dataclasses import replace
from datetime import date

from hypothesis import given, settings
from hypothesis import strategies as st

from skavit.core.ground.errors import UserError
from skavit.core.ground.strict_json import Node
from skavit.core.kinds import shipped_kinds
from skavit.core.kinds.parts import Region
from skavit.core.kinds.place import place_for, plan_for_kind
from skavit.core.plan.days import Holiday, Once, Yearly
from skavit.core.plan.document import read_plan
from skavit.core.plan.times import day_number
from skavit.core.sheet import steps, steps_of_changes
from skavit.core.sheet.checking import pressed
from skavit.core.sheet.held import held_json
from skavit.core.sheet.keypad import Keypad
from skavit.core.simulation.handover import handover
from skavit.core.simulation.replay import replay
from skavit.core.tests.builders import local_instant, make_plan
from skavit.core.text.wording import PLAIN

NOON = day_number(date(2027, 2, 16)) * 86400 + 43200
YEAR = date(2027, 1, 1), date(2027, 12, 31)
SWITCHING = [kind for kind in shipped_kinds() if not kind.heating and not kind.watering]
WATERING = [kind for kind in shipped_kinds() if kind.watering]
HEATING = [kind for kind in shipped_kinds() if kind.heating]
REGIONS = (Region(name="Here", latitude=-39.0, longitude=177.0), Region(name="There", latitude=-43.0, longitude=172.0))


def _changed(draw, kind):
    """The kind with other outputs, another way to take its place, another memory: as somebody copies and changes it."""
    if draw(st.booleans()):
        kind = replace(kind, channels=draw(st.integers(1, 4)))
    if kind.sun.place != "none" and draw(st.booleans()):
        place = draw(st.sampled_from(["coordinates", "region", "table"]))
        sun = replace(kind.sun, place=place, regions=REGIONS, latitudes=(-45.0, -40.0, -35.0))
        kind = replace(kind, sun=sun)
    if draw(st.booleans()):
        kind = replace(kind, limits=replace(kind.limits, entries=draw(st.integers(3, 20)) * 2))
    return kind


def _at(draw, kind, fields, half):
    """A time that a slot of the kind can say."""
    if kind.sun_events and f"{half}event" in fields and draw(st.booleans()):
        event = draw(st.sampled_from(kind.sun_events)).name.lower()
        most = min(kind.limits.sun_offset_max_min or 90, 90) if f"{half}offset" in fields else 0
        offset = draw(st.integers(-most, most)) if kind.sun.meaning != "light" else 0
        return f"{event}{offset:+d}" if offset else event
    step = max((kind.limits.clock_step_s or 60) // 60, 1)
    minute = draw(st.integers(0, 59 // step)) * step
    return f"{draw(st.integers(0, 23)):02d}:{minute:02d}"


def _entries(draw, kind):
    """Entries for a few slots."""
    fields = {turned.field for turned in kind.slot_dialogue.fields}
    found = []
    for _ in range(draw(st.integers(0, min(kind.slots or 4, 5)))):
        channels = [draw(st.integers(1, kind.channels))]
        days = draw(st.sampled_from(["daily"] + (["weekdays", "weekends"] if fields & {"days", "mon"} else [])))
        shared = {"channels": channels, "days": days}
        on = {"action": "on", "at": _at(draw, kind, fields, "on_" if kind.slot.shape == "pair" else "")} | shared
        if kind.slot.shape == "single":
            found.append(on | {"action": draw(st.sampled_from(["on", "off"]))})
            continue
        off = _at(draw, kind, fields, "off_") if kind.slot.shape == "pair" else _at(draw, kind, set(), "")
        if on["at"] != off:
            found += [on, {"action": "off", "at": off} | shared]
    return found


def _plan(draw, kind):
    """A plan for a unit of the kind, with its place, a correction, holidays."""
    photocell = {"source": "photocell", "altitude_deg": -3, "delay_min": 1}
    light = {"sun": photocell} if kind.sun.meaning == "light" else {}
    plan = make_plan(channels=[[]] * kind.channels, entries=_entries(draw, kind), **light)
    sun = place_for(kind, plan.site, plan.unit.sun)
    unit = replace(plan.unit, limits=kind.plan_limits, sun=sun)
    if kind.limits.holidays and kind.holidays_dialogue:
        starts = st.one_of(
            st.builds(Once, st.integers(20_900, 21_500)), st.builds(Yearly, st.sampled_from([101, 1224]))
        )
        held = st.lists(st.builds(Holiday, start=starts, days=st.integers(1, 20)), max_size=3)
        unit = replace(unit, holidays=tuple(draw(held)))
    return replace(plan, unit=unit)


@st.composite
def kinds_and_plans(draw):
    """A kind that switches, changed or not, and two plans for it."""
    kind = draw(st.sampled_from(SWITCHING))
    kind = _changed(draw, kind)
    return kind, _plan(draw, kind), _plan(draw, kind)


def _water(draw, kind):
    has = kind.watering
    own = has.starts_for == "station"
    programs, most = [], (has.stations if own else min(has.plan_limits.programs or 4, 3))
    for n in range(draw(st.integers(0, most))):
        starts = sorted(draw(st.sets(st.integers(0, 22), max_size=has.limits.starts or 4)))
        stations = [n + 1] if own else sorted(draw(st.sets(st.integers(1, has.stations), max_size=3, min_size=1)))
        days = ["daily", "weekdays", {"every": 3, "from": "2027-01-01"}]
        days += [{"parity": "odd"}] if "parity" in (has.limits.days or ()) else []
        program = {
            "name": "ABCDEFGH"[n],
            "days": draw(st.sampled_from(days)),
            "starts": [f"{hour:02d}:15" for hour in starts] or ["05:00"],
            "runs": [{"station": s, "run_min": draw(st.integers(1, 40))} for s in stations],
        }
        if has.limits.adjust_max_pct:
            program["adjust_pct"] = draw(st.sampled_from([50, 100, 120]))
        if has.limits.monthly:
            program["monthly_pct"] = draw(st.sampled_from([[100] * 12, [50] * 6 + [100] * 6]))
        programs.append(program)
    water = {"stations": [{"name": f"S{n}", "flow_l_min": 10} for n in range(has.stations)], "programs": programs}
    return read_plan(Node(make_plan([]).to_json() | {"channels": [], "water": water}))


def _heat(draw, kind):
    zones = []
    for n in range(kind.heating.zones):
        wanted = []
        for days in draw(st.sampled_from([["weekdays", "weekends"], ["daily"], []])):
            hours = sorted(draw(st.sets(st.integers(5, 23), min_size=1, max_size=4)))
            coldest = draw(st.integers(10, 40)) / 2
            wanted += [{"days": days, "at": f"{hour:02d}:00", "c": coldest + n} for n, hour in enumerate(hours)]
        zones.append({"name": f"Z{n}", "wanted": wanted, "keyed": wanted})
    return read_plan(Node(make_plan([]).to_json() | {"channels": [], "heat": {"zones": zones}}))


class PlayedBackTest(unittest.TestCase):
    """Followed key by key from the normal display, a sheet leaves the plan in the unit, or says what it does not reach."""

    def sheets(self, kind, plan, other):
        """The sheet of one plan and that of what has changed to another."""

        def of(each):
            at = local_instant(each, NOON)
            return each, replay(each, *YEAR), handover(each, at), at, PLAIN, kind

        whole = steps(*of(plan))
        return whole, steps_of_changes(plan, whole, *of(other))

    def played(self, kind, sheet, before=None):
        keypad = before.copy() if before else Keypad(kind)
        for step in sheet:
            for press in pressed(keypad, step):
                keypad.press(press)
        self.assertTrue(keypad.is_normal)
        return keypad

    def known(self, sheet, *words):
        """Whether the keys of all steps of some kinds are known."""
        return not any(step.unknown or step.refused for step in sheet if step.kind in words)

    @settings(max_examples=30)
    @given(kinds_and_plans())
    def test_any_kind_holds_the_plan_and_then_the_next(self, drawn):
        kind, plan, other = drawn
        whole, changes = self.sheets(kind, plan, other)
        keypad = self.played(kind, whole)
        self.check(kind, plan, whole, held_json(keypad))
        later = self.played(kind, changes, keypad)
        if self.known(whole, "slot", "empty", "unheld", "place", "correction"):
            self.check(kind, other, changes, held_json(later))

    def check(self, kind, plan, sheet, held):
        if self.known(sheet, "slot", "empty"):
            wanted = [entry.to_json() for entry in plan.unit.entries]
            self.assertCountEqual(held["entries"], wanted)
        if self.known(sheet, "holidays", "unheld") and "holidays" in held:
            self.assertCountEqual(held["holidays"], [each.to_json() for each in plan.unit.holidays])
        uses_sun = any(str(entry.at)[0] in "sd" for entry in plan.unit.entries)
        if uses_sun and kind.sun.place != "none" and self.known(sheet, "place") and "place" in held:
            told = place_for(kind, plan.site, plan.unit.sun)
            self.assertAlmostEqual(held["place"]["latitude"], told.latitude)
            if told.longitude is not None:
                self.assertAlmostEqual(held["place"]["longitude"], told.longitude)
        self.assertEqual(held["modes"]["mode"], "auto")

    @settings(max_examples=30)
    @given(st.data())
    def test_programs_that_water(self, data):
        kind = data.draw(st.sampled_from(WATERING))
        plan, other = (plan_for_kind(_water(data.draw, kind), kind) for _ in range(2))
        whole, changes = self.sheets(kind, plan, other)
        keypad = self.played(kind, whole)
        self.assertEqual([s.title for s in (*whole, *changes) if s.unknown or s.refused], [])
        for each, holds in ((plan, keypad), (other, self.played(kind, changes, keypad))):
            self.assertEqual([self.bare(p) for p in held_json(holds)["programs"]],
                             [self.bare(p.to_json()) for p in each.water.programs])  # fmt: skip

    def bare(self, program):
        """A program without its name, and without the date from which an interval counts."""
        days = program["days"]
        runs = [(run["station"], run["run_min"]) for run in program["runs"]]
        return (
            {"every": days["every"]} if isinstance(days, dict) and "every" in days else days,
            [str(at) for at in program["starts"]],
            sorted(runs),
            program.get("adjust_pct", 100),
            program.get("monthly_pct", [100] * 12),
        )

    @settings(max_examples=30)
    @given(st.data())
    def test_set_points(self, data):
        kind = data.draw(st.sampled_from(HEATING))
        try:
            plan, other = (plan_for_kind(_heat(data.draw, kind), kind) for _ in range(2))
        except UserError:
            return
        whole, changes = self.sheets(kind, plan, other)
        keypad = self.played(kind, whole)
        for each, sheet, holds in ((plan, whole, keypad), (other, changes, self.played(kind, changes, keypad))):
            for zone, points in zip(each.heat.zones, held_json(holds)["set_points"], strict=True):
                if zone.keyed and self.known(sheet, "slot"):
                    self.assertEqual(self.by_day(points), self.by_day([p.to_json() for p in zone.keyed]))

    def by_day(self, points):
        """Set points by the days on which they act."""
        days = {"daily": "daily", "weekdays": "weekdays", "weekends": "weekends"}
        found = {}
        for point in points:
            for day in {"weekdays": range(5), "weekends": (5, 6), "daily": range(7)}[days[point["days"]]]:
                found.setdefault(day, set()).add((str(point["at"]), point["c"]))
        return found


if __name__ == "__main__":
    unittest.main()
